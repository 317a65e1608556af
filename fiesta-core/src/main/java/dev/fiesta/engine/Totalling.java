package dev.fiesta.engine;

import dev.fiesta.plan.TablePlan;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
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
        levels.add(new Level(0, new int[] {rows.size()}, merged(0, all, new int[] {-1})));
        return laidOut(levels);
    }

    /** The totals of one level: one for each combination of so many first keys among the groups that stand. */
    private Level subtotals(int level) {
        Column[] keys = Arrays.copyOf(states.keys(), level);
        int[] numbers = RowsRunner.numbers(keys, states.numbers());
        int[] place = places(level, keys, numbers);
        int[] totalOf = new int[numbers.length];
        Arrays.fill(totalOf, -1);
        int[] into = totalOf.clone();
        int[] example = new int[numbers.length];
        int[] after = new int[numbers.length];
        int count = 0;
        for (int group : standing) {
            int number = numbers[group];
            if (totalOf[number] < 0) {
                after[count] = place[number] < 0 ? rows.size() : place[number];
                totalOf[number] = count++;
            }
            into[group] = totalOf[number];
            example[totalOf[number]] = group;
        }
        return new Level(level, Arrays.copyOf(after, count), merged(level, into, Arrays.copyOf(example, count)));
    }

    /** For each combination of keys, by number, the number of rows up to its last one; -1 for none. */
    private int[] places(int level, Column[] keys, int[] numbers) {
        int[] place = new int[states.numbers()];
        Arrays.fill(place, -1);
        Column[] shown = new Column[level];
        for (int k = 0; k < level; k++) {
            shown[k] = rows.column(k);
        }
        LongColumn own = (LongColumn) rows.column(states.step().numberSlot());
        for (int row = 0; row < rows.size(); row++) {
            int number = own.isMissing(row) ? find(keys, numbers, shown, row) : numbers[(int) own.values()[row]];
            place[number] = Math.max(place[number], row + 1);
        }
        return place;
    }

    /** Totals merged from groups; {@code example} is for each a group that has its keys. */
    private Rows merged(int level, int[] into, int[] example) {
        int size = example.length;
        Column[] keys = new Column[states.keys().length];
        int[] none = new int[size];
        Arrays.fill(none, -1);
        for (int k = 0; k < keys.length; k++) {
            keys[k] = states.keys()[k].take(k < level ? example : none, size);
        }
        BitSet has = new BitSet();
        has.set(0, level);
        BitSet[] each = new BitSet[size];
        Arrays.fill(each, has);
        return new Merging(plan.rows(), states).rows(into, size, keys, each, states.keys());
    }

    /** Rows that filled a gap have no number; they stand with the groups whose first keys they have. */
    private static int find(Column[] keys, int[] numbers, Column[] shown, int row) {
        for (int group = 0; group < numbers.length; group++) {
            boolean same = true;
            for (int k = 0; same && k < keys.length; k++) {
                same = java.util.Objects.equals(keys[k].get(group), shown[k].get(row));
            }
            if (same) {
                return numbers[group];
            }
        }
        throw new IllegalStateException("a row whose group is not known");
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
