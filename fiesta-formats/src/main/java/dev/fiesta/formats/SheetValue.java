package dev.fiesta.formats;

import dev.fiesta.value.ShortestNumber;
import dev.fiesta.value.Texts;
import java.math.BigDecimal;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.util.Locale;
import org.dhatim.fastexcel.reader.Cell;
import org.dhatim.fastexcel.reader.CellType;
import org.jspecify.annotations.Nullable;

/** What stands in a cell of a sheet, as text of its kind. */
record SheetValue(Kind kind, String text) {
    /** What a cell holds; an error is something like {@code #N/A}. */
    enum Kind {
        NUMBER,
        TEXT,
        TRUTH,
        DATE,
        ERROR
    }

    private static final long MILLIS_A_DAY = 86_400_000;
    /** Days count from here, once past a 29 February 1900 that never was. */
    private static final LocalDate FIRST = LocalDate.of(1899, 12, 30);

    private static final int NEVER_WAS = 60;
    private static final LocalDate FIRST_1904 = LocalDate.of(1904, 1, 1);
    /** 31 December 9999. */
    private static final double LAST_DAY = 2_958_466;

    static SheetValue of(Cell cell, boolean dates1904) {
        String raw = cell.getRawValue() == null ? "" : cell.getRawValue();
        CellType type = cell.getType() == CellType.FORMULA ? stored(cell.getValue(), raw) : cell.getType();
        return switch (type) {
            case NUMBER -> number(raw, cell.getDataFormatString(), dates1904);
            case BOOLEAN ->
                new SheetValue(Kind.TRUTH, raw.equals("1") || raw.equalsIgnoreCase("true") ? "true" : "false");
            case ERROR -> new SheetValue(Kind.ERROR, raw);
            default -> new SheetValue(Kind.TEXT, cell.getText());
        };
    }

    /** The type of the value that was stored with a formula. */
    private static CellType stored(@Nullable Object value, String raw) {
        if (value instanceof Boolean) {
            return CellType.BOOLEAN;
        }
        if (raw.startsWith("#")) {
            return CellType.ERROR;
        }
        return value instanceof BigDecimal ? CellType.NUMBER : CellType.STRING;
    }

    /** The shortest decimal that reads back as the number that is stored, or the date that it is shown as. */
    private static SheetValue number(String raw, @Nullable String format, boolean dates1904) {
        double value = Double.parseDouble(raw);
        if (format != null && isTime(format) && value >= 0 && value < LAST_DAY) {
            String date = date(value, dates1904, letters(format));
            if (date != null) {
                return new SheetValue(Kind.DATE, date);
            }
        }
        return new SheetValue(Kind.NUMBER, ShortestNumber.of(value));
    }

    /** A date, with a time of day where it has or shows one; a time alone as text; null for a day that never was. */
    private static @Nullable String date(double value, boolean dates1904, String format) {
        long days = (long) value;
        long millis = Math.round((value - days) * MILLIS_A_DAY);
        if (millis == MILLIS_A_DAY) {
            days++;
            millis = 0;
        }
        LocalTime time = LocalTime.ofNanoOfDay(millis * 1_000_000);
        if (days == 0 && !format.matches("(?s).*[yd].*")) {
            return time.toString();
        }
        if (!dates1904 && (days == NEVER_WAS || days == 0)) {
            return null;
        }
        LocalDate day = dates1904 ? FIRST_1904.plusDays(days) : FIRST.plusDays(days < NEVER_WAS ? days + 1 : days);
        return millis == 0 && !format.contains("h") ? day.toString() : Texts.of(LocalDateTime.of(day, time));
    }

    /** Whether a format shows days or times of day: it has letters for them outside quotes, brackets and escapes. */
    private static boolean isTime(String format) {
        String letters = letters(format);
        return letters.matches("(?s).*[ymdhs].*") && !letters.contains("general");
    }

    private static String letters(String format) {
        return format.toLowerCase(Locale.ROOT)
                .replaceAll("\\\\.|\"[^\"]*\"|_.|\\*.", "")
                .replaceAll("\\[(?!h+\\]|m+\\]|s+\\])[^\\]]*\\]", "")
                .replaceAll(";.*", "");
    }
}
