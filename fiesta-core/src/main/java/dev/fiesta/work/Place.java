package dev.fiesta.work;

import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;

/** Where a record stands in its source: the number of its piece, then its number there. */
public final class Place {
    private static final int ROW_BITS = 38;

    private Place() {}

    /** The place of the first row of a batch; the others follow, however many of its piece are made of each. */
    public static long first(Batch rows) {
        return (rows.sequence() << ROW_BITS) + rows.first();
    }

    public static long piece(long place) {
        return place >> ROW_BITS;
    }

    public static int row(long place) {
        return (int) (place & (1L << ROW_BITS) - 1);
    }

    /** The places of rows that come straight from a source. */
    public static Column of(Batch rows) {
        long[] places = new long[rows.size()];
        for (int i = 0; i < places.length; i++) {
            places[i] = rows.sequence() << ROW_BITS | rows.origin(i);
        }
        return new LongColumn(Type.INTEGER, places, places.length, null);
    }
}
