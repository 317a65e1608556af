package dev.fiesta.source.cells;

import dev.fiesta.value.Kind;
import dev.fiesta.value.TimePattern;
import dev.fiesta.value.Type;

/** Tells from the bytes of a cell the narrowest type that holds it. */
public final class CellType {
    private CellType() {}

    /** The type of a cell that is not empty. */
    public static Type of(byte[] b, int start, int end) {
        int s = start;
        int e = end;
        while (s < e && b[s] == ' ') {
            s++;
        }
        while (e > s && b[e - 1] == ' ') {
            e--;
        }
        if (s == e) {
            return Type.TEXT;
        }
        byte first = b[s];
        if (first == 't' || first == 'f') {
            return isWord(b, s, e, "true") || isWord(b, s, e, "false") ? Type.TRUTH : Type.TEXT;
        }
        if ((first < '0' || first > '9') && first != '-' && first != '+' && first != '.') {
            return Type.TEXT;
        }
        Type number = number(b, s, e);
        return number != null ? number : time(b, s, e);
    }

    /** The type of what stands as a number, not as a text: exponents of every kind make reals. */
    public static Type ofNumber(byte[] b) {
        Type type = of(b, 0, b.length);
        return type.kind() == Kind.TEXT && contains(b, 'e') && !Double.isNaN(Numbers.number(b, 0, b.length))
                ? Type.REAL
                : type;
    }

    private static boolean contains(byte[] b, char small) {
        for (byte one : b) {
            if ((one | 32) == small) {
                return true;
            }
        }
        return false;
    }

    private static boolean isWord(byte[] b, int start, int end, String word) {
        boolean same = end - start == word.length();
        for (int i = 0; same && i < word.length(); i++) {
            same = b[start + i] == word.charAt(i);
        }
        return same;
    }

    private static @org.jspecify.annotations.Nullable Type number(byte[] b, int start, int end) {
        int i = b[start] == '-' || b[start] == '+' ? start + 1 : start;
        int firstDigit = i;
        int before = 0;
        int after = 0;
        boolean point = false;
        for (; i < end; i++) {
            if (b[i] >= '0' && b[i] <= '9') {
                before += point ? 0 : 1;
                after += point ? 1 : 0;
            } else if (b[i] == '.' && !point) {
                point = true;
            } else {
                break;
            }
        }
        if (before + after == 0 || (point && after == 0)) {
            return null;
        }
        if (i < end) {
            return isReal(b, start, i, end, point) ? Type.REAL : null;
        }
        if (!point) {
            boolean identifier = (before > 1 && b[firstDigit] == '0') || before > Type.MOST_DIGITS;
            return identifier ? Type.TEXT : Type.INTEGER;
        }
        if (before > 1 && b[firstDigit] == '0') {
            return Type.TEXT;
        }
        return before + after > Type.MOST_DIGITS ? Type.REAL : Type.decimal(after);
    }

    /**
     * Whether an exponent makes a real: only beside a point or with a sign of its own ({@code 12E5} is an identifier), and only where
     * a double holds the value.
     */
    private static boolean isReal(byte[] b, int start, int exponent, int end, boolean point) {
        int i = exponent;
        if (b[i] != 'e' && b[i] != 'E') {
            return false;
        }
        i++;
        boolean sign = i < end && (b[i] == '-' || b[i] == '+');
        i += sign ? 1 : 0;
        int firstDigit = i;
        while (i < end && b[i] >= '0' && b[i] <= '9') {
            i++;
        }
        return i == end && i > firstDigit && (point || sign) && !Double.isNaN(Numbers.number(b, start, end));
    }

    private static Type time(byte[] b, int start, int end) {
        if (TimePattern.isoDate(b, start, end) != TimePattern.NONE) {
            return Type.DATE;
        }
        if (TimePattern.isoDateTime(b, start, end) != TimePattern.NONE) {
            return Type.DATETIME;
        }
        return end - start > 16 && TimePattern.isoInstant(b, start, end) != TimePattern.NONE ? Type.INSTANT : Type.TEXT;
    }

    /** The digits before the point of a cell that is an integer or a decimal. */
    static int before(byte[] b, int start, int end) {
        int digits = 0;
        for (int i = start; i < end && b[i] != '.'; i++) {
            digits += b[i] >= '0' && b[i] <= '9' ? 1 : 0;
        }
        return digits;
    }

    /**
     * What a field becomes when a value is met that its type does not hold: never the same type, so that widening comes to an end. A
     * value that would fit its own type, but has too many digits beside the scale of the field, makes it a real.
     */
    static Type wider(Type known, Type cell) {
        Type both = both(known, cell);
        return both.equals(known) && known.isExact() ? Type.REAL : both;
    }

    /** The narrowest type for cells of both. */
    public static Type both(Type a, Type b) {
        if (a.equals(b) || b.kind() == Kind.EMPTY) {
            return a;
        }
        if (a.kind() == Kind.EMPTY) {
            return b;
        }
        if (a.isExact() && b.isExact()) {
            return Type.decimal(Math.max(a.scale(), b.scale()));
        }
        return a.isNumeric() && b.isNumeric() ? Type.REAL : Type.TEXT;
    }
}
