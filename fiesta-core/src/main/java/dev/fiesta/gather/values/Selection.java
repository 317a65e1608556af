package dev.fiesta.gather.values;

import java.util.Arrays;

/**
 * Puts a value in its place without sorting all others. (Known technique: C. A. R. Hoare, Algorithm 65: Find, 1961; where pivots are
 * bad all the way, what is left is sorted.)
 */
public final class Selection {
    private static final int FEW = 24;

    private Selection() {}

    /** Moves values from {@code from} to before {@code to} so that the value at {@code place} is the one that stands there once all are sorted, none greater before it, none less behind. */
    public static void put(long[] values, int from, int to, int place) {
        int low = from;
        int high = to - 1;
        int turns = 2 * (Integer.SIZE - Integer.numberOfLeadingZeros(to - from));
        while (high - low > FEW && turns-- > 0) {
            long pivot = middle(values[low], values[(low + high) >>> 1], values[high]);
            int i = low;
            int j = high;
            while (i <= j) {
                while (values[i] < pivot) {
                    i++;
                }
                while (values[j] > pivot) {
                    j--;
                }
                if (i <= j) {
                    long moved = values[i];
                    values[i++] = values[j];
                    values[j--] = moved;
                }
            }
            if (place > j && place < i) {
                return;
            }
            low = place >= i ? i : low;
            high = place <= j ? j : high;
        }
        Arrays.sort(values, low, high + 1);
    }

    /** Moves values from {@code from} to before {@code to} so that the first is the least. */
    public static void least(long[] values, int from, int to) {
        int least = from;
        for (int i = from + 1; i < to; i++) {
            least = values[i] < values[least] ? i : least;
        }
        long moved = values[from];
        values[from] = values[least];
        values[least] = moved;
    }

    private static long middle(long a, long b, long c) {
        return Math.max(Math.min(a, b), Math.min(Math.max(a, b), c));
    }
}
