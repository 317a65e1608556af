package dev.fiesta.gather.frames;

import dev.fiesta.gather.values.RankRuns;
import dev.fiesta.gather.values.Shelf;
import dev.fiesta.value.Bits;
import dev.fiesta.value.Column;

/**
 * The most frequent value of a frame, the least of several. How often a value is inside is counted in as many bits as it has ranks, which
 * is room enough; of some ranks together the highest count is known, as the leaves of a tree that leads to it.
 */
public final class SlidingMode extends SlidingImages {
    /** Ranks that are looked at together, as a power of two. */
    private static final int TOGETHER_BITS = 7;

    private final RankRuns runs;
    private final long[] counts;
    private final int leaves;
    private final int[] most;
    private int winner = -1;
    private long winning;

    public SlidingMode(Shelf.Pages all) {
        super(all.page(0).type());
        this.runs = new RankRuns(all);
        this.counts = Bits.none(runs.count() + Long.SIZE);
        this.leaves = Integer.highestOneBit(Math.max(1, 2 * ((runs.count() >> TOGETHER_BITS) + 1) - 1));
        this.most = new int[2 * leaves];
    }

    @Override
    public void own(Column[] values, int rows) {
        super.own(values, rows);
        winner = -1; // its image is another now
    }

    @Override
    public void come(int row) {
        move(SlidingRanks.rank(coming, row), 1);
    }

    @Override
    public void go(int row) {
        move(SlidingRanks.rank(going, row), -1);
    }

    private void move(int rank, int by) {
        int first = runs.begin(rank);
        int width = width(first);
        int count = count(first, width) + by;
        note(first, width, count);
        int leaf = first >> TOGETHER_BITS;
        int before = most[leaves + leaf];
        int now = by > 0 ? Math.max(before, count) : count + 1 < before ? before : highest(leaf);
        most[leaves + leaf] = now;
        for (int node = (leaves + leaf) / 2; node > 0; node /= 2) {
            most[node] = Math.max(most[2 * node], most[2 * node + 1]);
        }
    }

    /** The bits of a count: no more than its value has ranks. */
    private int width(int first) {
        return runs.next(first + 1, Math.min(runs.count(), first + Integer.SIZE - 1)) - first;
    }

    private int count(int first, int width) {
        int bit = first & Long.SIZE - 1;
        long bits = counts[first >> 6] >>> bit;
        if (bit + width > Long.SIZE) {
            bits |= counts[(first >> 6) + 1] << Long.SIZE - bit;
        }
        return (int) (bits & (1L << width) - 1);
    }

    private void note(int first, int width, int count) {
        int bit = first & Long.SIZE - 1;
        int word = first >> 6;
        long mask = (1L << width) - 1;
        counts[word] = counts[word] & ~(mask << bit) | (long) count << bit;
        if (bit + width > Long.SIZE) {
            int over = Long.SIZE - bit;
            counts[word + 1] = counts[word + 1] & ~(mask >>> over) | (long) count >>> over;
        }
    }

    /** The highest count of values that begin among some ranks. */
    private int highest(int leaf) {
        int highest = 0;
        int end = end(leaf);
        for (int first = runs.next(leaf << TOGETHER_BITS, end); first < end; first = runs.next(first + 1, end)) {
            highest = Math.max(highest, count(first, width(first)));
        }
        return highest;
    }

    private int end(int leaf) {
        return Math.min(runs.count(), leaf + 1 << TOGETHER_BITS);
    }

    @Override
    public void look(int row) {
        if (most[1] == 0) {
            none(row);
            return;
        }
        int node = 1;
        while (node < leaves) {
            node = most[2 * node] == most[node] ? 2 * node : 2 * node + 1;
        }
        int first = first(node - leaves, most[1]);
        if (first != winner) {
            winner = first;
            winning = image.of(runs.value(first))[0];
        }
        noted[row] = winning;
    }

    /** The first value among some ranks that has a count. */
    private int first(int leaf, int count) {
        int end = end(leaf);
        int first = runs.next(leaf << TOGETHER_BITS, end);
        while (count(first, width(first)) != count) {
            first = runs.next(first + 1, end);
        }
        return first;
    }
}
