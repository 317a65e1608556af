package dev.fiesta.gather;

import dev.fiesta.compute.Types;
import dev.fiesta.gather.frames.Far;
import dev.fiesta.gather.frames.Sliding;
import dev.fiesta.gather.frames.SlidingColumns;
import dev.fiesta.gather.values.Grow;
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
import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Correlation and weighted mean, from exact sums of both sides and of their products; rounded once. */
final class Pairs implements Accumulator {
    private static final int WINDOW = 10;

    private final boolean correlation;
    private final Type first;
    private final boolean exact;
    private final WideSums[] sums = new WideSums[5];
    private long[] counts = new long[0];

    /** @param correlation whether the correlation is wanted, else the mean of the first weighted by the second */
    Pairs(boolean correlation, Type first, Type second) {
        this.correlation = correlation;
        this.first = first;
        this.exact = first.isExact() && second.isExact();
        for (int i = 0; i < sums.length; i++) {
            sums[i] = new WideSums(WINDOW);
        }
    }

    static List<GatherFunction> functions() {
        return List.of(
                function(
                        "correlation(x, y)",
                        "How far x and y go together, -1 to 1.",
                        "correlation(takings, takings)",
                        "1",
                        true),
                function(
                        "weighted_mean(x, w)",
                        "The mean of x weighted by w.",
                        "weighted_mean(takings, takings)",
                        "34",
                        false));
    }

    private static GatherFunction function(
            String usage, String about, String example, String result, boolean correlation) {
        String name = usage.substring(0, usage.indexOf('('));
        return GatherFunction.of(name, usage, about, example, result, args -> {
            args.expectCount(2, 2, usage);
            args.expectNumeric(0, "numbers are needed");
            args.expectNumeric(1, "numbers are needed");
            Type first = args.type(0);
            Type second = args.type(1);
            return new GatherFunction.Bound(Type.REAL, () -> new Pairs(correlation, first, second))
                    .carryingOn((frames, values, before) -> Sliding.over(
                            frames, values, new InFrame(new Pairs(correlation, first, second), (Pairs) before)))
                    .far(Far.of(() -> new InFrame(new Pairs(correlation, first, second), null)));
        });
    }

    @Override
    public void grow(int groups) {
        counts = Grow.to(counts, groups);
        for (WideSums sum : sums) {
            sum.grow(groups);
        }
    }

    @Override
    public void add(int[] groups, Column[] args, int rows, long order) {
        Column x = side(args[0]);
        Column y = side(args[1]);
        for (int i = 0; i < rows; i++) {
            add(groups[i], x, y, i, false);
        }
    }

    private Column side(Column arg) {
        return exact ? arg : Types.toNumber(arg);
    }

    /** Takes a row in, or takes it away again. */
    private void add(int group, Column x, Column y, int row, boolean away) {
        if (x.isMissing(row) || y.isMissing(row)) {
            return;
        }
        counts[group] += away ? -1 : 1;
        if (exact) {
            addExact(group, ((LongColumn) x).values()[row], ((LongColumn) y).values()[row], away);
        } else {
            addNumbers(group, ((DoubleColumn) x).values()[row], ((DoubleColumn) y).values()[row], away);
        }
    }

    /** That of a frame that moves. */
    private static final class InFrame extends SlidingColumns {
        private final Pairs inside;

        InFrame(Pairs inside, @Nullable Pairs before) {
            this.inside = inside;
            inside.grow(1);
            if (before != null) {
                inside.merge(before, new int[1]);
            }
        }

        @Override
        public void coming(Column[] values) {
            super.coming(sides(values));
        }

        @Override
        public void going(Column[] values) {
            super.going(sides(values));
        }

        private Column[] sides(Column[] values) {
            return new Column[] {inside.side(values[0]), inside.side(values[1])};
        }

        @Override
        public void come(int row) {
            inside.add(0, coming[0], coming[1], row, false);
        }

        @Override
        public void go(int row) {
            inside.add(0, going[0], going[1], row, true);
        }

        @Override
        public void look(int row) {
            numbers[row] = inside.figure(0);
            if (Double.isNaN(numbers[row])) {
                none(row);
            }
        }
    }

    private void addExact(int group, long x, long y, boolean away) {
        sums[0].addProduct(group, x, y, away);
        sums[1].addProduct(group, y, 1L, away);
        if (correlation) {
            sums[2].addProduct(group, x, 1L, away);
            sums[3].addProduct(group, x, x, away);
            sums[4].addProduct(group, y, y, away);
        }
    }

    private void addNumbers(int group, double x, double y, boolean away) {
        sums[0].addProduct(group, x, y, away);
        sums[1].add(group, y, away);
        if (correlation) {
            sums[2].add(group, x, away);
            sums[3].addProduct(group, x, x, away);
            sums[4].addProduct(group, y, y, away);
        }
    }

    @Override
    public void merge(Accumulator other, int[] into) {
        Pairs theirs = (Pairs) other;
        for (int i = 0; i < sums.length; i++) {
            sums[i].merge(theirs.sums[i], into);
        }
        for (int i = 0; i < into.length; i++) {
            counts[Math.max(0, into[i])] += into[i] < 0 ? 0 : theirs.counts[i];
        }
    }

    @Override
    public Column finish(int groups) {
        double[] out = new double[groups];
        for (int g = 0; g < groups; g++) {
            out[g] = figure(g);
        }
        return column(out);
    }

    private static Column column(double[] figures) {
        long[] valid = null;
        for (int i = 0; i < figures.length; i++) {
            if (Double.isNaN(figures[i])) {
                valid = Validity.without(valid, figures.length, i);
            }
        }
        return DoubleColumn.cleaned(figures, figures.length, valid);
    }

    /** The figure of a group, NaN when there is none. */
    private double figure(int group) {
        return counts[group] == 0 ? Double.NaN : correlation ? correlation(group) : weightedMean(group);
    }

    private double weightedMean(int group) {
        BigInteger unit = exact ? BigInteger.TEN.pow(first.scale()) : BigInteger.ONE;
        return Exact.quotient(sums[0].exact(group), sums[1].exact(group).multiply(unit));
    }

    /** That of both sides as multiples of what all their sums are multiples of: numbers that fill a hundred bits, not thousands. */
    private double correlation(int group) {
        BigInteger n = BigInteger.valueOf(counts[group]);
        BigInteger[] sum = new BigInteger[sums.length];
        Arrays.setAll(sum, i -> sums[i].exact(group));
        if (sum[3].signum() == 0 || sum[4].signum() == 0) {
            return Double.NaN;
        }
        int ofY = Math.min(zeros(sum[1]), zerosOfRoot(sum[4]));
        int ofX = Math.min(zeros(sum[2]), zerosOfRoot(sum[3]));
        ofX = Math.min(ofX, Math.max(0, zeros(sum[0]) - WideSums.LEAST_EXPONENT - ofY));
        ofY = Math.min(ofY, zeros(sum[0]) - WideSums.LEAST_EXPONENT - ofX);
        BigInteger y = sum[1].shiftRight(ofY);
        BigInteger x = sum[2].shiftRight(ofX);
        BigInteger both = spread(n, sum[0], ofX + ofY, x, y);
        BigInteger below = spread(n, sum[3], 2 * ofX, x, x).multiply(spread(n, sum[4], 2 * ofY, y, y));
        return below.signum() == 0 ? Double.NaN : both.signum() * Exact.root(both.multiply(both), below);
    }

    private static int zeros(BigInteger sum) {
        return sum.signum() == 0 ? Integer.MAX_VALUE / 4 : sum.getLowestSetBit();
    }

    private static int zerosOfRoot(BigInteger sum) {
        return (zeros(sum) - WideSums.LEAST_EXPONENT) / 2;
    }

    /** n Σab − Σa Σb, where the last two lack so many zeros together. */
    private static BigInteger spread(BigInteger n, BigInteger products, int zeros, BigInteger a, BigInteger b) {
        return n.multiply(products.shiftLeft(-WideSums.LEAST_EXPONENT - zeros)).subtract(a.multiply(b));
    }

    @Override
    public long memory() {
        return 8L * counts.length
                + Arrays.stream(sums).mapToLong(WideSums::memory).sum();
    }

    @Override
    public void write(int group, DataOutput out) throws IOException {
        out.writeLong(counts[group]);
        for (WideSums sum : sums) {
            sum.write(group, out);
        }
    }

    @Override
    public void read(int group, DataInput in) throws IOException {
        counts[group] += in.readLong();
        for (WideSums sum : sums) {
            sum.read(group, in);
        }
    }
}
