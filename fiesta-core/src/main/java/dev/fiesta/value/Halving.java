package dev.fiesta.value;

import java.util.function.IntPredicate;

/** Finds a place among what stands in order, by halving. */
public final class Halving {
    private Halving() {}

    /**
     * The first number from one on, and up to another, for which something does not hold any more; the latter where it holds for all.
     *
     * @param holds holds for none behind one for which it does not
     */
    public static int behind(int from, int to, IntPredicate holds) {
        int low = from;
        int high = to;
        while (low < high) {
            int middle = (low + high) >>> 1;
            if (holds.test(middle)) {
                low = middle + 1;
            } else {
                high = middle;
            }
        }
        return low;
    }
}
