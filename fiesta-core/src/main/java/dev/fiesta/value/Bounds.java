package dev.fiesta.value;

import java.math.BigDecimal;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * What is known of some values without reading them: none is missing, and all lie between two, both ends in.
 *
 * @param ends two rows: the least and the greatest, or something below and above them
 */
public record Bounds(Column ends) {
    public Bounds {
        if (ends.size() != 2 || ends.isMissing(0) || ends.isMissing(1)) {
            throw new IllegalArgumentException("bounds have two ends");
        }
    }

    /** Whether a value of these may be less than one of others. */
    public boolean mayBeLess(Bounds other) {
        return compare(get(ends, 0), get(other.ends, 1)) < 0;
    }

    /** Whether a value of these may equal one of others. */
    public boolean mayEqual(Bounds other) {
        return compare(get(ends, 0), get(other.ends, 1)) <= 0 && compare(get(other.ends, 0), get(ends, 1)) <= 0;
    }

    private static Object get(Column column, int row) {
        return Objects.requireNonNull(column.get(row));
    }

    /** Values of types that are compared: numbers of all kinds with each other, texts by their characters. */
    @SuppressWarnings("unchecked")
    private static int compare(Object a, Object b) {
        if (a instanceof Number && b instanceof Number) {
            return exact(a).compareTo(exact(b));
        }
        if (a instanceof String left && b instanceof String right) {
            return byCodePoint(left, right);
        }
        return ((Comparable<Object>) a).compareTo(b);
    }

    private static BigDecimal exact(Object number) {
        return number instanceof BigDecimal decimal
                ? decimal
                : number instanceof Double real ? new BigDecimal(real) : BigDecimal.valueOf((Long) number);
    }

    private static int byCodePoint(String a, String b) {
        int same = 0;
        while (same < a.length() && same < b.length() && a.charAt(same) == b.charAt(same)) {
            same++;
        }
        if (same == a.length() || same == b.length()) {
            return Integer.compare(a.length(), b.length());
        }
        char x = a.charAt(same);
        char y = b.charAt(same);
        boolean pairs = Character.isSurrogate(x) != Character.isSurrogate(y);
        return pairs ? Character.isSurrogate(x) ? 1 : -1 : Character.compare(x, y);
    }

    /** What is known of the fields of some rows. */
    @FunctionalInterface
    public interface Known {
        /** Null where nothing is known, or where a value is missing. */
        @Nullable
        Bounds of(int field);
    }
}
