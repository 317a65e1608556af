package dev.fiesta.gather.frames;

import dev.fiesta.gather.values.RankRuns;
import dev.fiesta.gather.values.Shelf;
import java.util.Arrays;

/** The most frequent value of a frame: how often each is inside, as the leaves of a tree that leads to it, the least of several. */
public final class SlidingMode extends SlidingImages {
    private final RankRuns runs;
    /** For each different value the first of its ranks. */
    private final int[] firsts;

    private final int leaves;
    private final int[] most;
    private int winner = -1;
    private long winning;

    public SlidingMode(Shelf.Pages all) {
        super(all.page(0).type());
        this.runs = new RankRuns(all);
        this.firsts = new int[runs.different()];
        int next = 0;
        for (int rank = 0; rank < runs.count(); rank++) {
            if (runs.begins(rank)) {
                firsts[next++] = rank;
            }
        }
        this.leaves = Integer.highestOneBit(Math.max(1, 2 * firsts.length - 1));
        this.most = new int[2 * leaves];
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
        int found = Arrays.binarySearch(firsts, rank);
        int value = found < 0 ? -found - 2 : found;
        most[leaves + value] += by;
        for (int node = (leaves + value) / 2; node > 0; node /= 2) {
            most[node] = Math.max(most[2 * node], most[2 * node + 1]);
        }
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
        int value = node - leaves;
        if (value != winner) {
            winner = value;
            winning = image.of(runs.value(firsts[value]))[0];
        }
        noted[row] = winning;
    }
}
