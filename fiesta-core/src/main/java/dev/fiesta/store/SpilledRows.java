package dev.fiesta.store;

import dev.fiesta.problem.MachineException;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import dev.fiesta.work.Workers;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.function.IntPredicate;
import java.util.function.UnaryOperator;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/** Rows in a file, block behind block. Columns that a step leaves alone are not written again. */
public final class SpilledRows implements Stored {
    /** Some rows; the place of each slot's column, null where nobody needs it. */
    public record Block(int rows, SpillFile.@Nullable Place[] slots) {}

    private final SpillFile scratch;
    private final List<Block> blocks;
    private final long[] starts;

    /** @param blocks at least one, which tells the types of columns */
    public SpilledRows(SpillFile scratch, List<Block> blocks) {
        if (blocks.isEmpty()) {
            throw new IllegalArgumentException("rows in a file have at least one block");
        }
        this.scratch = scratch;
        this.blocks = List.copyOf(blocks);
        this.starts = new long[blocks.size() + 1];
        for (int b = 0; b < blocks.size(); b++) {
            starts[b + 1] = starts[b] + blocks.get(b).rows();
        }
    }

    @Override
    public long rows() {
        return starts[starts.length - 1];
    }

    @Override
    public long start(int block) {
        return starts[block];
    }

    @Override
    public int blocks() {
        return blocks.size();
    }

    public Block block(int index) {
        return blocks.get(index);
    }

    public SpillFile scratch() {
        return scratch;
    }

    /** The columns of some slots of a block; the others are null. */
    public Rows read(int index, BitSet wanted) {
        Block block = blocks.get(index);
        @Nullable Column[] slots = new Column[block.slots().length];
        for (int s = wanted.nextSetBit(0); s >= 0 && s < slots.length; s = wanted.nextSetBit(s + 1)) {
            SpillFile.Place place = block.slots()[s];
            slots[s] = place == null ? null : scratch.read(place);
        }
        return new Rows(block.rows(), slots);
    }

    @Override
    public Batch batch(int index) {
        Block block = blocks.get(index);
        return Batch.lazy(
                block.rows(),
                block.slots().length,
                (slot, picked, count) -> {
                    SpillFile.Place place = block.slots()[slot];
                    if (place == null) {
                        throw new IllegalStateException("slot " + slot + " was thought to be needed by nobody");
                    }
                    Column column = scratch.read(place);
                    return picked == null ? column : column.take(picked, count);
                },
                index);
    }

    /** About the memory that the largest block takes, in bytes. */
    public long blockMemory() {
        long largest = 0;
        for (Block block : blocks) {
            long bytes = 0;
            for (SpillFile.Place place : block.slots()) {
                bytes += place == null ? 0 : 8L * place.rows() + 2L * place.bytes();
            }
            largest = Math.max(largest, bytes);
        }
        return largest;
    }

    /** Rows of several, one behind the other. */
    public static SpilledRows join(List<SpilledRows> parts) {
        return new SpilledRows(
                parts.get(0).scratch,
                parts.stream().flatMap(p -> p.blocks.stream()).toList());
    }

    /** Rows with others below them. */
    public static Stored join(Memory memory, Stored rows, Rows below) {
        return rows instanceof SpilledRows file ? file.with(of(memory, below)) : Rows.join(List.of(rows.load(), below));
    }

    /** Some rows, which have columns of the right types. */
    public static Rows first(Stored rows, BitSet wanted) {
        return rows instanceof SpilledRows file ? file.read(0, wanted) : rows.load();
    }

    /** Writes a block down. */
    public static Block write(SpillFile scratch, int rows, @Nullable Column[] slots) {
        SpillFile.@Nullable Place[] places = new SpillFile.Place[slots.length];
        for (int s = 0; s < slots.length; s++) {
            Column column = slots[s];
            places[s] = column == null ? null : scratch.write(column);
        }
        return new Block(rows, places);
    }

    /** Rows in the file, wherever they stood. */
    public static SpilledRows in(Memory memory, Stored rows) {
        return rows instanceof SpilledRows file ? file : of(memory, rows.load());
    }

    /** Rows that were in memory. */
    public static SpilledRows of(Memory memory, Rows rows) {
        List<Block> blocks = new ArrayList<>();
        int block = memory.blockRows();
        for (int start = 0; start < rows.size() || start == 0; start += block) {
            int[] part =
                    IntStream.range(start, Math.min(rows.size(), start + block)).toArray();
            blocks.add(write(memory.scratch(), part.length, rows.take(part).slots()));
        }
        return new SpilledRows(memory.scratch(), blocks);
    }

    /** Some slots, with the number of each row in a slot behind them. */
    public SpilledRows numbered(BitSet kept, int number) {
        List<Block> numbered = new ArrayList<>();
        long first = 0;
        for (Block block : blocks) {
            SpillFile.@Nullable Place[] places = new SpillFile.Place[number + 1];
            kept.stream().filter(s -> s < block.slots().length).forEach(s -> places[s] = block.slots()[s]);
            long[] numbers = new long[block.rows()];
            for (int i = 0; i < numbers.length; i++) {
                numbers[i] = first + i;
            }
            first += numbers.length;
            places[number] = scratch.write(new LongColumn(Type.INTEGER, numbers, numbers.length, null));
            numbered.add(new Block(block.rows(), places));
        }
        return new SpilledRows(scratch, numbered);
    }

    /**
     * The rows that somebody picks, with some slots.
     *
     * @param picks looks at each block, then at its rows
     */
    public SpilledRows picked(BitSet kept, Function<Rows, IntPredicate> picks) {
        List<Block> some = new ArrayList<>();
        for (int b = 0; b < blocks.size(); b++) {
            Workers.stopIfInterrupted();
            Rows block = read(b, kept);
            int[] picked =
                    IntStream.range(0, block.size()).filter(picks.apply(block)).toArray();
            if (picked.length > 0 || b == 0) { // one block at least, so that columns have their types
                some.add(write(scratch, picked.length, block.take(picked).slots()));
            }
        }
        return new SpilledRows(scratch, some);
    }

    /** Rows after a stage that may drop some of them, but moves and doubles none. */
    public SpilledRows each(UnaryOperator<Batch> stage, BitSet after) {
        List<Block> left = new ArrayList<>();
        for (int b = 0; b < blocks(); b++) {
            Workers.stopIfInterrupted();
            Batch batch = stage.apply(batch(b));
            if (batch.size() > 0 || b == 0) { // one block at least, so that columns have their types
                left.add(written(b, batch, after));
            }
        }
        return new SpilledRows(scratch, left);
    }

    /** A batch made of a block; where its rows are the same, columns that stand in the file already stay there. */
    private Block written(int number, Batch batch, BitSet after) {
        Block before = block(number);
        SpillFile.@Nullable Place[] places = new SpillFile.Place[Math.max(batch.width(), after.length())];
        after.stream().forEach(s -> {
            boolean stands = batch.size() == before.rows() && s < before.slots().length && before.slots()[s] != null;
            places[s] = stands ? before.slots()[s] : scratch.write(batch.column(s));
        });
        return new Block(batch.size(), places);
    }

    /** The first so many rows. */
    public SpilledRows first(long count, BitSet after) {
        List<Block> some = new ArrayList<>();
        long left = count;
        for (int b = 0; b < blocks() && (left > 0 || b == 0); b++) {
            Block block = block(b);
            if (block.rows() > left) {
                Rows head = read(b, after).range(0, (int) left);
                block = write(scratch, head.size(), head.slots());
            }
            some.add(block);
            left -= block.rows();
        }
        return new SpilledRows(scratch, some);
    }

    /** The rows of both, those of the other behind these. */
    public SpilledRows with(SpilledRows other) {
        List<Block> all = new ArrayList<>(blocks);
        all.addAll(other.blocks);
        return new SpilledRows(scratch, all);
    }

    /**
     * These rows with columns of others beside them, which stand in the same order, in blocks of their own.
     *
     * @param slots for slots of the others the slots they get here
     */
    public SpilledRows beside(SpilledRows others, Map<Integer, Integer> slots) {
        BitSet read = new BitSet();
        slots.keySet().forEach(read::set);
        int width = slots.values().stream().mapToInt(s -> s + 1).max().orElse(0);
        List<Block> all = new ArrayList<>();
        Rows ready = new Rows(0, new Column[0]);
        int next = 0;
        int taken = 0;
        for (Block block : blocks) {
            List<Rows> parts = new ArrayList<>();
            int needed = block.rows();
            do {
                if (taken == ready.size() && next < others.blocks()) {
                    ready = others.read(next++, read);
                    taken = 0;
                }
                int count = Math.min(needed, ready.size() - taken);
                parts.add(ready.take(IntStream.range(taken, taken + count).toArray()));
                taken += count;
                needed -= count;
            } while (needed > 0);
            Rows whole = Rows.join(parts);
            SpillFile.@Nullable Place[] places = Arrays.copyOf(block.slots(), Math.max(block.slots().length, width));
            slots.forEach((theirs, slot) -> places[slot] = scratch.write(whole.column(theirs)));
            all.add(new Block(block.rows(), places));
        }
        return new SpilledRows(scratch, all);
    }

    /** About the bytes that some slots take. */
    public long bytes(BitSet wanted) {
        long bytes = 0;
        for (Block block : blocks) {
            for (int s = 0; s < block.slots().length; s++) {
                SpillFile.Place place = block.slots()[s];
                bytes += place == null || !wanted.get(s) ? 0 : place.bytes();
            }
        }
        return bytes;
    }

    /** The slots given, in that order. */
    public SpilledRows project(List<Integer> slots, BitSet wanted) {
        List<Block> projected = new ArrayList<>();
        for (Block block : blocks) {
            SpillFile.@Nullable Place[] places = new SpillFile.Place[slots.size()];
            for (int i = 0; i < places.length; i++) {
                int slot = slots.get(i);
                places[i] = wanted.get(i) && slot < block.slots().length ? block.slots()[slot] : null;
            }
            projected.add(new Block(block.rows(), places));
        }
        return new SpilledRows(scratch, projected);
    }

    /** The blocks from one to before another. */
    public SpilledRows some(int from, int to) {
        return new SpilledRows(scratch, blocks.subList(from, to));
    }

    /** Without the columns of other slots. */
    public SpilledRows keep(BitSet slots) {
        return project(IntStream.range(0, slots.length()).boxed().toList(), slots);
    }

    @Override
    public Rows load() {
        BitSet all = new BitSet();
        for (Block block : blocks) {
            for (int s = 0; s < block.slots().length; s++) {
                all.set(s, all.get(s) || block.slots()[s] != null);
            }
        }
        return load(all);
    }

    /** Some slots of all rows, in memory. */
    public Rows load(BitSet wanted) {
        if (rows() > Integer.MAX_VALUE - 8) {
            throw new MachineException(rows() + " rows are too many to be held in memory at once", null);
        }
        @Nullable Column[] slots = new Column[wanted.length()];
        for (int s = wanted.nextSetBit(0); s >= 0; s = wanted.nextSetBit(s + 1)) {
            List<Column> parts = new ArrayList<>();
            for (Block block : blocks) {
                SpillFile.Place place = s < block.slots().length ? block.slots()[s] : null;
                if (place == null) {
                    parts.clear();
                    break;
                }
                parts.add(scratch.read(place));
            }
            slots[s] = parts.isEmpty() ? null : Column.join(parts.get(0).type(), parts);
        }
        return new Rows((int) rows(), slots);
    }
}
