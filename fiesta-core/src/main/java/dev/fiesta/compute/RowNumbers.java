package dev.fiesta.compute;

import java.util.Arrays;

/** Row numbers picked by bits. */
public final class RowNumbers {
    private RowNumbers() {}

    /** The rows whose bit is set, ascending, in an array of just that length. */
    public static int[] where(long[] bits, int size) {
        int[] rows = new int[size];
        int count = 0;
        for (int word = 0; word << 6 < size; word++) {
            for (long left = bits[word]; left != 0; left &= left - 1) {
                rows[count++] = (word << 6) + Long.numberOfTrailingZeros(left);
            }
        }
        return count == size ? rows : Arrays.copyOf(rows, count);
    }
}
