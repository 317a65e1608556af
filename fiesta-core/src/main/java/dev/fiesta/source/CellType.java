package dev.fiesta.source;

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
            return isExponent(b, i, end) ? Type.NUMBER : null;
        }
        if (!point) {
            boolean identifier = (before > 1 && b[firstDigit] == '0') || before > Type.MOST_DIGITS;
            return identifier ? Type.TEXT : Type.INTEGER;
        }
        if (before > 1 && b[firstDigit] == '0') {
            return Type.TEXT;
        }
        return before + after > Type.MOST_DIGITS ? Type.NUMBER : Type.decimal(after);
    }

    private static boolean isExponent(byte[] b, int start, int end) {
        int i = start;
        if (b[i] != 'e' && b[i] != 'E') {
            return false;
        }
        i++;
        if (i < end && (b[i] == '-' || b[i] == '+')) {
            i++;
        }
        int digits = 0;
        for (; i < end && b[i] >= '0' && b[i] <= '9'; i++) {
            digits++;
        }
        return i == end && digits > 0 && digits <= 4;
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

    /** The narrowest type for cells of both. */
    static Type both(Type a, Type b) {
        if (a.equals(b) || b.kind() == Kind.EMPTY) {
            return a;
        }
        if (a.kind() == Kind.EMPTY) {
            return b;
        }
        if (a.isExact() && b.isExact()) {
            return Type.decimal(Math.max(a.scale(), b.scale()));
        }
        return a.isNumeric() && b.isNumeric() ? Type.NUMBER : Type.TEXT;
    }
}
