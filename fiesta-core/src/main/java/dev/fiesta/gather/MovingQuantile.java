package dev.fiesta.gather;

import dev.fiesta.value.Column;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.Type;
import dev.fiesta.value.Validity;
import java.math.BigDecimal;
import java.util.Arrays;

/** Counts of values by rank in a tree of sums, so that a value enters, leaves and is found in steps of the tree's height. */
final class MovingQuantile {
    private final Column column;
    private final BigDecimal part;
    private final long[] values;
    private final int[] ranks;
    private final int[] tree;
    private int count;

    private MovingQuantile(Column column, BigDecimal part) {
        this.column = column;
        this.part = part;
        long[] images = new Image(column.type()).of(column);
        long[] sorted = new long[images.length];
        int present = 0;
        for (int i = 0; i < images.length; i++) {
            if (!column.isMissing(i)) {
                sorted[present++] = images[i];
            }
        }
        Arrays.sort(sorted, 0, present);
        int different = 0;
        for (int i = 0; i < present; i++) {
            if (i == 0 || sorted[i] != sorted[i - 1]) {
                sorted[different++] = sorted[i];
            }
        }
        values = Arrays.copyOf(sorted, different);
        ranks = new int[images.length];
        for (int i = 0; i < images.length; i++) {
            ranks[i] = column.isMissing(i) ? -1 : Arrays.binarySearch(values, images[i]);
        }
        tree = new int[different + 1];
    }

    /** The quantiles of frames that move with the row. */
    static Column over(Frames frames, Column x, BigDecimal part) {
        int size = frames.size();
        MovingQuantile moving = new MovingQuantile(x, part);
        double[] out = new double[size];
        long[] valid = null;
        int[] firsts = frames.from();
        int[] behind = frames.to();
        int from = 0;
        int to = 0;
        for (int i = 0; i < size; i++) {
            if (firsts[i] >= to || firsts[i] < from || behind[i] < to) {
                for (; from < to; from++) {
                    moving.move(from, -1);
                }
                from = firsts[i];
                to = from;
            }
            for (; to < behind[i]; to++) {
                moving.move(to, 1);
            }
            for (; from < firsts[i]; from++) {
                moving.move(from, -1);
            }
            if (moving.count == 0) {
                valid = Validity.without(valid, size, i);
            } else {
                out[i] = moving.quantile();
            }
        }
        return DoubleColumn.cleaned(out, size, valid);
    }

    private void move(int position, int by) {
        if (ranks[position] < 0) {
            return;
        }
        count += by;
        for (int i = ranks[position] + 1; i < tree.length; i += i & -i) {
            tree[i] += by;
        }
    }

    private double quantile() {
        QuantilePosition at = QuantilePosition.of(part, count);
        long low = value(at.below());
        long high = at.below() + 1 < count ? value(at.below() + 1) : low;
        Type type = column.type();
        return at.between(type, low, high);
    }

    /** The k-th value inside, from 0. */
    private long value(int k) {
        int left = k;
        int at = 0;
        for (int step = Integer.highestOneBit(tree.length); step > 0; step >>= 1) {
            if (at + step < tree.length && tree[at + step] <= left) {
                at += step;
                left -= tree[at];
            }
        }
        return values[at];
    }
}
