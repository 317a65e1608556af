package dev.fiesta.value;

import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * The values of one field over some rows, in a primitive array. Missing is a bit, never a value. A column does not change
 * once it has been handed on; whoever reads its arrays must not write to them.
 *
 * <p>A column may be <em>constant</em>: one value for all rows, held once. Loops over columns therefore read
 * {@code values[i & mask]}, where the mask is 0 for a constant and -1 otherwise.
 */
public abstract sealed class Column implements Cells permits LongColumn, DoubleColumn, TextColumn, TruthColumn {
    private final Type type;
    private final int size;
    private final int mask;
    private final long @Nullable [] valid;

    Column(Type type, int size, boolean constant, long @Nullable [] valid) {
        this.type = type;
        this.size = size;
        this.mask = constant ? 0 : -1;
        this.valid = valid;
    }

    @Override
    public final Type type() {
        return type;
    }

    @Override
    public final int size() {
        return size;
    }

    /** What a row number is and-ed with before it indexes an array of this column. */
    public final int mask() {
        return mask;
    }

    public final boolean isConstant() {
        return mask == 0;
    }

    /** Bits of the rows that have a value (one bit for a constant), or null when all have. */
    public final long @Nullable [] valid() {
        return valid;
    }

    @Override
    public final boolean isMissing(int row) {
        return valid != null && !Bits.get(valid, row & mask);
    }

    /** The number of rows that have a value. */
    public final int present() {
        return valid == null ? size : isConstant() ? (Bits.get(valid, 0) ? size : 0) : Bits.count(valid);
    }

    @Override
    public abstract @Nullable Object get(int row);

    /** The rows picked, in that order; a negative row is missing. */
    public abstract Column take(int[] rows, int count);

    /** The rows from one on, in their order. */
    public Column range(int from, int count) {
        int[] rows = new int[count];
        for (int i = 0; i < count; i++) {
            rows[i] = from + i;
        }
        return take(rows, count);
    }

    /** This column for another number of rows, when constant; itself otherwise. */
    abstract Column resized(int rows);

    /** A column that holds a value for every row, never a constant. */
    public final Column flat() {
        return isConstant() ? take(new int[size], size) : this;
    }

    /** A constant column. */
    public static Column constant(Type type, @Nullable Object value, int size) {
        return Columns.of(type, java.util.Collections.singletonList(value), true)
                .resized(size);
    }

    /** A constant column for another number of rows. */
    public static Column constant(Column one, int size) {
        return one.resized(size);
    }

    /** A column of given values, of the classes that {@link #get} returns. */
    public static Column of(Type type, List<? extends @Nullable Object> values) {
        return Columns.of(type, values, false);
    }

    /**
     * This column, to be kept by itself: flat, and without the texts that none of its rows has where those are most. Rows picked from
     * others have the dictionary of all, which would be kept with them.
     */
    public final Column held() {
        return Columns.held(flat());
    }

    /** A column without any value. */
    public static Column missing(Type type, int size) {
        return constant(type, null, size).flat();
    }

    /** The rows of several columns of one type, one column below the other. */
    public static Column join(Type type, List<Column> parts) {
        return Columns.join(type, parts);
    }
}
