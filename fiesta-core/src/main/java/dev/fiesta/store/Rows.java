package dev.fiesta.store;

import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.work.Workers;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Objects;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * All rows of a table at a step, in memory.
 *
 * @param size the number of rows
 * @param slots the columns by slot; null where nobody needs them
 */
public record Rows(int size, @Nullable Column[] slots) implements Stored {
    /** Rows of a block. */
    public static final int BLOCK = 1 << 13;

    @Override
    public long rows() {
        return size;
    }

    @Override
    public Rows load() {
        return this;
    }

    @Override
    public int blocks() {
        return blocks(size);
    }

    /** The blocks of so many rows; one at least, which has columns of the right types. */
    static int blocks(int rows) {
        return Math.max(1, (rows + BLOCK - 1) / BLOCK);
    }

    @Override
    public long start(int block) {
        return Math.min(size, (long) block * BLOCK);
    }

    /** Its columns are cut out when they are asked for. */
    @Override
    public Batch batch(int block) {
        int start = block * BLOCK;
        int rows = Math.min(BLOCK, size - start);
        return Batch.lazy(
                rows,
                slots.length,
                (slot, picked, left) -> {
                    Column column = column(slot).range(start, rows);
                    return picked == null ? column : column.take(picked, left);
                },
                block);
    }

    public Batch batch() {
        return Batch.of(size, slots.clone(), 0);
    }

    /** The rows picked, in that order; a negative row is missing everywhere. */
    public Rows take(int[] rows) {
        return take(rows, 1);
    }

    /** As {@link #take(int[])}, columns side by side on several threads. */
    public Rows take(int[] rows, int threads) {
        @Nullable Column[] taken = new Column[slots.length];
        Workers.each(threads, taken.length, rows.length, i -> {
            Column column = slots[i];
            taken[i] = column == null ? null : column.take(rows, rows.length);
        });
        return new Rows(rows.length, taken);
    }

    /** The rows from one to before another. */
    public Rows range(int from, int to) {
        if (from == 0 && to == size) {
            return this;
        }
        @Nullable Column[] some = new Column[slots.length];
        for (int s = 0; s < some.length; s++) {
            Column column = slots[s];
            some[s] = column == null ? null : column.range(from, to - from);
        }
        return new Rows(to - from, some);
    }

    @Override
    public long bytes() {
        long bytes = 0;
        for (Column column : slots) {
            bytes += column == null ? 0 : bytes(column);
        }
        return bytes;
    }

    /** A dictionary may be shared with other rows: no more of its texts count than there are rows. */
    public static long bytes(Column column) {
        long size = column.isConstant() ? 1 : column.size();
        long valid = column.valid() == null ? 0 : size / 8;
        if (column instanceof dev.fiesta.value.TextColumn texts) {
            long known = Math.max(1, texts.dictionary().size());
            return valid + 4 * size + texts.dictionary().memory() * Math.min(known, size) / known;
        }
        return valid + (column instanceof dev.fiesta.value.TruthColumn ? size / 8 : 8 * size);
    }

    /** Rows below each other. */
    public static Rows join(List<Rows> parts) {
        if (parts.size() == 1) {
            return parts.get(0);
        }
        @Nullable Column[] slots = new Column[parts.get(0).slots.length];
        for (int s = 0; s < slots.length; s++) {
            int slot = s;
            Column first = parts.get(0).slots[s];
            slots[s] = first == null
                    ? null
                    : Column.join(
                            first.type(),
                            parts.stream().map(p -> p.column(slot)).toList());
        }
        return new Rows(parts.stream().mapToInt(Rows::size).sum(), slots);
    }

    /** Without the columns of other slots. */
    public Rows keep(BitSet wanted) {
        @Nullable Column[] some = new Column[slots.length];
        wanted.stream().forEach(s -> some[s] = slots[s]);
        return new Rows(size, some);
    }

    /** With a column in a slot. */
    public Rows with(int slot, Column column) {
        @Nullable Column[] more = Arrays.copyOf(slots, Math.max(slots.length, slot + 1));
        more[slot] = column;
        return new Rows(size, more);
    }

    public Column column(int slot) {
        return Objects.requireNonNull(slots[slot], () -> "slot " + slot + " was thought to be needed by nobody");
    }

    /** The slots that have a column. */
    public BitSet there() {
        BitSet there = new BitSet();
        IntStream.range(0, slots.length).filter(s -> slots[s] != null).forEach(there::set);
        return there;
    }

    /** The columns of some slots, in that order. */
    public Column[] columns(List<Integer> wanted) {
        return wanted.stream().map(this::column).toArray(Column[]::new);
    }
}
