package dev.fiesta.value;

import java.math.BigDecimal;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import org.jspecify.annotations.Nullable;

/** Values as data files write them: the same on every machine. */
public final class Texts {
    /** How a missing key reads, and how it is asked for. */
    public static final String MISSING_KEY = "(missing)";

    private Texts() {}

    /** A key as it is told and asked for. */
    public static String key(@Nullable Object value) {
        return value == null ? MISSING_KEY : of(value);
    }

    /** A value as text: decimals with all their digits, numbers in the shortest form that reads back the same. */
    public static String of(Object value) {
        if (value instanceof BigDecimal decimal) {
            return decimal.toPlainString();
        }
        if (value instanceof Double number) {
            return ShortestNumber.of(number);
        }
        if (value instanceof LocalDateTime time) {
            return dateTime(time);
        }
        if (value instanceof Instant instant) {
            return dateTime(LocalDateTime.ofInstant(instant, ZoneOffset.UTC)) + "Z";
        }
        return value.toString();
    }

    /**
     * A text as it may stand on a page or a terminal: what neither has, and what a terminal would obey, is shown as U+FFFD. Ends of
     * lines and tabs stay.
     */
    public static String printable(String text) {
        for (int i = 0; i < text.length(); i++) {
            if (!isPrintable(text, i)) {
                return replaced(text);
            }
        }
        return text;
    }

    private static String replaced(String text) {
        StringBuilder printable = new StringBuilder(text);
        for (int i = 0; i < text.length(); i++) {
            if (!isPrintable(text, i)) {
                printable.setCharAt(i, '\uFFFD');
            }
        }
        return printable.toString();
    }

    private static boolean isPrintable(String text, int i) {
        char c = text.charAt(i);
        if (c < 0x20) {
            return c == '\n' || c == '\t' || c == '\r';
        }
        if (c >= '\u202A' && c <= '\u202E') {
            return false; // turn round what follows, also in the cells beside
        }
        if (Character.isHighSurrogate(c)) {
            return i + 1 < text.length() && Character.isLowSurrogate(text.charAt(i + 1));
        }
        if (Character.isLowSurrogate(c)) {
            return i > 0 && Character.isHighSurrogate(text.charAt(i - 1));
        }
        return (c < 0x7F || c > 0x9F) && c < 0xFFFE;
    }

    private static String dateTime(LocalDateTime time) {
        String text = time.toString();
        if (text.length() == 16) {
            return text + ":00";
        }
        int point = text.indexOf('.');
        return point < 0 ? text : text.replaceAll("0+$", "");
    }
}
