package dev.fiesta.report;

import dev.fiesta.Result;
import dev.fiesta.ViewColumn;
import dev.fiesta.problem.MachineException;
import dev.fiesta.source.TemporaryFiles;
import dev.fiesta.value.LocaleStyle;
import dev.fiesta.value.Texts;
import dev.fiesta.value.Type;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.zip.ZipEntry;
import java.util.zip.ZipFile;
import java.util.zip.ZipOutputStream;
import org.dhatim.fastexcel.BorderSide;
import org.dhatim.fastexcel.BorderStyle;
import org.dhatim.fastexcel.Worksheet;
import org.jspecify.annotations.Nullable;

/** Tables as a workbook: real numbers, dates and formats, a frozen and filtered head, groups with their subtotals. */
final class Workbook {
    private static final int MOST_ROWS = 1_048_575;
    private static final int LONGEST_NAME = 31;
    private static final int LONGEST_TEXT = 32_767;
    private static final int WIDEST = 48;
    private static final String FONT = "Arial";
    private static final String INK = "24211C";
    private static final String SOFT = "6D665A";
    private static final String HEAD = "F1ECE1";

    private final Report report;
    private final Set<String> names = new HashSet<>();

    private Workbook(Report report) {
        this.report = report;
    }

    static byte[] render(Report report) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (var book = new org.dhatim.fastexcel.Workbook(out, "Fiesta", "1.0")) {
            book.setGlobalDefaultFont(FONT, 10);
            new Workbook(report).sheets(book);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return withoutClock(out.toByteArray());
    }

    private void sheets(org.dhatim.fastexcel.Workbook book) throws IOException {
        particulars(book.newWorksheet(name(words().get("particulars"))));
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

    /** A text as a sheet takes it: cut where it is longer than a cell can be. */
    private static String text(String text) {
        String shown = Texts.printable(text);
        if (shown.length() <= LONGEST_TEXT) {
            return shown;
        }
        int end = LONGEST_TEXT - 1;
        return shown.substring(0, Character.isHighSurrogate(shown.charAt(end - 1)) ? end - 1 : end) + "…";
    }

    private void particulars(Worksheet sheet) throws IOException {
        sheet.value(0, 0, text(report.title()));
        sheet.style(0, 0).bold().fontName(FONT).fontSize(14).set();
        int row = 2;
        for (String warning : report.warnings()) {
            sheet.value(row++, 0, text(warning));
        }
        for (Report.Particular particular : report.particulars()) {
            sheet.value(row, 0, text(particular.name()));
            sheet.style(row, 0).fontName(FONT).fontSize(10).fontColor(SOFT).set();
            sheet.value(row++, 1, text(particular.value()));
        }
        row++;
        for (Result result : report.data()) {
            sheet.value(row, 0, text(words().get("table") + " " + result.name()));
            sheet.style(row, 0).fontName(FONT).fontSize(10).fontColor(SOFT).set();
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

    private static void onePageWide(Worksheet sheet) {
        sheet.setFitToPage(true);
        sheet.fitToWidth((short) 1);
        sheet.fitToHeight((short) 0);
    }

    private void table(Worksheet sheet, Result result) {
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
            head(sheet, c, format.right(), behindNumber(formats, c));
        }
        List<Lines.Line> lines = Lines.of(result, result.rows());
        int row = 1;
        int first = 1;
        for (Lines.Line line : lines) {
            for (int c = 0; c < view.size(); c++) {
                widths[c] = Math.max(
                        widths[c],
                        Math.min(WIDEST, line.print(c, formats.get(c)).length() + 2));
                cell(
                        sheet,
                        row,
                        c,
                        line,
                        formats,
                        view.get(c),
                        result.column(view.get(c).field()).type());
                if (c < line.notes().size() && !line.notes().get(c).isEmpty()) {
                    sheet.comment(row, c, text(String.join("\n", line.notes().get(c))));
                }
            }
            if (line.kind() == Lines.Kind.SUBTOTAL) {
                if (row > first) {
                    sheet.groupRows(first, row - 1);
                }
                first = row + 1;
            }
            row++;
        }
        for (int c = 0; c < widths.length; c++) {
            sheet.width(c, Math.max(6, widths[c]));
        }
        courses(sheet, report.courses(result), lines, formats);
        sheet.freezePane(0, 1);
        sheet.repeatRows(0);
        sheet.rowSumsBelow(true);
        onePageWide(sheet);
        if (!view.isEmpty() && result.rows() > 0) {
            sheet.setAutoFilter(0, 0, result.totals().isEmpty() ? row - 1 : lastRow(lines), view.size() - 1);
        }
    }

    private static void head(Worksheet sheet, int column, boolean right, boolean behindNumber) {
        var style = sheet.style(0, column)
                .bold()
                .fontName(FONT)
                .fontSize(10)
                .fontColor(INK)
                .fillColor(HEAD)
                .borderStyle(BorderSide.BOTTOM, BorderStyle.THIN);
        if (right) {
            style.horizontalAlignment("right");
        } else if (behindNumber) {
            style.horizontalAlignment("left").indent(1);
        }
        style.set();
    }

    /** Whether a column of texts stands behind one of numbers, which would touch. */
    private static boolean behindNumber(List<CellFormat> formats, int column) {
        return column > 0
                && formats.get(column - 1).right()
                && (column == formats.size() || !formats.get(column).right());
    }

    /** Courses behind the columns, as their least, latest and greatest values: nothing is drawn in cells here. */
    private void courses(
            Worksheet sheet, List<Courses.Column> courses, List<Lines.Line> lines, List<CellFormat> formats) {
        for (int c = 0; c < courses.size(); c++) {
            int column = formats.size() + c;
            boolean behind = c == 0 && behindNumber(formats, column);
            String title = text(courses.get(c).title());
            int width = title.length() + 3;
            sheet.value(0, column, title);
            head(sheet, column, false, behind);
            sheet.comment(0, column, words().get("course"));
            int row = 0;
            for (int l = 0; l < lines.size(); l++) {
                Courses.Course course = lines.get(l).kind() == Lines.Kind.ROW
                        ? courses.get(c).rows().get(row++)
                        : null;
                if (course != null) {
                    sheet.value(l + 1, column, text(course.text()));
                    width = Math.max(width, course.text().length() + 2);
                    if (behind) {
                        sheet.style(l + 1, column)
                                .horizontalAlignment("left")
                                .indent(1)
                                .set();
                    }
                }
            }
            sheet.width(column, Math.min(WIDEST, width));
        }
    }

    /** The last line that is no grand total, so that a filter leaves that where it is. */
    private static int lastRow(List<Lines.Line> lines) {
        int last = lines.size();
        while (last > 1 && lines.get(last - 1).kind() == Lines.Kind.TOTAL) {
            last--;
        }
        return last;
    }

    private static void cell(
            Worksheet sheet,
            int row,
            int column,
            Lines.Line line,
            List<CellFormat> formats,
            ViewColumn view,
            Type type) {
        CellFormat format = formats.get(column);
        @Nullable Object value = line.values().get(column);
        boolean total = line.kind() != Lines.Kind.ROW;
        boolean text = column == line.label() || value == null || !put(sheet, row, column, value, format);
        if (text) {
            String shown = line.print(column, format);
            boolean empty = value == null && !view.key() && column != line.label();
            if (!empty && !shown.isEmpty()) {
                sheet.value(row, column, text(shown));
            }
        }
        var style = sheet.style(row, column);
        boolean plain = true;
        String pattern = text ? null : format.sheetPattern(type);
        if (pattern != null) {
            style.format(pattern);
            plain = false;
        }
        if (format.right()) {
            style.horizontalAlignment("right");
            plain = false;
        } else if (behindNumber(formats, column)) {
            style.horizontalAlignment("left").indent(1);
            plain = false;
        }
        if (total) {
            style.bold().fontName(FONT).fontSize(10).borderStyle(BorderSide.TOP, BorderStyle.THIN);
            plain = false;
        }
        if (!plain) {
            style.set();
        }
    }

    /** Puts what a sheet has a type for; false for texts. */
    private static boolean put(Worksheet sheet, int row, int column, Object value, CellFormat format) {
        if (value instanceof Number number && !format.isText()) {
            sheet.value(row, column, number);
        } else if (value instanceof LocalDate date) {
            sheet.value(row, column, date);
        } else if (value instanceof LocalDateTime time) {
            sheet.value(row, column, time);
        } else if (value instanceof Instant instant) {
            sheet.value(row, column, LocalDateTime.ofInstant(instant, ZoneOffset.UTC));
        } else if (value instanceof Boolean truth) {
            sheet.value(row, column, truth);
        } else {
            return false;
        }
        return true;
    }

    /** The same workbook always has the same bytes: times of the making are those of 1980 (February: earlier ones are kept with a zone). */
    private static byte[] withoutClock(byte[] book) {
        try {
            Path file = TemporaryFiles.create(".xlsx"); // entries whose sizes stand behind them need a file
            try {
                Files.write(file, book);
                return withoutClock(file);
            } finally {
                Files.delete(file);
            }
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static byte[] withoutClock(Path book) throws IOException {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (ZipFile from = new ZipFile(book.toFile());
                ZipOutputStream to = new ZipOutputStream(out)) {
            for (ZipEntry entry : Collections.list(from.entries())) {
                ZipEntry fixed = new ZipEntry(entry.getName());
                fixed.setTimeLocal(LocalDateTime.of(1980, 2, 1, 0, 0));
                to.putNextEntry(fixed);
                byte[] bytes = from.getInputStream(entry).readAllBytes();
                to.write(entry.getName().equals("docProps/core.xml") ? dated(bytes) : bytes);
                to.closeEntry();
            }
        }
        return out.toByteArray();
    }

    private static byte[] dated(byte[] properties) {
        return new String(properties, StandardCharsets.UTF_8)
                .replaceAll("\\d{4}-\\d{2}-\\d{2}T[0-9:.]+Z", "1980-01-01T00:00:00Z")
                .getBytes(StandardCharsets.UTF_8);
    }
}
