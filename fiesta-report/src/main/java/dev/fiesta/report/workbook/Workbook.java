package dev.fiesta.report.workbook;

import dev.fiesta.Result;
import dev.fiesta.ViewColumn;
import dev.fiesta.language.BriefTree;
import dev.fiesta.problem.MachineException;
import dev.fiesta.report.content.Content;
import dev.fiesta.report.content.Courses;
import dev.fiesta.report.text.CellFormat;
import dev.fiesta.report.text.Lines;
import dev.fiesta.report.text.NoteSigns;
import dev.fiesta.report.text.Words;
import dev.fiesta.source.files.TemporaryFiles;
import dev.fiesta.value.LocaleStyle;
import dev.fiesta.value.Texts;
import dev.fiesta.value.Type;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.dhatim.fastexcel.PaperSize;
import org.dhatim.fastexcel.Position;
import org.dhatim.fastexcel.Worksheet;
import org.jspecify.annotations.Nullable;

/** Tables as a workbook: real numbers, dates and formats, a frozen and filtered head, groups with their subtotals. */
public final class Workbook {
    private static final int MOST_ROWS = 1_048_575;
    private static final int LONGEST_NAME = 31;
    private static final int LONGEST_TEXT = 32_767;
    /** A head holds 255 letters, doubled and those that set its font among them. */
    private static final int LONGEST_HEAD = 100;

    private static final int WIDEST = 48;
    /** So many rows are held before they are written. */
    private static final int ROWS_HELD = 1_000;

    private static final String SOFT = "6D665A";

    private final Content report;
    private final Set<String> names = new HashSet<>();

    private Workbook(Content report) {
        this.report = report;
    }

    /** Writes the workbook to a stream, which stays open. */
    public static void write(Content report, OutputStream out) throws IOException {
        Path file = TemporaryFiles.create(".xlsx"); // entries whose sizes stand behind them need a file
        try {
            filled(report, file).copy(file, out);
        } finally {
            Files.delete(file);
        }
    }

    private static WorkbookParts filled(Content report, Path file) {
        try (OutputStream out = Files.newOutputStream(file);
                var book = new org.dhatim.fastexcel.Workbook(out, "Fiesta", "1.0")) {
            book.setGlobalDefaultFont(SheetCells.FONT, 10);
            return new Workbook(report).sheets(book);
        } catch (IOException e) {
            throw TemporaryFiles.unwritable("The workbook", e);
        }
    }

    private WorkbookParts sheets(org.dhatim.fastexcel.Workbook book) throws IOException {
        particulars(book.newWorksheet(name(words().get("particulars"))));
        boolean drawn = !report.charts().isEmpty();
        Worksheet drawings = drawn ? book.newWorksheet(name(words().get("charts"))) : null;
        for (Result result : report.data()) {
            if (result.rows() > MOST_ROWS) {
                throw new MachineException(
                        "the table '" + result.name() + "' has " + result.rows() + " rows, and a sheet holds "
                                + MOST_ROWS + "; write it as csv",
                        null);
            }
            Worksheet sheet = book.newWorksheet(name(result.name()));
            table(sheet, result);
            sheet.finish();
        }
        List<List<String>> notes = notes();
        if (!notes.isEmpty()) {
            notes(book.newWorksheet(name(words().get("notes"))), notes);
        }
        return drawings == null ? new WorkbookParts(Map.of(), List.of()) : charts(book, drawings);
    }

    /** What is noted under the tables and charts of the report and at cells, with what it belongs to. */
    private List<List<String>> notes() {
        LocaleStyle locale = LocaleStyle.of(report.locale());
        List<List<String>> notes = new ArrayList<>();
        for (BriefTree.Piece piece : report.pieces()) {
            String note = piece.note();
            if (note != null) {
                notes.add(List.of(report.title(piece), report.fill(note)));
            }
        }
        for (Result result : report.data()) {
            List<String> told = new ArrayList<>(NoteSigns.of(Lines.each(result, result.rows(), result.view()))
                    .told());
            told.addAll(Lines.notes(result, result.rows(), locale));
            told.forEach(note -> notes.add(List.of(result.name(), note)));
        }
        return notes;
    }

    private void notes(Worksheet sheet, List<List<String>> notes) throws IOException {
        for (int row = 0; row < notes.size(); row++) {
            sheet.value(row, 0, text(notes.get(row).get(0)));
            sheet.style(row, 0)
                    .fontName(SheetCells.FONT)
                    .fontSize(10)
                    .fontColor(SOFT)
                    .set();
            sheet.value(row, 1, text(notes.get(row).get(1)));
        }
        onePageWide(sheet);
        sheet.width(0, 26);
        sheet.width(1, 80);
        sheet.finish();
    }

    private WorkbookParts charts(org.dhatim.fastexcel.Workbook book, Worksheet drawings) throws IOException {
        String name = name(words().get("chart_values"));
        WorkbookCharts charts = new WorkbookCharts(report, () -> book.newWorksheet(name), name);
        charts.draw(drawings);
        drawings.finish();
        return charts.fastened();
    }

    /** A name that a sheet may have, each once. */
    private String name(String wanted) {
        String plain = Texts.printable(wanted).replaceAll("[\\[\\]:*?/\\\\']", "_");
        String name = plain.substring(0, Math.min(LONGEST_NAME, plain.length()));
        for (int i = 2; !names.add(name.toLowerCase(Locale.ROOT)); i++) {
            String end = " " + i;
            name = plain.substring(0, Math.min(LONGEST_NAME - end.length(), plain.length())) + end;
        }
        return name;
    }

    /** The name of a table as a name of cells: such have letters, digits and few signs, and are no cells themselves. */
    private static String rangeName(String table) {
        String plain = table.replaceAll("[^\\p{L}\\p{N}_.]", "_");
        boolean cell = plain.matches("(?i)[a-z]{1,3}\\d+|[rc]|r\\d*c\\d*|[rc]\\d+");
        return cell || !plain.matches("[\\p{L}_].*") ? "_" + plain : plain;
    }

    /** A text as a cell takes it. */
    static String text(String text) {
        return cut(Texts.printable(text), LONGEST_TEXT);
    }

    /** A text as the head of a page takes it, where {@code &} begins what is no text. */
    private static String head(String text) {
        return cut(Texts.printable(text), LONGEST_HEAD).replace("&", "&&");
    }

    private static String cut(String text, int longest) {
        if (text.length() <= longest) {
            return text;
        }
        int end = longest - 1;
        return text.substring(0, Character.isHighSurrogate(text.charAt(end - 1)) ? end - 1 : end) + "…";
    }

    private void particulars(Worksheet sheet) throws IOException {
        sheet.value(0, 0, text(report.title()));
        sheet.style(0, 0).bold().fontName(SheetCells.FONT).fontSize(14).set();
        int row = 2;
        for (String warning : report.warnings()) {
            sheet.value(row++, 0, text(warning));
        }
        for (Content.Particular particular : report.particulars()) {
            sheet.value(row, 0, text(particular.name()));
            sheet.style(row, 0)
                    .fontName(SheetCells.FONT)
                    .fontSize(10)
                    .fontColor(SOFT)
                    .set();
            sheet.value(row++, 1, text(particular.value()));
        }
        row++;
        for (Result result : report.data()) {
            sheet.value(row, 0, text(words().get("table") + " " + result.name()));
            sheet.style(row, 0)
                    .fontName(SheetCells.FONT)
                    .fontSize(10)
                    .fontColor(SOFT)
                    .set();
            sheet.value(row++, 1, words().get("row_count") + ": " + result.rows());
        }
        onePageWide(sheet);
        sheet.width(0, 26);
        sheet.width(1, 80);
        sheet.finish();
    }

    private Words words() {
        return Words.of(report.locale());
    }

    static void onePageWide(Worksheet sheet) {
        sheet.paperSize(PaperSize.A4_PAPER);
        sheet.setFitToPage(true);
        sheet.fitToWidth((short) 1);
        sheet.fitToHeight((short) 0);
    }

    private void table(Worksheet sheet, Result result) throws IOException {
        List<ViewColumn> view = result.view();
        LocaleStyle locale = LocaleStyle.of(report.locale());
        List<CellFormat> formats = new ArrayList<>();
        int[] widths = new int[view.size()];
        for (int c = 0; c < view.size(); c++) {
            CellFormat format = new CellFormat(
                    locale, view.get(c), result.column(view.get(c).field()));
            String title = text(format.title() + (format.unit().isEmpty() ? "" : " " + format.unit()));
            formats.add(format);
            widths[c] = Math.min(WIDEST, title.length() + 3); // the filter's arrow stands beside it
            sheet.value(0, c, title);
            SheetCells.head(sheet, c, format.right(), SheetCells.behindNumber(formats, c));
        }
        Iterable<Lines.Line> lines = Lines.each(result, result.rows(), view);
        for (Lines.Line line : lines) {
            for (int c = 0; c < view.size(); c++) {
                int width = line.print(c, formats.get(c)).length() + 2;
                widths[c] = Math.max(widths[c], Math.min(WIDEST, width));
            }
        }
        for (int c = 0; c < widths.length; c++) {
            sheet.width(c, Math.max(6, widths[c])); // before the first rows go
        }
        List<Courses.Column> courses = report.courses(result);
        courseHeads(sheet, courses, formats);
        sheet.freezePane(0, 1);
        sheet.repeatRows(0);
        sheet.rowSumsBelow(true);
        onePageWide(sheet);
        int last = lines(sheet, result, lines, formats, courses);
        if (!view.isEmpty() && result.rows() > 0) {
            sheet.setAutoFilter(0, 0, last, view.size() - 1);
            sheet.addNamedRange(sheet.range(0, 0, last, view.size() - 1), rangeName(result.name()));
        }
        if (!view.isEmpty()) {
            int end = Lines.count(result, result.rows());
            sheet.addNamedRange(sheet.range(0, 0, end, view.size() + courses.size() - 1), "_xlnm.Print_Area");
        }
        sheet.header(head(report.title()), Position.LEFT, SheetCells.FONT, 9);
        sheet.footer("&P / &N", Position.RIGHT, SheetCells.FONT, 9);
    }

    /** Writes the lines; the row of the last that is no grand total, so that a filter leaves that where it is. */
    private int lines(
            Worksheet sheet,
            Result result,
            Iterable<Lines.Line> lines,
            List<CellFormat> formats,
            List<Courses.Column> courses)
            throws IOException {
        List<ViewColumn> view = result.view();
        boolean grouped = result.totals().stream().anyMatch(t -> !t.grand());
        int row = 1;
        int first = 1;
        int number = 0;
        int last = 1;
        for (Lines.Line line : lines) {
            for (int c = 0; c < view.size(); c++) {
                Type type = result.column(view.get(c).field()).type();
                SheetCells.cell(sheet, row, c, line, formats, view.get(c), type);
                if (c < line.notes().size() && !line.notes().get(c).isEmpty()) {
                    sheet.comment(row, c, text(String.join("\n", line.notes().get(c))));
                }
            }
            if (line.kind() == Lines.Kind.ROW) {
                courses(sheet, row, courses, number++, formats);
            } else if (line.kind() == Lines.Kind.SUBTOTAL) {
                if (row > first) {
                    sheet.groupRows(first, row - 1);
                }
                first = row + 1;
            }
            last = line.kind() == Lines.Kind.TOTAL ? last : row;
            row++;
            if (row % ROWS_HELD == 0 && (!grouped || first == row)) { // groups are folded before they go
                sheet.flush();
            }
        }
        return last;
    }

    /** Courses behind the columns, as their least, latest and greatest values: nothing is drawn in cells here. */
    private void courseHeads(Worksheet sheet, List<Courses.Column> courses, List<CellFormat> formats) {
        for (int c = 0; c < courses.size(); c++) {
            int column = formats.size() + c;
            String title = text(courses.get(c).title());
            int width = title.length() + 3;
            sheet.value(0, column, title);
            SheetCells.head(sheet, column, false, c == 0 && SheetCells.behindNumber(formats, column));
            sheet.comment(0, column, words().get("course"));
            for (Courses.@Nullable Course course : courses.get(c).rows()) {
                width = Math.max(width, course == null ? 0 : course.text().length() + 2);
            }
            sheet.width(column, Math.min(WIDEST, width));
        }
    }

    /** @param number of the row among those that are no totals */
    private static void courses(
            Worksheet sheet, int row, List<Courses.Column> courses, int number, List<CellFormat> formats) {
        for (int c = 0; c < courses.size(); c++) {
            Courses.Course course = courses.get(c).rows().get(number);
            int column = formats.size() + c;
            if (course != null) {
                sheet.value(row, column, text(course.text()));
                if (c == 0 && SheetCells.behindNumber(formats, column)) {
                    sheet.style(row, column)
                            .horizontalAlignment("left")
                            .indent(1)
                            .set();
                }
            }
        }
    }
}
