package dev.fiesta.gather;

import dev.fiesta.gather.frames.SlidingColumns;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import org.jspecify.annotations.Nullable;

/** Sums, means and variances of a frame that moves, and parts of its sum: what comes is taken in, what goes is taken away, both exactly. */
final class SlidingMoments extends SlidingColumns {
    private final Type type;
    private final Moments moments;
    private final boolean exactSum;
    private final boolean part;
    private long[] sums = new long[0];

    /**
     * @param part whether the part that the value of each row has in the sum is wanted
     * @param before what is inside already, or null
     */
    SlidingMoments(Moments.Result wanted, Type type, boolean part, @Nullable Moments before) {
        this.type = type;
        this.part = part;
        this.exactSum = wanted == Moments.Result.SUM && type.isExact() && !part;
        this.moments = Moments.fresh(wanted, type);
        if (before != null) {
            moments.merge(before, new int[] {0});
        }
    }

    @Override
    public void own(Column[] values, int rows) {
        super.own(values, rows);
        sums = new long[exactSum ? rows : 0];
    }

    @Override
    public void come(int row) {
        moments.move(coming[0], row, false);
    }

    @Override
    public void go(int row) {
        moments.move(going[0], row, true);
    }

    @Override
    public void look(int row) {
        if (moments.count(0) == 0 || (part && own[0].isMissing(row))) {
            none(row);
        } else if (exactSum) {
            sums[row] = moments.exactSum(0);
        } else {
            numbers[row] = part ? moments.partOf(own[0], row, 0) : moments.number(0);
            if (!part && Double.isNaN(numbers[row])) {
                none(row);
            }
        }
    }

    @Override
    public Column figures() {
        return exactSum ? new LongColumn(type, sums, sums.length, valid) : super.figures();
    }
}
