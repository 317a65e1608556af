package dev.fiesta.engine;

import dev.fiesta.plan.Step;
import dev.fiesta.plan.TablePlan;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
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

    /** One total: how many keys it has, the place where it stands, and one of its groups. */
    private record Total(int level, int after, int example) {}

    private final TablePlan table;
    private final TablePlan.TotalPlan plan;
    private final Rows rows;
    private final GroupStates states;
    private final int[] standing;

    Totalling(TablePlan table, TablePlan.TotalPlan plan, Rows rows) {
        this.table = table;
        this.plan = plan;
        this.rows = rows;
        this.states = java.util.Objects.requireNonNull(rows.states());
        this.standing = java.util.Objects.requireNonNull(states.standing());
    }

    TotalRows run() {
        List<Total> totals = new ArrayList<>();
        List<int[]> into = new ArrayList<>();
        for (int level = plan.by(); level > 0; level--) {
            subtotals(level, totals, into);
        }
        int[] all = new int[states.numbers()];
        Arrays.fill(all, -1);
        for (int group : standing) {
            all[group] = 0;
        }
        totals.add(new Total(0, rows.size(), -1));
        into.add(all);
        return laidOut(totals, into);
    }

    /** The totals of one level: one for each combination of so many first keys among the groups that stand. */
    private void subtotals(int level, List<Total> totals, List<int[]> into) {
        Column[] keys = Arrays.copyOf(states.keys(), level);
        int[] numbers = RowsRunner.numbers(keys, states.numbers());
        int[] place = new int[states.numbers()];
        Column[] shown = new Column[level];
        for (int k = 0; k < level; k++) {
            shown[k] = rows.column(k);
        }
        int count = Arrays.stream(numbers).max().orElse(-1) + 1;
        Arrays.fill(place, -1);
        LongColumn own = (LongColumn) rows.column(states.step().numberSlot());
        for (int row = 0; row < rows.size(); row++) {
            int number = own.isMissing(row) ? find(keys, numbers, shown, row) : numbers[(int) own.values()[row]];
            place[number] = Math.max(place[number], row + 1);
        }
        for (int number = 0; number < count; number++) {
            int[] groups = new int[states.numbers()];
            Arrays.fill(groups, -1);
            int example = -1;
            for (int group : standing) {
                if (numbers[group] == number) {
                    groups[group] = 0;
                    example = group;
                }
            }
            if (example >= 0) {
                totals.add(new Total(level, place[number] < 0 ? rows.size() : place[number], example));
                into.add(groups);
            }
        }
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

    private TotalRows laidOut(List<Total> totals, List<int[]> into) {
        Integer[] order = new Integer[totals.size()];
        Arrays.setAll(order, i -> i);
        Arrays.sort(
                order,
                (a, b) -> totals.get(a).after() != totals.get(b).after()
                        ? Integer.compare(totals.get(a).after(), totals.get(b).after())
                        : Integer.compare(totals.get(b).level(), totals.get(a).level()));
        List<Column[]> parts = new ArrayList<>();
        int[] after = new int[order.length];
        int[] level = new int[order.length];
        for (int i = 0; i < order.length; i++) {
            Total total = totals.get(order[i]);
            after[i] = total.after();
            level[i] = total.level();
            parts.add(visible(total, into.get(order[i])));
        }
        Column[] columns = new Column[table.slots().size()];
        for (int f = 0; f < columns.length; f++) {
            int field = f;
            columns[f] = Column.join(
                    table.schema().type(f), parts.stream().map(p -> p[field]).toList());
        }
        return new TotalRows(after, level, columns);
    }

    private Column[] visible(Total total, int[] into) {
        Column[] keys = new Column[states.keys().length];
        BitSet has = new BitSet();
        has.set(0, total.level());
        for (int k = 0; k < keys.length; k++) {
            int[] origin = {k < total.level() ? total.example() : -1};
            keys[k] = states.keys()[k].take(origin, 1);
        }
        Step.Recomputed how = plan.rows();
        Rows merged = new Merging(how, states).rows(into, 1, keys, new BitSet[] {has}, states.keys());
        Column[] visible = new Column[table.slots().size()];
        for (int f = 0; f < visible.length; f++) {
            int slot = table.slots().get(f);
            @Nullable Column column = slot < merged.slots().length ? merged.slots()[slot] : null;
            visible[f] = column == null ? Column.missing(table.schema().type(f), 1) : column;
        }
        return visible;
    }
}
