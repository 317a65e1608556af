package dev.fiesta.value;

import java.util.Arrays;
import org.jspecify.annotations.Nullable;

/** Numbers: finite doubles without minus zero. */
public final class DoubleColumn extends Column {
    private final double[] values;
    private long @Nullable [] lost;

    /** One value a row. */
    public DoubleColumn(double[] values, int size, long @Nullable [] valid) {
        this(values, size, false, valid);
    }

    DoubleColumn(double[] values, int size, boolean constant, long @Nullable [] valid) {
        super(Type.REAL, size, constant, valid);
        this.values = values;
    }

    /** The values; what stands at a missing row means nothing. */
    public double[] values() {
        return values;
    }

    @Override
    public @Nullable Object get(int row) {
        return isMissing(row) ? null : (Object) values[row & mask()];
    }

    @Override
    public DoubleColumn take(int[] rows, int count) {
        double[] taken = new double[count];
        int mask = mask();
        for (int i = 0; i < count; i++) {
            taken[i] = rows[i] < 0 ? 0 : values[rows[i] & mask];
        }
        return new DoubleColumn(taken, count, Validity.take(this, rows, count));
    }

    @Override
    public Column range(int from, int count) {
        return valid() != null || isConstant()
                ? super.range(from, count)
                : new DoubleColumn(Arrays.copyOfRange(values, from, from + count), count, null);
    }

    @Override
    Column resized(int rows) {
        return isConstant() ? new DoubleColumn(values, rows, true, valid()) : this;
    }

    /**
     * Numbers as a calculation left them: what is not finite becomes missing, minus zero becomes zero.
     *
     * @param values results, changed in place
     * @param valid the rows that had values, or null; not changed
     */
    public static DoubleColumn cleaned(double[] values, int size, long @Nullable [] valid) {
        long[] bits = valid;
        long[] lost = null;
        for (int i = 0; i < size; i++) {
            double clean = values[i] + 0.0;
            values[i] = clean;
            if (!Double.isFinite(clean) && Validity.has(valid, i)) {
                bits = Validity.without(bits == valid && valid != null ? valid.clone() : bits, size, i);
                lost = lost == null ? Bits.none(size) : lost;
                Bits.set(lost, i);
            }
        }
        DoubleColumn column = new DoubleColumn(values, size, bits);
        column.lost = lost;
        return column;
    }

    /** How many of the rows from one to before another had a result that was not finite, as the calculation left it. */
    public long lost(int from, int to) {
        long[] bits = lost;
        long count = 0;
        for (int i = from; bits != null && i < to; i++) {
            count += Bits.get(bits, i) ? 1 : 0;
        }
        return count;
    }
}
