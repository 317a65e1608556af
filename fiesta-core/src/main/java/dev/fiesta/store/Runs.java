package dev.fiesta.store;

import dev.fiesta.value.Column;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.TextColumn;
import dev.fiesta.value.TruthColumn;
import java.util.BitSet;
import java.util.List;

/**
 * Merges runs, each of which is in order: rows come out in order, of equal rows those of earlier runs first. The one mechanism
 * behind sorting and grouping what does not fit into memory.
 */
public final class Runs {
    /** Some rows of a run that are in memory, and the one that comes next. */
    public final class Cursor {
        private final int number;
        private final SpilledRows run;
        private int block = -1;
        private int row;
        private Rows rows = new Rows(0, new Column[0]);

        Cursor(int number, SpilledRows run) {
            this.number = number;
            this.run = run;
        }

        public int number() {
            return number;
        }

        public int row() {
            return row;
        }

        /** The block of the run that its rows are. */
        public int block() {
            return block;
        }

        public Rows rows() {
            return rows;
        }

        /** Whether there is a further row. */
        boolean next() {
            row++;
            while (row >= rows.size()) {
                if (++block >= run.blocks()) {
                    return false;
                }
                rows = run.read(block, wanted);
                row = 0;
            }
            return true;
        }
    }

    private final List<Integer> keys;
    private final boolean[] descending;
    private final BitSet wanted;
    private final Cursor[] heap;
    private int size;

    /**
     * @param keys the slots that tell the order
     * @param wanted the slots read, the keys among them
     */
    public Runs(List<SpilledRows> runs, List<Integer> keys, boolean[] descending, BitSet wanted) {
        this.keys = keys;
        this.descending = descending;
        this.wanted = wanted;
        this.heap = new Cursor[runs.size()];
        for (int i = 0; i < heap.length; i++) {
            Cursor cursor = new Cursor(i, runs.get(i));
            cursor.row = -1;
            if (cursor.next()) {
                heap[size++] = cursor;
            }
        }
        for (int i = size / 2 - 1; i >= 0; i--) {
            sink(i);
        }
    }

    public boolean isEmpty() {
        return size == 0;
    }

    /** The run whose row comes next. */
    public Cursor first() {
        return heap[0];
    }

    /** Goes on behind the first row. */
    public void advance() {
        if (!heap[0].next()) {
            heap[0] = heap[--size];
        }
        if (size > 1) {
            sink(0);
        }
    }

    private void sink(int from) {
        int at = from;
        while (true) {
            int child = 2 * at + 1;
            if (child >= size) {
                return;
            }
            if (child + 1 < size && compare(heap[child + 1], heap[child]) < 0) {
                child++;
            }
            if (compare(heap[at], heap[child]) <= 0) {
                return;
            }
            Cursor swap = heap[at];
            heap[at] = heap[child];
            heap[child] = swap;
            at = child;
        }
    }

    private int compare(Cursor a, Cursor b) {
        for (int k = 0; k < keys.size(); k++) {
            int slot = keys.get(k);
            int order = compare(a.rows.column(slot), a.row, b.rows.column(slot), b.row, descending[k]);
            if (order != 0) {
                return order;
            }
        }
        return Integer.compare(a.number, b.number);
    }

    /** Missing stands last either way. */
    public static int compare(Column a, int i, Column b, int j, boolean descending) {
        boolean noA = a.isMissing(i);
        boolean noB = b.isMissing(j);
        if (noA || noB) {
            return Boolean.compare(noA, noB);
        }
        int order;
        if (a instanceof LongColumn longs) {
            order = Long.compare(longs.values()[i], ((LongColumn) b).values()[j]);
        } else if (a instanceof DoubleColumn numbers) {
            order = Double.compare(numbers.values()[i], ((DoubleColumn) b).values()[j]);
        } else if (a instanceof TextColumn texts) {
            TextColumn other = (TextColumn) b;
            order = texts.dictionary().compare(texts.codes()[i], other.dictionary(), other.codes()[j]);
        } else {
            order = Boolean.compare(((TruthColumn) a).isTrue(i), ((TruthColumn) b).isTrue(j));
        }
        return descending ? -order : order;
    }

    /** Whether two rows differ in some columns, which stand in the same order for both. */
    public static boolean differ(List<Column> a, int i, List<Column> b, int j) {
        for (int k = 0; k < b.size(); k++) {
            if (compare(a.get(k), i, b.get(k), j, false) != 0) {
                return true;
            }
        }
        return false;
    }

    /** Whether two rows have the same keys. */
    public static boolean same(Rows a, int i, Rows b, int j, List<Integer> keys) {
        for (int slot : keys) {
            if (compare(a.column(slot), i, b.column(slot), j, false) != 0) {
                return false;
            }
        }
        return true;
    }
}
