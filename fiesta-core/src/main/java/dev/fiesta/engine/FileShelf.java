package dev.fiesta.engine;

import dev.fiesta.gather.Shelf;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import dev.fiesta.walk.Order;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Values in sorted runs. When all runs are read in order, equal values come one behind the other, whatever their groups. */
final class FileShelf implements Shelf {
    private static final int VALUE = 0;
    private static final int GROUP = 1;

    /** @param into the group here of each group of the run; null for the same */
    private record Run(FileRows rows, int @Nullable [] into) {
        int group(long own) {
            return into == null ? (int) own : into[(int) own];
        }

        Run moved(int[] further) {
            if (into == null) {
                return new Run(rows, further);
            }
            int[] both = new int[into.length];
            Arrays.setAll(both, i -> into[i] < 0 ? -1 : further[into[i]]);
            return new Run(rows, both);
        }
    }

    private final Memory memory;
    private final List<Run> runs = new ArrayList<>();

    FileShelf(Memory memory) {
        this.memory = memory;
    }

    @Override
    public void put(Column values, int[] groups) {
        int size = values.size();
        long[] numbers = Arrays.stream(groups, 0, size).asLongStream().toArray();
        Column[] slots = {values, new LongColumn(Type.INTEGER, numbers, size, null)};
        Rows all = new Rows(size, slots, null);
        int[] order = Order.sort(Order.asTheyStand(size), List.of(new Order.Key(values, false)));
        List<FileRows.Block> blocks = new ArrayList<>();
        for (int start = 0; start < size; start += memory.blockRows()) {
            int[] part = Arrays.copyOfRange(order, start, Math.min(size, start + memory.blockRows()));
            blocks.add(
                    FileRows.write(memory.scratch(), part.length, all.take(part).slots()));
        }
        runs.add(new Run(new FileRows(memory.scratch(), blocks), null));
    }

    @Override
    public void adopt(Shelf other, int[] into) {
        ((FileShelf) other).runs.forEach(r -> runs.add(r.moved(into)));
    }

    @Override
    public Shelf another() {
        return new FileShelf(memory);
    }

    @Override
    public long[] distinct(int groups) {
        BitSet wanted = new BitSet();
        wanted.set(VALUE);
        wanted.set(GROUP);
        Runs merged = new Runs(runs.stream().map(Run::rows).toList(), List.of(VALUE), new boolean[1], wanted);
        long[] counts = new long[groups];
        long[] lastValue = new long[groups];
        long value = 0;
        Rows before = new Rows(0, new Column[0], null);
        int row = 0;
        for (; !merged.isEmpty(); merged.advance()) {
            Runs.Cursor next = merged.first();
            boolean same = value > 0 && Runs.same(before, row, next.rows(), next.row(), List.of(VALUE));
            value += same ? 0 : 1;
            before = next.rows();
            row = next.row();
            int group = runs.get(next.number()).group(((LongColumn) before.column(GROUP)).values()[row]);
            if (group >= 0 && lastValue[group] != value) {
                lastValue[group] = value;
                counts[group]++;
            }
        }
        return counts;
    }
}
