package dev.fiesta.report.terminal;

import dev.fiesta.Result;
import dev.fiesta.ViewColumn;
import dev.fiesta.report.content.Courses;
import dev.fiesta.report.text.CellFormat;
import dev.fiesta.report.text.Lines;
import dev.fiesta.report.text.NoteSigns;
import dev.fiesta.value.Cells;
import dev.fiesta.value.LocaleStyle;
import dev.fiesta.value.Texts;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/** A table in plain characters: columns aligned, a thin rule under the headings, cut to fit a window. */
public final class TextTable {
    /** The width of lines that are not cut. */
    public static final int UNCUT = 1_000_000;

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

    public String render(Result result, int most) {
        return render(result, most, result.view());
    }

    public String render(Result result, int most, List<ViewColumn> view) {
        return render(result, most, view, List.of());
    }

    /** @param courses between the columns; nothing is drawn here: their ends are told */
    public String render(Result result, int most, List<ViewColumn> view, List<Courses.Column> courses) {
        int limit = most > 0 ? most : height > 0 ? height : result.rows();
        int shown = Math.min(result.rows(), limit);
        List<Boolean> right = new ArrayList<>();
        List<List<String>> columns = new ArrayList<>();
        List<Lines.Line> lines = Lines.of(result, shown, view);
        NoteSigns signs = NoteSigns.of(lines);
        for (ViewColumn shownColumn : view) {
            Cells column = result.column(shownColumn.field());
            CellFormat format = new CellFormat(locale, shownColumn, column);
            List<String> cells = new ArrayList<>();
            cells.add(format.title() + (format.unit().isEmpty() ? "" : " " + format.unit()));
            int place = right.size();
            boolean marks = lines.stream().anyMatch(l -> l.few().get(place));
            int widest = lines.stream()
                    .mapToInt(l -> signs.at(l, place).length())
                    .max()
                    .orElse(0);
            for (Lines.Line line : lines) {
                String sign = signs.at(line, place);
                String noted = format.right() ? sign + " ".repeat(widest - sign.length()) : sign;
                String mark = !marks ? "" : line.few().get(place) ? "*" : format.right() ? " " : "";
                boolean again = place < line.again() && width < UNCUT - MARGIN;
                cells.add(again ? "" : oneLine(line.print(place, format)) + mark + noted);
            }
            right.add(format.right());
            columns.add(cells);
        }
        for (int i = courses.size() - 1; i >= 0; i--) {
            right.add(courses.get(i).place(), false);
            columns.add(courses.get(i).place(), cells(courses.get(i), lines));
        }
        int[] widths = fit(columns);
        StringBuilder out = new StringBuilder();
        for (int row = 0; row <= lines.size(); row++) {
            StringBuilder line = new StringBuilder();
            for (int c = 0; c < columns.size() && widths[c] > 0; c++) {
                line.append(c == 0 ? "" : GAP).append(cell(columns.get(c).get(row), widths[c], right.get(c)));
            }
            boolean total = row > 0 && lines.get(row - 1).kind() != Lines.Kind.ROW;
            if (total && lines.get(row - 1).kind() == Lines.Kind.TOTAL) {
                out.append(rule(widths)).append('\n');
            }
            String text = line.toString().stripTrailing();
            out.append(bold(text, colour && (row == 0 || total))).append('\n');
            boolean group = total
                    && lines.get(row - 1).kind() == Lines.Kind.SUBTOTAL
                    && row < lines.size()
                    && lines.get(row).kind() == Lines.Kind.ROW;
            out.append(group ? "\n" : "");
            if (row == 0) {
                out.append(rule(widths)).append('\n');
            }
        }
        signs.told().forEach(n -> out.append(oneLine(n)).append('\n'));
        int fitting = (int) Arrays.stream(widths).filter(w -> w > 0).count();
        Lines.notes(result, shown, fitting, widths.length, locale)
                .forEach(n -> out.append(n).append('\n'));
        return out.toString();
    }

    private static List<String> cells(Courses.Column courses, List<Lines.Line> lines) {
        List<String> cells = new ArrayList<>(List.of(courses.title()));
        int row = 0;
        for (Lines.Line line : lines) {
            Courses.Course course =
                    line.kind() == Lines.Kind.ROW ? courses.rows().get(row++) : null;
            cells.add(course == null ? "" : course.text());
        }
        return cells;
    }

    /** A text as a terminal shows it in one line. */
    static String oneLine(String text) {
        return Texts.printable(text).replaceAll("[\\r\\n\\t]+", " ");
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
    private int[] fit(List<List<String>> columns) {
        int[] widths = columns.stream()
                .mapToInt(cells -> cells.stream()
                        .mapToInt(t -> t.codePointCount(0, t.length()))
                        .max()
                        .orElse(1))
                .toArray();
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
