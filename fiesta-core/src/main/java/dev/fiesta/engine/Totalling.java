package dev.fiesta.engine;

import dev.fiesta.plan.TablePlan;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.walk.Order;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Comparator;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
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
    private final Rows rows;
    private final GroupStates states;
    private final int[] standing;

    Totalling(TablePlan table, TablePlan.TotalPlan plan, Rows rows) {
        this.table = table;
        this.plan = plan;
        this.rows = rows;
        this.states = Objects.requireNonNull(rows.states());
        this.standing = Objects.requireNonNull(states.standing());
    }

    TotalRows run() {
        List<Level> levels = new ArrayList<>();
        for (int level = plan.by(); level > 0; level--) {
            levels.add(subtotals(level));
        }
        int[] all = new int[states.numbers()];
        Arrays.fill(all, -1);
        for (int group : standing) {
            all[group] = 0;
        }
        levels.add(new Level(0, new int[] {rows.size()}, merged(0, all, new int[] {rows.size()})));
        return laidOut(levels);
    }

    /**
     * The rows with those of each subtotal together, whatever order they had: the first keys in the order in which they first appear,
     * the rows of each as they stood.
     */
    static Rows together(TablePlan.TotalPlan plan, Rows rows) {
        int[] order = Order.asTheyStand(rows.size());
        for (int level = plan.by(); level > 0; level--) {
            order = byNumber(order, prefixes(rows, level));
        }
        return plan.by() == 0 ? rows : rows.take(order);
    }

    /** For each row the number of the combination of its first keys, in the order in which they are met. */
    private static int[] prefixes(Rows rows, int level) {
        Column[] keys = new Column[level];
        Arrays.setAll(keys, rows::column);
        return RowsRunner.numbers(keys, rows.size());
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

    /** The totals of one level: one for each combination of so many first keys among the rows, which stand together. */
    private Level subtotals(int level) {
        int[] numbers = prefixes(rows, level);
        int count = Arrays.stream(numbers).max().orElse(-1) + 1;
        int[] after = new int[count];
        int[] into = new int[states.numbers()];
        Arrays.fill(into, -1);
        LongColumn own = (LongColumn) rows.column(states.step().numberSlot());
        for (int row = 0; row < rows.size(); row++) {
            after[numbers[row]] = row + 1;
            if (!own.isMissing(row)) {
                into[(int) own.values()[row]] = numbers[row];
            }
        }
        return new Level(level, after, merged(level, into, after));
    }

    /** Totals merged from groups; {@code after} is for each the number of rows up to the last one that has its keys. */
    private Rows merged(int level, int[] into, int[] after) {
        int size = after.length;
        int[] example = Arrays.stream(after).map(a -> a - 1).toArray();
        Column[] keys = new Column[states.keys().length];
        for (int k = 0; k < keys.length; k++) {
            keys[k] = k < level
                    ? rows.column(k).take(example, size).flat()
                    : Column.missing(states.keys()[k].type(), size);
        }
        BitSet has = new BitSet();
        has.set(0, level);
        BitSet[] each = new BitSet[size];
        Arrays.fill(each, has);
        return new Merging(plan.rows(), states).rows(into, size, keys, each, states.keys());
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
