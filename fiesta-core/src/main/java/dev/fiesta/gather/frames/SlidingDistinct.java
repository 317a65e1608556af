package dev.fiesta.gather.frames;

import dev.fiesta.gather.values.RankRuns;
import dev.fiesta.gather.values.Shelf;
import dev.fiesta.value.Bits;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;

/**
 * How many different values a frame holds. Of equal values those inside have ranks side by side, as rows come and go in their order: the
 * first of them to come counts, and the last to go.
 */
public final class SlidingDistinct extends SlidingColumns {
    private final RankRuns runs;
    private final long[] inside;
    private long different;
    private long[] counts = new long[0];

    public SlidingDistinct(Shelf.Pages all) {
        this.runs = new RankRuns(all);
        this.inside = Bits.none(runs.count() + 1);
    }

    @Override
    public void own(Column[] values, int rows) {
        counts = new long[rows];
    }

    @Override
    public void come(int row) {
        int rank = SlidingRanks.rank(coming, row);
        different += isAlone(rank) ? 1 : 0;
        Bits.set(inside, rank);
    }

    @Override
    public void go(int row) {
        int rank = SlidingRanks.rank(going, row);
        Bits.clear(inside, rank);
        different -= isAlone(rank) ? 1 : 0;
    }

    private boolean isAlone(int rank) {
        boolean before = !runs.begins(rank) && Bits.get(inside, rank - 1);
        boolean behind = !runs.begins(rank + 1) && Bits.get(inside, rank + 1);
        return !before && !behind;
    }

    @Override
    public void look(int row) {
        counts[row] = different;
    }

    @Override
    public Column figures() {
        return new LongColumn(Type.INTEGER, counts, counts.length, null);
    }
}
