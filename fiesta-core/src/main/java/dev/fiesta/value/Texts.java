package dev.fiesta.value;

import java.math.BigDecimal;
import java.math.MathContext;
import java.math.RoundingMode;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import org.jspecify.annotations.Nullable;

/** Values as data files write them: the same on every machine. */
public final class Texts {
    /** How a missing key reads, and how it is asked for. */
    public static final String MISSING_KEY = "(missing)";

    /**
     * Doubles that are a whole number of 10^-scale are found by trying, the least scale first: below 2^50 the product is off
     * by less than a half, and the quotient of two doubles that are exact is the nearest double, so it reads back the same.
     */
    private static final int MOST_QUICK = 6;

    private static final double QUICK_BELOW = 1L << 50;

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
            return number(number);
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

    /** The shortest decimal that reads back as this double: plain for sizes from 1e-6 to 1e17, else with an exponent. */
    public static String number(double value) {
        for (int scale = 0; scale <= MOST_QUICK; scale++) {
            double units = value * Values.power(scale);
            if (Math.abs(units) >= QUICK_BELOW) {
                break;
            }
            long whole = Math.round(units);
            if ((double) whole / Values.power(scale) == value) {
                return BigDecimal.valueOf(whole, scale).toPlainString();
            }
        }
        BigDecimal digits = shortest(value);
        double size = Math.abs(value);
        if (size >= 1e-6 && size < 1e17) {
            String plain = digits.stripTrailingZeros().toPlainString();
            return plain;
        }
        BigDecimal stripped = digits.stripTrailingZeros();
        String unscaled = stripped.unscaledValue().abs().toString();
        int exponent = stripped.precision() - stripped.scale() - 1;
        String mantissa = unscaled.length() == 1 ? unscaled : unscaled.charAt(0) + "." + unscaled.substring(1);
        // With a sign it reads back as a number: an exponent without one may be that of an identifier.
        return (value < 0 ? "-" : "") + mantissa + (exponent < 0 ? "e" : "e+") + exponent;
    }

    /** {@code Double.toString} of older JDKs is right but not always shortest: fewer digits are tried. */
    private static BigDecimal shortest(double value) {
        BigDecimal digits = new BigDecimal(Double.toString(value));
        if (!oneDigitLess(digits, value)) {
            return digits;
        }
        BigDecimal exact = new BigDecimal(value);
        for (int precision = digits.stripTrailingZeros().precision() - 1; precision > 0; precision--) {
            BigDecimal fewer = exact.round(new MathContext(precision, RoundingMode.HALF_EVEN));
            if (fewer.doubleValue() != value) {
                break;
            }
            digits = fewer;
        }
        return digits;
    }

    /** Whether one of the two neighbours with a digit less reads back as the same double. */
    private static boolean oneDigitLess(BigDecimal digits, double value) {
        int precision = digits.precision() - 1;
        return precision > 0
                && (digits.round(new MathContext(precision, RoundingMode.DOWN)).doubleValue() == value
                        || digits.round(new MathContext(precision, RoundingMode.UP))
                                        .doubleValue()
                                == value);
    }
}
