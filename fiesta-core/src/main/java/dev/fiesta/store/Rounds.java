package dev.fiesta.store;

import java.util.ArrayList;
import java.util.List;
import java.util.function.Function;
import java.util.function.ToLongFunction;

/**
 * Merges runs until so few are left that a block of each fits into memory. Runs that stand side by side are merged, so that what is
 * equal stays in the order of the runs.
 */
public final class Rounds {
    /** The blocks of runs that are merged may take this part of the memory. */
    private static final int PART = 4;

    private static final int FEWEST = 8;

    private Rounds() {}

    /**
     * Few enough runs to be merged at once.
     *
     * @param block about the bytes that a block of a run takes in memory
     * @param merge makes one run of several
     */
    public static <R> List<R> few(List<R> runs, ToLongFunction<R> block, Memory memory, Function<List<R>, R> merge) {
        List<R> left = new ArrayList<>(runs);
        for (int from = 0, most = most(left, block, memory); left.size() > most; from++) {
            from = from + 1 < left.size() ? from : 0;
            int many = Math.min(Math.min(most, left.size() - from), left.size() - most + 1);
            List<R> some = left.subList(from, from + many);
            R one = merge.apply(List.copyOf(some));
            some.clear();
            left.add(from, one);
        }
        return left;
    }

    private static <R> int most(List<R> runs, ToLongFunction<R> block, Memory memory) {
        long largest = runs.stream().mapToLong(block).max().orElse(1);
        return (int) Math.max(FEWEST, Math.min(runs.size(), memory.limit() / PART / Math.max(1, largest)));
    }
}
