package dev.fiesta.operate.group;

import dev.fiesta.compute.FieldRef;
import dev.fiesta.gather.Accumulator;
import dev.fiesta.gather.values.Shelf;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.OrderKey;
import dev.fiesta.store.ColumnBuilder;
import dev.fiesta.store.ExternalSort;
import dev.fiesta.store.Memory;
import dev.fiesta.store.Rounds;
import dev.fiesta.store.Rows;
import dev.fiesta.store.Runs;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import dev.fiesta.walk.Order;
import dev.fiesta.work.Workers;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Values in sorted runs. When all runs are read in order, equal values come one behind the other, whatever their groups. */
public final class SpilledValues implements Shelf {
    /** Values that take less than this part of the memory are not worth a run. */
    private static final int LEAST_PART = 32;

    private static final int VALUE = 0;
    private static final int GROUP = 1;

    /** @param into the group here of each group of the run; null for the same */
    private record Run(SpilledRows rows, int @Nullable [] into) {
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

    SpilledValues(Memory memory) {
        this.memory = memory;
    }

    /** Lets accumulators put values away, where it is worth a run in the file. */
    public static void relieve(List<Accumulator> accumulators, Memory memory) {
        for (Accumulator accumulator : accumulators) {
            if (accumulator.memory() > memory.limit() / LEAST_PART) {
                accumulator.putAway(() -> new SpilledValues(memory));
            }
        }
    }

    @Override
    public void put(Column values, int[] groups) {
        int size = values.size();
        Column[] slots = {values, numbers(groups, size)};
        Rows all = new Rows(size, slots);
        int[] order = Order.sort(Order.asTheyStand(size), List.of(new Order.Key(values, false)));
        List<SpilledRows.Block> blocks = new ArrayList<>();
        for (int start = 0; start < size; start += memory.blockRows()) {
            int[] part = Arrays.copyOfRange(order, start, Math.min(size, start + memory.blockRows()));
            blocks.add(SpilledRows.write(
                    memory.scratch(), part.length, all.take(part).slots()));
        }
        runs.add(new Run(new SpilledRows(memory.scratch(), blocks), null));
    }

    private static LongColumn numbers(int[] groups, int size) {
        long[] numbers = Arrays.stream(groups, 0, size).asLongStream().toArray();
        return new LongColumn(Type.INTEGER, numbers, size, null);
    }

    @Override
    public void adopt(Shelf other, int[] into) {
        ((SpilledValues) other).runs.forEach(r -> runs.add(r.moved(into)));
    }

    @Override
    public Shelf another() {
        return new SpilledValues(memory);
    }

    @Override
    public void inOrder(Look look) {
        inOrder(Rounds.few(runs, r -> r.rows().blockMemory(), memory, this::merged), look);
    }

    /** One run of several. */
    private Run merged(List<Run> some) {
        List<SpilledRows.Block> blocks = new ArrayList<>();
        Column[] values = new Column[memory.blockRows()];
        int[] rows = new int[values.length];
        int[] groups = new int[values.length];
        int[] count = new int[1];
        Runnable write = () -> {
            Column column = ColumnBuilder.of(values[0].type(), values, rows, count[0]);
            blocks.add(SpilledRows.write(memory.scratch(), count[0], new Column[] {column, numbers(groups, count[0])}));
            count[0] = 0;
        };
        inOrder(some, (group, value, row, other) -> {
            values[count[0]] = value;
            rows[count[0]] = row;
            groups[count[0]++] = group;
            if (count[0] == values.length) {
                write.run();
            }
        });
        if (count[0] > 0) {
            write.run();
        }
        return blocks.isEmpty() ? some.get(0) : new Run(new SpilledRows(memory.scratch(), blocks), null);
    }

    private void inOrder(List<Run> runs, Look look) {
        Runs merged = new Runs(runs.stream().map(Run::rows).toList(), List.of(VALUE), new boolean[1], both());
        Rows before = new Rows(0, new Column[0]);
        int row = -1;
        boolean other = true; // since the last value that was looked at: of some values the first are left out
        for (long seen = 0; !merged.isEmpty(); merged.advance(), seen++) {
            if (seen % memory.blockRows() == 0) {
                Workers.stopIfInterrupted();
            }
            Runs.Cursor next = merged.first();
            other |= row < 0 || !Runs.same(before, row, next.rows(), next.row(), List.of(VALUE));
            before = next.rows();
            row = next.row();
            int group = runs.get(next.number()).group(((LongColumn) before.column(GROUP)).values()[row]);
            if (group >= 0) {
                look.at(group, before.column(VALUE), row, other);
                other = false;
            }
        }
    }

    /** Sorted by group and value, each group's stand side by side. */
    @Override
    public ByGroup byGroup(int groups) {
        int[] starts = new int[groups + 1];
        List<SpilledRows.Block> blocks = new ArrayList<>();
        for (Run run : runs) {
            for (int b = 0; b < run.rows().blocks(); b++) {
                blocks.add(here(run, b, starts));
            }
        }
        for (int g = 0; g < groups; g++) {
            starts[g + 1] += starts[g];
        }
        SpilledRows all = new SpilledRows(memory.scratch(), blocks);
        Type type = all.batch(0).column(VALUE).type();
        List<OrderKey> order = List.of(
                new OrderKey(new FieldRef(GROUP, Type.INTEGER), false), new OrderKey(new FieldRef(VALUE, type), false));
        SpilledRows sorted = ExternalSort.sorted(all, order, both(), new Notices(), memory);
        return new ByGroup(starts, pages(sorted, VALUE));
    }

    /** A block with the groups of here, without those that are left out; they are counted behind their places. */
    private SpilledRows.Block here(Run run, int block, int[] counts) {
        Workers.stopIfInterrupted();
        Rows rows = run.rows().read(block, both());
        long[] own = ((LongColumn) rows.column(GROUP)).values();
        int[] groups = new int[rows.size()];
        int[] kept = new int[rows.size()];
        int size = 0;
        for (int i = 0; i < rows.size(); i++) {
            int group = run.group(own[i]);
            if (group >= 0) {
                counts[group + 1]++;
                groups[size] = group;
                kept[size++] = i;
            }
        }
        Column values = rows.column(VALUE).take(kept, size);
        return SpilledRows.write(memory.scratch(), size, new Column[] {values, numbers(groups, size)});
    }

    private static BitSet both() {
        BitSet both = new BitSet();
        both.set(VALUE);
        both.set(GROUP);
        return both;
    }

    /** The values of one slot, a block a page. */
    public static Pages pages(SpilledRows rows, int slot) {
        int[] before = new int[rows.blocks() + 1];
        for (int b = 0; b < rows.blocks(); b++) {
            before[b + 1] = Math.addExact(before[b], rows.block(b).rows());
        }
        BitSet value = new BitSet();
        value.set(slot);
        return new Pages() {
            @Override
            public int pages() {
                return rows.blocks();
            }

            @Override
            public int before(int page) {
                return before[page];
            }

            @Override
            public Column page(int page) {
                return rows.read(page, value).column(slot);
            }
        };
    }
}
