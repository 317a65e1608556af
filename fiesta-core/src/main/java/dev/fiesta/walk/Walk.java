package dev.fiesta.walk;

import dev.fiesta.gather.frames.Frames;
import dev.fiesta.value.Column;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.LongColumn;
import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * The rows of a table laid out for walking: partition behind partition, each in its order. Positions count in this layout.
 */
public final class Walk {
    private final int size;
    private final int[] rows;
    private final long @Nullable [] keys;
    private final int[] starts;
    private final int[] partOf;
    private final List<Order.Key> along;
    private final Parts parts;
    private int @Nullable [] peers;
    private int before;
    private int all = -1;

    private Walk(int size, Order.Laid laid, int[] starts, int[] partOf, List<Order.Key> along, Parts parts) {
        this.parts = parts;
        this.size = size;
        this.rows = laid.rows();
        this.keys = laid.keys();
        this.starts = starts;
        this.partOf = partOf;
        this.along = along;
    }

    /**
     * Lays rows out.
     *
     * @param size the number of rows of the table
     * @param rows the rows that take part
     * @param partition the partition of each row of the table
     * @param partitions the number of partitions
     * @param parts in which rows are moved side by side
     */
    public static Walk of(int size, int[] rows, int[] partition, int partitions, List<Order.Key> along, Parts parts) {
        Order.Laid laid = Order.sort(rows, along, partition, parts);
        int[] laidOut = laid.rows();
        int[] starts = new int[partitions + 1];
        for (int row : rows) {
            starts[partition[row] + 1]++;
        }
        for (int p = 0; p < partitions; p++) {
            starts[p + 1] += starts[p];
        }
        int[] partOf = new int[laidOut.length];
        for (int p = 0; p < partitions; p++) {
            Arrays.fill(partOf, starts[p], starts[p + 1], p);
        }
        return new Walk(size, laid, starts, partOf, along, parts);
    }

    /** The number of rows of the table, those that take no part among them. */
    public int size() {
        return size;
    }

    /** The number of positions. */
    public int length() {
        return rows.length;
    }

    /** The row at a position. */
    public int row(int position) {
        return rows[position];
    }

    /** The rows by position; not to be changed. */
    int[] rows() {
        return rows;
    }

    /** The first position of the partition that a position belongs to. */
    int start(int position) {
        return all < 0 ? starts[partOf[position]] : -before;
    }

    /** The position behind the partition that a position belongs to. */
    int end(int position) {
        return all < 0 ? starts[partOf[position] + 1] : all - before;
    }

    /** Takes these rows for a piece of one partition, with so many rows before them, and so many in all. */
    public void amidst(int rowsBefore, int rowsInAll) {
        before = rowsBefore;
        all = rowsInAll;
    }

    /** Works on every partition, some side by side; false when one gave up. */
    boolean eachPartition(Frames.Loop loop) {
        java.util.concurrent.atomic.AtomicBoolean goingOn = new java.util.concurrent.atomic.AtomicBoolean(true);
        parts.each(part -> {
            int from = parts.start(part, rows.length);
            int to = parts.start(part + 1, rows.length);
            for (int p = 0; p + 1 < starts.length && goingOn.get(); p++) {
                boolean here = starts[p] >= from && starts[p] < to;
                if (here && !loop.run(starts[p], starts[p + 1])) {
                    goingOn.set(false);
                }
            }
        });
        return goingOn.get();
    }

    /** The only key walked along. */
    Order.Key key() {
        return along.get(0);
    }

    /** The values of the only key walked along, by row. */
    public Column keyColumn() {
        return key().column().flat();
    }

    /** Whether a partition starts at a position. */
    public boolean startsAt(int position) {
        return start(position) == position;
    }

    /** For each position the first position of the rows that stand level with it. */
    int[] peers() {
        int[] known = peers;
        if (known == null && keys != null) {
            long[] sorted = keys;
            known = new int[sorted.length];
            for (int i = 1; i < sorted.length; i++) {
                known[i] = sorted[i] == sorted[i - 1] ? known[i - 1] : i;
            }
            peers = known;
        }
        if (known == null) {
            boolean[] starts = new boolean[rows.length];
            for (Order.Key key : along) {
                long[] images = Order.images(key);
                long last = 0;
                for (int i = 0; i < rows.length; i++) {
                    long image = images[rows[i]];
                    starts[i] |= image != last;
                    last = image;
                }
            }
            known = new int[rows.length];
            for (int i = 0; i < rows.length; i++) {
                known[i] = i == 0 || starts[i] || partOf[i] != partOf[i - 1] ? i : known[i - 1];
            }
            peers = known;
        }
        return known;
    }

    /** The number of rows, at positions from one to before another, that stand level with another. */
    public long ties(int from, int to) {
        int[] first = peers();
        long ties = 0;
        for (int i = from; i < Math.min(to, first.length); i++) {
            ties += first[i] != i || (i + 1 < first.length && first[i + 1] == i) ? 1 : 0;
        }
        return ties;
    }

    /** Values by position, brought back to their rows; rows that take no part are missing. */
    public Column byRow(Column byPosition) {
        if (rows.length == size && byPosition.valid() == null && !byPosition.isConstant()) {
            if (byPosition instanceof LongColumn longs) {
                return scattered(longs);
            }
            if (byPosition instanceof DoubleColumn numbers) {
                return scattered(numbers);
            }
        }
        int[] positions = new int[size];
        Arrays.fill(positions, -1);
        for (int i = 0; i < rows.length; i++) {
            positions[rows[i]] = i;
        }
        return byPosition.take(positions, size);
    }

    private Column scattered(LongColumn byPosition) {
        long[] from = byPosition.values();
        long[] to = new long[size];
        int[] row = rows;
        parts.each(p -> {
            int end = parts.start(p + 1, size);
            for (int i = parts.start(p, size); i < end; i++) {
                to[row[i]] = from[i];
            }
        });
        return new LongColumn(byPosition.type(), to, size, null);
    }

    private Column scattered(DoubleColumn byPosition) {
        double[] from = byPosition.values();
        double[] to = new double[size];
        int[] row = rows;
        parts.each(p -> {
            int end = parts.start(p + 1, size);
            for (int i = parts.start(p, size); i < end; i++) {
                to[row[i]] = from[i];
            }
        });
        return new DoubleColumn(to, size, null);
    }
}
