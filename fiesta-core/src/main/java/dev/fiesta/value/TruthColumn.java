package dev.fiesta.value;

import org.jspecify.annotations.Nullable;

/** True or false as bits; the bit of a missing row is not set. */
public final class TruthColumn extends Column {
    private final long[] bits;

    /**
     * One bit a row.
     *
     * @param bits set where true; never set where missing
     */
    public TruthColumn(long[] bits, int size, long @Nullable [] valid) {
        this(bits, size, false, valid);
    }

    TruthColumn(long[] bits, int size, boolean constant, long @Nullable [] valid) {
        super(Type.TRUTH, size, constant, valid);
        this.bits = bits;
    }

    /** The rows that are true. */
    public long[] bits() {
        return bits;
    }

    public boolean isTrue(int row) {
        return Bits.get(bits, row & mask());
    }

    @Override
    public @Nullable Object get(int row) {
        return isMissing(row) ? null : (Object) isTrue(row);
    }

    @Override
    public TruthColumn take(int[] rows, int count) {
        long[] taken = Bits.none(count);
        for (int i = 0; i < count; i++) {
            if (rows[i] >= 0 && isTrue(rows[i])) {
                Bits.set(taken, i);
            }
        }
        return new TruthColumn(taken, count, Validity.take(this, rows, count));
    }

    @Override
    Column resized(int rows) {
        return isConstant() ? new TruthColumn(bits, rows, true, valid()) : this;
    }
}
