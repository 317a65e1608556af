package dev.fiesta.value;

import org.jspecify.annotations.Nullable;

/** Which rows of a column have a value: bits, or null when all have. */
public final class Validity {
    private Validity() {}

    public static boolean has(long @Nullable [] valid, int i) {
        return valid == null || Bits.get(valid, i);
    }

    /** The rows valid in both columns, over {@code size} rows. */
    public static long @Nullable [] both(Column a, Column b, int size) {
        long[] left = spread(a, size);
        long[] right = spread(b, size);
        if (left == null || right == null) {
            return left == null ? right : left;
        }
        long[] both = new long[left.length];
        for (int i = 0; i < both.length; i++) {
            both[i] = left[i] & right[i];
        }
        return both;
    }

    /** The validity of a column that may be constant, over {@code size} rows. */
    public static long @Nullable [] spread(Column column, int size) {
        long[] valid = column.valid();
        return valid == null || !column.isConstant() ? valid : Bits.get(valid, 0) ? null : Bits.none(size);
    }

    /** Validity after one more row became missing; makes the bits when there were none. */
    public static long[] without(long @Nullable [] valid, int size, int row) {
        long[] bits = valid == null ? Bits.all(size) : valid;
        Bits.clear(bits, row);
        return bits;
    }

    /** The validity of rows picked from a column; a negative row is missing. */
    static long @Nullable [] take(Column from, int[] rows, int count) {
        long[] taken = null;
        for (int i = 0; i < count; i++) {
            if (rows[i] < 0 || from.isMissing(rows[i])) {
                taken = without(taken, count, i);
            }
        }
        return taken;
    }
}
