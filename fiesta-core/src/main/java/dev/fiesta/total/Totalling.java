package dev.fiesta.total;

import dev.fiesta.compute.FieldRef;
import dev.fiesta.gather.keys.GroupTable;
import dev.fiesta.operate.group.GroupStates;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.OrderKey;
import dev.fiesta.step.TablePlan;
import dev.fiesta.store.ExternalSort;
import dev.fiesta.store.Memory;
import dev.fiesta.store.Rows;
import dev.fiesta.store.SpillFile;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.store.Stored;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import dev.fiesta.walk.Order;
import dev.fiesta.work.Workers;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Comparator;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/** Works out the total rows of a table, once all its steps are done. */
public final class Totalling {
    /**
     * Total rows.
     *
     * @param after for each the number of rows that it stands behind
     * @param level for each how many of the first keys it has; 0 for the grand total
     * @param columns the visible fields
     */
    public record TotalRows(int[] after, int[] level, Column[] columns) {}

    /**
     * The totals of one level.
     *
     * @param keys how many of the first keys they have
     * @param after for each where it stands
     * @param merged what they are worked out to, by slot
     */
    private record Level(int keys, int[] after, Rows merged) {}

    /** One of the totals of a level. */
    private record Total(Level level, int number) {
        int after() {
            return level.after()[number];
        }
    }

    private final TablePlan table;
    private final TablePlan.TotalPlan plan;
    private final Stored rows;
    private final GroupStates states;
    private final List<Prefix> prefixes = new ArrayList<>();

    /**
     * @param rows those of each subtotal {@link #together}
     * @param states what their groups have gathered, with those that stood where totals were asked for
     */
    public Totalling(TablePlan table, TablePlan.TotalPlan plan, Stored rows, GroupStates states) {
        this.table = table;
        this.plan = plan;
        this.rows = rows;
        this.states = states;
    }

    public TotalRows run() {
        for (int level = plan.by(); level > 0; level--) {
            prefixes.add(new Prefix(level));
        }
        for (int b = 0, start = 0; b < rows.blocks() && !prefixes.isEmpty(); b++) {
            Workers.stopIfInterrupted();
            Batch block = rows.batch(b);
            for (Prefix prefix : prefixes) {
                prefix.add(block, start);
            }
            start += block.size();
        }
        BitSet shown = prefixes.isEmpty() ? new BitSet() : states.numbers(rows);
        List<Level> levels = new ArrayList<>();
        for (Prefix prefix : prefixes) {
            levels.add(prefix.level(shown));
        }
        Column[] none = states.step().keys().stream()
                .map(k -> Column.missing(k.type(), 1))
                .toArray(Column[]::new);
        GroupStates.Into all = (keys, first, groups) -> new int[groups];
        int size = Math.toIntExact(rows.rows());
        levels.add(new Level(
                0,
                new int[] {size},
                new Merging(plan.rows(), states)
                        .rows(all.only(states.standing()), 1, none, new BitSet())
                        .rows()));
        return laidOut(levels);
    }

    /** The combinations of so many first keys among the rows. */
    private final class Prefix {
        private final int keys;
        private final GroupTable met;
        private int[] after = new int[0];

        Prefix(int keys) {
            this.keys = keys;
            this.met = GroupTable.of(keys(rows.batch(0), keys));
        }

        void add(Batch block, int start) {
            int[] numbers = new int[block.size()];
            met.number(keys(block, keys), numbers.length, numbers);
            after = met.size() > after.length ? Arrays.copyOf(after, 2 * met.size()) : after;
            for (int i = 0; i < numbers.length; i++) {
                after[numbers[i]] = start + i + 1;
            }
        }

        /** One total for each combination, merged from the groups of the rows. */
        Level level(BitSet shown) {
            int size = met.size();
            Column[] found = met.keys();
            Column[] all = new Column[states.step().keys().size()];
            for (int k = 0; k < all.length; k++) {
                all[k] = k < keys
                        ? found[k].flat()
                        : Column.missing(states.step().keys().get(k).type(), size);
            }
            BitSet has = new BitSet();
            has.set(0, keys);
            GroupStates.Into into = GroupStates.Into.known(met, Order.asTheyStand(keys));
            Rows merged = new Merging(plan.rows(), states)
                    .rows(into.only(shown), size, all, has)
                    .rows();
            return new Level(keys, Arrays.copyOf(after, size), merged);
        }
    }

    private static Column[] keys(Batch block, int count) {
        Column[] keys = new Column[count];
        Arrays.setAll(keys, k -> block.column(k).flat());
        return keys;
    }

    /**
     * The rows with those of each subtotal together, whatever order they had: the first keys in the order in which they first appear,
     * the rows of each as they stood.
     */
    public static Stored together(TablePlan.TotalPlan plan, Stored rows, Memory memory) {
        if (plan.by() == 0 || areTogether(plan.by(), rows)) {
            return rows;
        }
        return rows instanceof SpilledRows file ? inFile(plan.by(), file, memory) : inMemory(plan.by(), rows.load());
    }

    private static boolean areTogether(int by, Stored rows) {
        List<GroupTable> tables = tables(by, rows);
        int[] greatest = new int[by];
        for (int b = 0; b < rows.blocks(); b++) {
            Batch block = rows.batch(b);
            int[] numbers = new int[block.size()];
            for (int level = 1; level <= by; level++) {
                tables.get(level - 1).number(keys(block, level), numbers.length, numbers);
                for (int number : numbers) {
                    if (number < greatest[level - 1]) {
                        return false;
                    }
                    greatest[level - 1] = number;
                }
            }
        }
        return true;
    }

    private static List<GroupTable> tables(int by, Stored rows) {
        return IntStream.rangeClosed(1, by)
                .mapToObj(level -> GroupTable.of(keys(rows.batch(0), level)))
                .toList();
    }

    private static Rows inMemory(int by, Rows rows) {
        int[] order = Order.asTheyStand(rows.size());
        for (int level = by; level > 0; level--) {
            order = byNumber(order, GroupTable.numbers(keys(rows.batch(), level), rows.size()));
        }
        return rows.take(order);
    }

    /** Sorted by the numbers of the first keys, of which each level is a column of its own for the time. */
    private static SpilledRows inFile(int by, SpilledRows rows, Memory memory) {
        int width = rows.block(0).slots().length;
        List<GroupTable> tables = tables(by, rows);
        List<SpilledRows.Block> blocks = new ArrayList<>();
        for (int b = 0; b < rows.blocks(); b++) {
            Workers.stopIfInterrupted();
            Batch block = rows.batch(b);
            SpillFile.@Nullable Place[] places = Arrays.copyOf(rows.block(b).slots(), width + by);
            for (int level = 1; level <= by; level++) {
                int[] numbers = new int[block.size()];
                tables.get(level - 1).number(keys(block, level), numbers.length, numbers);
                long[] own = Arrays.stream(numbers).asLongStream().toArray();
                places[width + level - 1] = rows.scratch().write(new LongColumn(Type.INTEGER, own, own.length, null));
            }
            blocks.add(new SpilledRows.Block(block.size(), places));
        }
        List<OrderKey> order = IntStream.range(width, width + by)
                .mapToObj(slot -> new OrderKey(new FieldRef(slot, Type.INTEGER), false))
                .toList();
        BitSet kept = new BitSet();
        IntStream.range(0, width).filter(s -> rows.block(0).slots()[s] != null).forEach(kept::set);
        SpilledRows numbered = new SpilledRows(rows.scratch(), blocks);
        return ExternalSort.sorted(numbered, order, kept, new Notices(), memory);
    }

    /** Rows by number, those of the same number as they were. */
    private static int[] byNumber(int[] order, int[] numbers) {
        int[] next = new int[numbers.length + 1];
        for (int number : numbers) {
            next[number + 1]++;
        }
        for (int i = 1; i < next.length; i++) {
            next[i] += next[i - 1];
        }
        int[] sorted = new int[order.length];
        for (int row : order) {
            sorted[next[numbers[row]]++] = row;
        }
        return sorted;
    }

    private TotalRows laidOut(List<Level> levels) {
        List<Total> totals = new ArrayList<>();
        for (Level level : levels) {
            for (int i = 0; i < level.after().length; i++) {
                totals.add(new Total(level, i));
            }
        }
        totals.sort(Comparator.comparingInt(Total::after)
                .thenComparing(t -> t.level().keys(), Comparator.reverseOrder()));
        int[] after = totals.stream().mapToInt(Total::after).toArray();
        int[] level = totals.stream().mapToInt(t -> t.level().keys()).toArray();
        Column[] columns = new Column[table.slots().size()];
        for (int f = 0; f < columns.length; f++) {
            columns[f] = visible(f, levels, totals);
        }
        return new TotalRows(after, level, columns);
    }

    /** A visible field of all totals, in their order. */
    private Column visible(int field, List<Level> levels, List<Total> totals) {
        int slot = table.slots().get(field);
        List<Column> parts = new ArrayList<>();
        Map<Level, Integer> starts = new IdentityHashMap<>();
        int start = 0;
        for (Level level : levels) {
            @Nullable Column[] slots = level.merged().slots();
            @Nullable Column column = slot < slots.length ? slots[slot] : null;
            int size = level.after().length;
            parts.add(column == null ? Column.missing(table.schema().type(field), size) : column.flat());
            starts.put(level, start);
            start += size;
        }
        int[] order = totals.stream()
                .mapToInt(t -> Objects.requireNonNull(starts.get(t.level())) + t.number())
                .toArray();
        return Column.join(table.schema().type(field), parts).take(order, order.length);
    }
}
