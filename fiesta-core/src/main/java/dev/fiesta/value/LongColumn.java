package dev.fiesta.value;

import java.util.Arrays;
import org.jspecify.annotations.Nullable;

/** Integers, scaled decimals, days since 1970-01-01, microseconds since 1970-01-01T00:00. */
public final class LongColumn extends Column {
    private final long[] values;

    /** One value a row. */
    public LongColumn(Type type, long[] values, int size, long @Nullable [] valid) {
        this(type, values, size, false, valid);
    }

    LongColumn(Type type, long[] values, int size, boolean constant, long @Nullable [] valid) {
        super(type, size, constant, valid);
        this.values = values;
    }

    /** The values; what stands at a missing row means nothing. */
    public long[] values() {
        return values;
    }

    /** The same longs read as another type that is held in longs. */
    public LongColumn as(Type other) {
        return new LongColumn(other, values, size(), isConstant(), valid());
    }

    @Override
    public @Nullable Object get(int row) {
        return isMissing(row) ? null : Values.ofLong(type(), values[row & mask()]);
    }

    @Override
    public LongColumn take(int[] rows, int count) {
        long[] taken = new long[count];
        int mask = mask();
        for (int i = 0; i < count; i++) {
            taken[i] = rows[i] < 0 ? 0 : values[rows[i] & mask];
        }
        return new LongColumn(type(), taken, count, Validity.take(this, rows, count));
    }

    @Override
    public Column range(int from, int count) {
        return valid() != null || isConstant()
                ? super.range(from, count)
                : new LongColumn(type(), Arrays.copyOfRange(values, from, from + count), count, null);
    }

    @Override
    Column resized(int rows) {
        return isConstant() ? new LongColumn(type(), values, rows, true, valid()) : this;
    }

    /** A constant of a type held in longs. */
    public static LongColumn constant(Type type, long value, int size) {
        return new LongColumn(type, new long[] {value}, size, true, null);
    }

    @Override
    public String toString() {
        return type() + Arrays.toString(values);
    }
}
