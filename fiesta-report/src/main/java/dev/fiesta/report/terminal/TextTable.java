package dev.fiesta.report.terminal;

import dev.fiesta.Result;
import dev.fiesta.ViewColumn;
import dev.fiesta.report.content.Courses;
import dev.fiesta.report.text.CellFormat;
import dev.fiesta.report.text.Lines;
import dev.fiesta.report.text.NoteSigns;
import dev.fiesta.value.LocaleStyle;
import dev.fiesta.value.Texts;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.function.Function;
import java.util.regex.Pattern;

/** A table in plain characters: columns aligned, a thin rule under the headings, cut to fit a window. */
public final class TextTable {
    /** The width of lines that are not cut. */
    public static final int UNCUT = 1_000_000;

    private static final Pattern BREAKS = Pattern.compile("[\\r\\n\\t]+");
    private static final String GAP = "  ";
    private static final int NARROWEST = 6;
    /** Where nothing is cut, each line stands for itself: whoever looks for some of them finds their keys. */
    private static final int MARGIN = 100;

    private final LocaleStyle locale;
    private final int width;
    private final int height;
    private final boolean colour;

    /**
     * @param width characters of a line
     * @param height most rows, 0 for all
     * @param colour whether headings are set off by terminal codes
     */
    public TextTable(LocaleStyle locale, int width, int height, boolean colour) {
        this.locale = locale;
        this.width = width;
        this.height = height;
        this.colour = colour;
    }

    public String render(Result result, int most, List<ViewColumn> view) {
        StringBuilder out = new StringBuilder();
        try {
            print(result, most, view, List.of(), out);
        } catch (IOException e) {
            throw new UncheckedIOException(e); // a builder takes everything
        }
        return out.toString();
    }

    /** @param courses between the columns; nothing is drawn here: their ends are told */
    public void print(Result result, int most, List<Courses.Column> courses, Appendable out) throws IOException {
        print(result, most, result.view(), courses, out);
    }

    private void print(Result result, int most, List<ViewColumn> view, List<Courses.Column> courses, Appendable out)
            throws IOException {
        int limit = most > 0 ? most : height > 0 ? height : result.rows();
        int shown = Math.min(result.rows(), limit);
        Printed table = new Printed(result, view, courses, Lines.each(result, shown, view));
        int[] widths = fit(table.widths());
        out.append(bold(line(table.head(), widths, table), colour)).append('\n');
        out.append(rule(widths)).append('\n');
        Lines.Kind above = Lines.Kind.ROW;
        for (Lines.Line line : table.lines) {
            if (line.kind() == Lines.Kind.ROW && above == Lines.Kind.SUBTOTAL) {
                out.append('\n');
            }
            if (line.kind() == Lines.Kind.TOTAL) {
                out.append(rule(widths)).append('\n');
            }
            String text = line(table.cells(line), widths, table);
            out.append(bold(text, colour && line.kind() != Lines.Kind.ROW)).append('\n');
            above = line.kind();
        }
        for (String note : table.signs.told()) {
            out.append(oneLine(note)).append('\n');
        }
        int fitting = (int) Arrays.stream(widths).filter(w -> w > 0).count();
        for (String note : Lines.notes(result, shown, fitting, widths.length, locale)) {
            out.append(note).append('\n');
        }
    }

    private static String line(List<String> cells, int[] widths, Printed table) {
        StringBuilder line = new StringBuilder();
        for (int c = 0; c < widths.length && widths[c] > 0; c++) {
            line.append(c == 0 ? "" : GAP).append(cell(cells.get(c), widths[c], table.isRight(c)));
        }
        return line.toString().stripTrailing();
    }

    /** The cells of a table as texts, made line by line as often as they are wanted: long tables are not held. */
    private final class Printed {
        private final Iterable<Lines.Line> lines;
        private final List<Courses.Column> courses;
        private final NoteSigns signs = new NoteSigns();
        private final List<CellFormat> formats = new ArrayList<>();
        private final List<Boolean> right = new ArrayList<>();
        private final BitSet few = new BitSet();
        private final int[] signed;
        private int row;

        Printed(Result result, List<ViewColumn> view, List<Courses.Column> courses, Iterable<Lines.Line> lines) {
            this.lines = lines;
            this.courses = courses;
            this.signed = new int[view.size()];
            for (ViewColumn shown : view) {
                CellFormat format = new CellFormat(locale, shown, result.column(shown.field()));
                formats.add(format);
                right.add(format.right());
            }
            for (Lines.Line line : lines) {
                signs.add(line);
                few.or(line.few());
                for (int c = 0; c < signed.length; c++) {
                    signed[c] = Math.max(signed[c], signs.at(line, c).length());
                }
            }
            for (int i = courses.size() - 1; i >= 0; i--) {
                right.add(courses.get(i).place(), false);
            }
        }

        boolean isRight(int column) {
            return right.get(column);
        }

        List<String> head() {
            row = 0;
            List<String> cells = new ArrayList<>();
            for (CellFormat format : formats) {
                cells.add(format.title() + (format.unit().isEmpty() ? "" : " " + format.unit()));
            }
            return withCourses(cells, Courses.Column::title);
        }

        /** The cells of the next line. */
        List<String> cells(Lines.Line line) {
            List<String> cells = new ArrayList<>();
            for (int c = 0; c < formats.size(); c++) {
                CellFormat format = formats.get(c);
                String sign = signs.at(line, c);
                String noted = format.right() ? sign + " ".repeat(signed[c] - sign.length()) : sign;
                String mark = !few.get(c) ? "" : line.few().get(c) ? "*" : format.right() ? " " : "";
                boolean again = c < line.again() && width < UNCUT - MARGIN;
                cells.add(again ? "" : oneLine(line.print(c, format)) + mark + noted);
            }
            int number = line.kind() == Lines.Kind.ROW ? row++ : -1;
            return withCourses(cells, column -> {
                Courses.Course course = number < 0 ? null : column.rows().get(number);
                return course == null ? "" : course.text();
            });
        }

        private List<String> withCourses(List<String> cells, Function<Courses.Column, String> cell) {
            for (int i = courses.size() - 1; i >= 0; i--) {
                cells.add(courses.get(i).place(), cell.apply(courses.get(i)));
            }
            return cells;
        }

        /** The letters that the longest cell of each column has. */
        int[] widths() {
            int[] widths = letters(head());
            for (Lines.Line line : lines) {
                int[] own = letters(cells(line));
                Arrays.setAll(widths, c -> Math.max(widths[c], own[c]));
            }
            return widths;
        }

        private static int[] letters(List<String> cells) {
            return cells.stream().mapToInt(t -> t.codePointCount(0, t.length())).toArray();
        }
    }

    /** A text as a terminal shows it in one line. */
    static String oneLine(String text) {
        return BREAKS.matcher(Texts.printable(text)).replaceAll(" ");
    }

    private String rule(int[] widths) {
        List<String> parts = new ArrayList<>();
        for (int w : widths) {
            if (w > 0) {
                parts.add("─".repeat(w));
            }
        }
        return String.join(GAP, parts);
    }

    /** A text in so many characters, cut where it is longer. */
    static String cell(String text, int width, boolean right) {
        int length = text.codePointCount(0, text.length());
        if (length > width) {
            return text.substring(0, text.offsetByCodePoints(0, width - 1)) + "…";
        }
        String blanks = " ".repeat(width - length);
        return right ? blanks + text : text + blanks;
    }

    /** The widths of columns; texts give way first, then the last columns are left out (width 0). */
    private int[] fit(int[] widths) {
        int over = total(widths) - width;
        while (over > 0) {
            int widest = -1;
            for (int c = 0; c < widths.length; c++) {
                widest = widths[c] > 24 && (widest < 0 || widths[c] > widths[widest]) ? c : widest;
            }
            if (widest < 0) {
                break;
            }
            int cut = Math.min(over, Math.max(1, widths[widest] - 24));
            widths[widest] -= cut;
            over -= cut;
        }
        for (int c = widths.length - 1; c > 0 && total(widths) > width; c--) {
            widths[c] = 0;
        }
        if (widths.length > 0 && widths[0] > width) {
            widths[0] = Math.max(NARROWEST, width);
        }
        return widths;
    }

    private static int total(int[] widths) {
        int total = -GAP.length();
        for (int w : widths) {
            total += w > 0 ? w + GAP.length() : 0;
        }
        return total;
    }

    public static String bold(String text, boolean colour) {
        return colour ? "\033[1m" + text + "\033[0m" : text;
    }
}
