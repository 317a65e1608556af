package dev.fiesta.gather;

import dev.fiesta.gather.frames.Far;
import dev.fiesta.gather.frames.Sliding;
import dev.fiesta.gather.frames.SlidingColumns;
import dev.fiesta.gather.values.Grow;
import dev.fiesta.gather.values.Logarithms;
import dev.fiesta.gather.values.WideSums;
import dev.fiesta.value.Column;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.Exact;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import dev.fiesta.value.Validity;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.math.BigInteger;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * The n-th root of the product of n values: e to the mean of their logarithms. These are taken to about 100 bits and their sum is
 * exact, so that the order of rows does not matter and the result is rounded once. Of a value below 0 there is no such mean.
 */
final class GeometricMean implements Accumulator {
    private static final int WINDOW = 8;

    private final Type type;
    private final Logarithms logarithms = new Logarithms();
    private final WideSums sums = new WideSums(WINDOW);
    private long[] counts = new long[0];
    private long[] zeros = new long[0];
    private long[] negatives = new long[0];

    /** @param type type of the argument */
    private GeometricMean(Type type) {
        this.type = type;
    }

    static List<GatherFunction> functions() {
        return List.of(GatherFunction.of(
                "geometric_mean",
                "geometric_mean(x)",
                "The n-th root of the product of n values, the mean of rates of growth; values below 0 have none.",
                "geometric_mean(takings)",
                "21.147425268811283",
                args -> {
                    args.expectCount(1, 1, "geometric_mean(x)");
                    Type type = GatherFunctions.numeric(args, "geometric_mean(x)");
                    return new GatherFunction.Bound(Type.REAL, () -> new GeometricMean(type))
                            .carryingOn((frames, values, before) ->
                                    Sliding.over(frames, values, new InFrame(type, (GeometricMean) before)))
                            .far(Far.of(() -> new InFrame(type, null)));
                }));
    }

    /** That of a frame that moves. */
    private static final class InFrame extends SlidingColumns {
        private final GeometricMean inside;

        InFrame(Type type, @Nullable GeometricMean before) {
            inside = new GeometricMean(type);
            inside.grow(1);
            if (before != null) {
                inside.merge(before, new int[1]);
            }
        }

        @Override
        public void come(int row) {
            inside.add(0, coming[0], row, false);
        }

        @Override
        public void go(int row) {
            inside.add(0, going[0], row, true);
        }

        @Override
        public void look(int row) {
            numbers[row] = inside.figure(0);
            if (inside.counts[0] == 0) {
                none(row);
            }
        }
    }

    @Override
    public void grow(int groups) {
        counts = Grow.to(counts, groups);
        zeros = Grow.to(zeros, groups);
        negatives = Grow.to(negatives, groups);
        sums.grow(groups);
    }

    @Override
    public void add(int[] groups, Column[] args, int rows, long order) {
        for (int i = 0; i < rows; i++) {
            add(groups[i], args[0], i, false);
        }
    }

    /** Takes a row in, or takes it away again. */
    private void add(int group, Column column, int row, boolean away) {
        if (column.isMissing(row)) {
            return;
        }
        int by = away ? -1 : 1;
        counts[group] += by;
        long exact = column instanceof LongColumn longs ? longs.values()[row] : 0;
        double value = column instanceof DoubleColumn numbers ? numbers.values()[row] : (double) exact;
        if (value <= 0) {
            (value == 0 ? zeros : negatives)[group] += by;
            return;
        }
        logarithms.ln(value);
        sums.add(group, logarithms.high(), away);
        sums.add(group, logarithms.low(), away);
        if (column instanceof LongColumn) {
            // A whole number beyond 53 bits: ln(value + rest) is ln(value) + rest / value as far as anybody sees.
            sums.add(group, (exact - (long) value) / value, away);
        }
    }

    @Override
    public void merge(Accumulator other, int[] into) {
        GeometricMean theirs = (GeometricMean) other;
        sums.merge(theirs.sums, into);
        for (int i = 0; i < into.length; i++) {
            if (into[i] >= 0) {
                counts[into[i]] += theirs.counts[i];
                zeros[into[i]] += theirs.zeros[i];
                negatives[into[i]] += theirs.negatives[i];
            }
        }
    }

    @Override
    public Column finish(int groups) {
        double[] out = new double[groups];
        long[] valid = null;
        for (int i = 0; i < groups; i++) {
            out[i] = figure(i);
            if (counts[i] == 0) {
                valid = Validity.without(valid, groups, i);
            }
        }
        return DoubleColumn.cleaned(out, groups, valid);
    }

    /** The figure of a group; NaN where there is none. */
    private double figure(int group) {
        if (counts[group] == 0 || negatives[group] > 0) {
            return Double.NaN;
        }
        if (zeros[group] > 0) {
            return 0;
        }
        BigInteger count = BigInteger.valueOf(counts[group]).shiftLeft(-WideSums.LEAST_EXPONENT);
        BigInteger sum = sums.exact(group);
        double mean = Exact.quotient(sum, count);
        WideSums near = new WideSums(WINDOW);
        near.grow(1);
        near.add(0, mean, false);
        BigInteger far = sum.subtract(near.exact(0).multiply(BigInteger.valueOf(counts[group])));
        double rest = Exact.quotient(far, count);
        double unit = type.scale() * Logarithms.LN10;
        double unitRest = Math.fma(type.scale(), Logarithms.LN10, -unit) + type.scale() * Logarithms.LN10_REST;
        double high = mean - unit;
        double back = high - mean;
        return logarithms.exp(high, (mean - (high - back)) + (-unit - back) + rest - unitRest);
    }

    @Override
    public long memory() {
        return sums.memory() + 8L * (counts.length + zeros.length + negatives.length);
    }

    @Override
    public void write(int group, DataOutput out) throws IOException {
        sums.write(group, out);
        out.writeLong(counts[group]);
        out.writeLong(zeros[group]);
        out.writeLong(negatives[group]);
    }

    @Override
    public void read(int group, DataInput in) throws IOException {
        sums.read(group, in);
        counts[group] += in.readLong();
        zeros[group] += in.readLong();
        negatives[group] += in.readLong();
    }
}
