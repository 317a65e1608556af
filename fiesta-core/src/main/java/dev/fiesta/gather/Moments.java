package dev.fiesta.gather;

import dev.fiesta.gather.values.Grow;
import dev.fiesta.gather.values.LongSums;
import dev.fiesta.gather.values.WideSums;
import dev.fiesta.value.Bits;
import dev.fiesta.value.Column;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.Exact;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import dev.fiesta.value.Validity;
import dev.fiesta.value.Values;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.math.BigDecimal;
import java.math.BigInteger;
import org.jspecify.annotations.Nullable;

/**
 * Sum, mean, variance and standard deviation. Sums of values and of squares are exact at all times; only the result is rounded,
 * once: (n Σx² − (Σx)²) / (n (n − 1)) is formed from whole numbers.
 */
final class Moments implements Part {
    /** What comes out. */
    enum Result {
        SUM,
        MEAN,
        VARIANCE,
        STDDEV,
        VARIANCE_POP,
        STDDEV_POP
    }

    private static final int SUM_WINDOW = 6;
    private static final int SQUARE_WINDOW = 10;

    private final Result result;
    private final Type type;
    private final @Nullable Moments shown;
    private final LongSums longs;
    private final WideSums numbers;
    private final WideSums squares;
    private long[] counts = new long[0];

    /** @param type type of the argument */
    Moments(Result result, Type type) {
        this.result = result;
        this.type = type;
        this.shown = null;
        this.longs = new LongSums();
        this.numbers = new WideSums(SUM_WINDOW);
        this.squares = new WideSums(SQUARE_WINDOW);
    }

    private Moments(Result result, Moments shown) {
        this.result = result;
        this.type = shown.type;
        this.shown = shown;
        this.longs = shown.longs;
        this.numbers = shown.numbers;
        this.squares = shown.squares;
    }

    /** One group of its own. */
    static Moments fresh(Result wanted, Type type) {
        Moments moments = new Moments(wanted, type);
        moments.grow(1);
        return moments;
    }

    @Override
    public boolean mayView(Accumulator other) {
        return other instanceof Moments moments && moments.type.equals(type) && (moments.squared() || !squared());
    }

    @Override
    public Accumulator view(Accumulator other) {
        return new Moments(result, (Moments) other);
    }

    @Override
    public boolean isView() {
        return shown != null;
    }

    private boolean exact() {
        return type.isExact();
    }

    private boolean squared() {
        return result.ordinal() >= Result.VARIANCE.ordinal();
    }

    @Override
    public void grow(int groups) {
        if (shown != null) {
            shown.grow(groups);
            return;
        }
        if (exact()) {
            longs.grow(groups);
        } else {
            numbers.grow(groups);
            counts = Grow.to(counts, groups);
        }
        if (squared()) {
            squares.grow(groups);
        }
    }

    @Override
    public void add(int[] groups, Column[] args, int rows, long order) {
        if (exact()) {
            longs.add(groups, (LongColumn) args[0], rows);
        } else {
            addNumbers(groups, (DoubleColumn) args[0], rows);
        }
        if (squared()) {
            addSquares(groups, args[0], rows);
        }
    }

    private void addNumbers(int[] groups, DoubleColumn column, int rows) {
        double[] values = column.values();
        long[] valid = column.valid();
        for (int i = 0; i < rows; i++) {
            if (valid == null || Bits.get(valid, i)) {
                numbers.add(groups[i], values[i], false);
                counts[groups[i]]++;
            }
        }
    }

    private void addSquares(int[] groups, Column column, int rows) {
        for (int i = 0; i < rows; i++) {
            if (!column.isMissing(i)) {
                square(groups[i], column, i, false);
            }
        }
    }

    private void square(int group, Column column, int row, boolean away) {
        if (column instanceof LongColumn exact) {
            long value = exact.values()[row];
            squares.addProduct(group, value, value, away);
        } else {
            double value = ((DoubleColumn) column).values()[row];
            squares.addProduct(group, value, value, away);
        }
    }

    /** Takes a row into the only group, or takes it away again. */
    void move(Column column, int row, boolean away) {
        if (column.isMissing(row)) {
            return;
        }
        if (column instanceof LongColumn exact) {
            long value = exact.values()[row];
            if (away) {
                longs.addOne(0, -value);
                longs.uncount(0);
            } else {
                longs.addOne(0, value);
            }
        } else {
            numbers.add(0, ((DoubleColumn) column).values()[row], away);
            counts[0] += away ? -1 : 1;
        }
        if (squared()) {
            square(0, column, row, away);
        }
    }

    @Override
    public void merge(Accumulator other, int[] into) {
        if (isView()) {
            return;
        }
        Moments theirs = (Moments) other;
        if (exact()) {
            longs.merge(theirs.longs, into);
        } else {
            numbers.merge(theirs.numbers, into);
            for (int i = 0; i < into.length; i++) {
                counts[Math.max(0, into[i])] += into[i] < 0 ? 0 : theirs.count(i);
            }
        }
        if (squared()) {
            squares.merge(theirs.squares, into);
        }
    }

    /** The number of values in a group. */
    long count(int group) {
        return exact() ? longs.count(group) : (shown == null ? counts : shown.counts)[group];
    }

    @Override
    public Column finish(int groups) {
        return result == Result.SUM && exact() ? exactSums(groups) : numbers(groups);
    }

    private Column exactSums(int groups) {
        long[] sums = new long[groups];
        long[] valid = null;
        for (int i = 0; i < groups; i++) {
            if (longs.count(i) == 0) {
                valid = Validity.without(valid, groups, i);
            } else {
                sums[i] = exactSum(i);
            }
        }
        return new LongColumn(type, sums, groups, valid);
    }

    /** The sum of a group of exact values. */
    long exactSum(int group) {
        long sum = longs.sum(group);
        boolean fits =
                longs.fits(group) && (type.equals(Type.INTEGER) || (sum > -Values.power(18) && sum < Values.power(18)));
        if (!fits) {
            throw new dev.fiesta.compute.Fault(
                    "The sum " + new BigDecimal(longs.exact(group), type.scale()).toPlainString() + " does not fit "
                            + type.withArticle() + ".",
                    null,
                    "Exact values have at most 18 digits; add numbers instead: sum(real(…)).");
        }
        return sum;
    }

    private Column numbers(int groups) {
        double[] values = new double[groups];
        long[] valid = null;
        for (int i = 0; i < groups; i++) {
            values[i] = number(i);
            if (Double.isNaN(values[i])) {
                valid = Validity.without(valid, groups, i);
            }
        }
        return DoubleColumn.cleaned(values, groups, valid);
    }

    /** The result of a group as a double, NaN when missing. */
    double number(int group) {
        long n = count(group);
        boolean sample = result == Result.VARIANCE || result == Result.STDDEV;
        if (n == 0 || (sample && n == 1)) {
            return Double.NaN;
        }
        return switch (result) {
            case SUM -> Exact.scaled(numbers.exact(group), WideSums.LEAST_EXPONENT);
            case MEAN -> mean(group, n);
            default -> spread(group, n, sample);
        };
    }

    private double mean(int group, long n) {
        if (exact()) {
            long unit = Values.power(type.scale());
            boolean plain = longs.fits(group) && Math.multiplyHigh(n, unit) == 0 && n * unit > 0;
            return plain
                    ? Exact.quotient(longs.sum(group), n * unit)
                    : Exact.quotient(longs.exact(group), BigInteger.valueOf(n).multiply(BigInteger.valueOf(unit)));
        }
        return Exact.quotient(numbers.exact(group), BigInteger.valueOf(n).shiftLeft(-WideSums.LEAST_EXPONENT));
    }

    private double spread(int group, long n, boolean sample) {
        BigInteger count = BigInteger.valueOf(n);
        BigInteger sum = exact() ? longs.exact(group) : numbers.exact(group);
        BigInteger ofSquares = exact() ? squares.exact(group, 0) : squares.exact(group);
        BigInteger below = count.multiply(sample ? count.subtract(BigInteger.ONE) : count);
        BigInteger above;
        if (exact()) {
            above = count.multiply(ofSquares).subtract(sum.multiply(sum));
            below = below.multiply(BigInteger.TEN.pow(2 * type.scale()));
        } else {
            int zeros = Math.min(
                    sum.signum() == 0 ? Integer.MAX_VALUE : sum.getLowestSetBit(),
                    ofSquares.signum() == 0
                            ? Integer.MAX_VALUE
                            : (ofSquares.getLowestSetBit() - WideSums.LEAST_EXPONENT) / 2);
            if (zeros == Integer.MAX_VALUE) {
                return 0;
            }
            BigInteger part = sum.shiftRight(zeros);
            int unit = 2 * (zeros + WideSums.LEAST_EXPONENT);
            above = count.multiply(ofSquares.shiftRight(unit - WideSums.LEAST_EXPONENT))
                    .subtract(part.multiply(part));
            above = unit > 0 ? above.shiftLeft(unit) : above;
            below = unit < 0 ? below.shiftLeft(-unit) : below;
        }
        boolean root = result == Result.STDDEV || result == Result.STDDEV_POP;
        return root ? Exact.root(above, below) : Exact.quotient(above, below);
    }

    @Override
    public Column ofWider(Accumulator whole, int from, int[] into) {
        Moments wider = (Moments) whole;
        double[] out = new double[into.length];
        long[] valid = null;
        for (int i = 0; i < into.length; i++) {
            if (count(from + i) == 0 || wider.count(into[i]) == 0) {
                valid = Validity.without(valid, into.length, i);
            } else {
                out[i] = exact()
                        ? Exact.quotient(longs.exact(from + i), wider.longs.exact(into[i]))
                        : Exact.quotient(numbers.exact(from + i), wider.numbers.exact(into[i]));
            }
        }
        return DoubleColumn.cleaned(out, into.length, valid);
    }

    @Override
    public Column ofRows(Column values, int[] group) {
        double[] out = new double[group.length];
        long[] valid = null;
        for (int i = 0; i < out.length; i++) {
            if (values.isMissing(i) || count(group[i]) == 0) {
                valid = Validity.without(valid, out.length, i);
            } else {
                out[i] = partOf(values, i, group[i]);
            }
        }
        return DoubleColumn.cleaned(out, out.length, valid);
    }

    /** A value over the sum of a group, rounded once. */
    double partOf(Column values, int row, int group) {
        if (values instanceof LongColumn exact) {
            return Exact.quotient(BigInteger.valueOf(exact.values()[row]), longs.exact(group));
        }
        WideSums one = new WideSums(SUM_WINDOW);
        one.grow(1);
        one.add(0, ((DoubleColumn) values).values()[row], false);
        return Exact.quotient(one.exact(0), numbers.exact(group));
    }

    @Override
    public long memory() {
        return isView() ? 0 : longs.memory() + numbers.memory() + squares.memory() + 8L * counts.length;
    }

    @Override
    public void write(int group, DataOutput out) throws IOException {
        if (isView()) {
            return;
        }
        if (exact()) {
            longs.write(group, out);
        } else {
            numbers.write(group, out);
            out.writeLong(counts[group]);
        }
        if (squared()) {
            squares.write(group, out);
        }
    }

    @Override
    public void read(int group, DataInput in) throws IOException {
        if (isView()) {
            return;
        }
        if (exact()) {
            longs.read(group, in);
        } else {
            numbers.read(group, in);
            counts[group] += in.readLong();
        }
        if (squared()) {
            squares.read(group, in);
        }
    }
}
