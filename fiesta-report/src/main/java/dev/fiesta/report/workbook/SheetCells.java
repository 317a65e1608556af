package dev.fiesta.report.workbook;

import dev.fiesta.ViewColumn;
import dev.fiesta.report.text.CellFormat;
import dev.fiesta.report.text.Lines;
import dev.fiesta.value.Type;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.List;
import org.dhatim.fastexcel.BorderSide;
import org.dhatim.fastexcel.BorderStyle;
import org.dhatim.fastexcel.Worksheet;
import org.jspecify.annotations.Nullable;

/** Cells of a sheet: values with their types, and how they look. */
final class SheetCells {
    static final String FONT = "Arial";
    static final String INK = "24211C";
    static final String HEAD = "F1ECE1";

    private SheetCells() {}

    static void head(Worksheet sheet, int column, boolean right, boolean behindNumber) {
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
    static boolean behindNumber(List<CellFormat> formats, int column) {
        return column > 0
                && formats.get(column - 1).right()
                && (column == formats.size() || !formats.get(column).right());
    }

    static void cell(
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
                sheet.value(row, column, Workbook.text(shown));
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
}
