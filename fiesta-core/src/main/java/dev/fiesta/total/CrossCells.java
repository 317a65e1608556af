package dev.fiesta.total;

import dev.fiesta.gather.keys.GroupTable;
import dev.fiesta.operate.group.GroupStates;
import dev.fiesta.step.TablePlan.AfterCrossing;
import dev.fiesta.step.TablePlan.Crossing;
import dev.fiesta.store.Rows;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import java.util.Arrays;
import java.util.BitSet;
import org.jspecify.annotations.Nullable;

/** Groups laid out as cells: those of whole rows of a cross-tabulation. */
final class CrossCells {
    private final Crossing plan;
    private final CrossHeads heads;
    private final Rows groups;
    private final int[] rowOf;
    private final int[] columnOf;
    private final int rows;

    CrossCells(Crossing plan, CrossHeads heads, CrossHeads.Finder finder, Rows groups) {
        this.plan = plan;
        this.heads = heads;
        this.groups = groups;
        Column[] keys = new Column[plan.rows()];
        Arrays.setAll(keys, groups::column);
        this.rowOf = GroupTable.numbers(keys, groups.size());
        this.rows = Arrays.stream(rowOf).max().orElse(-1) + 1;
        this.columnOf = finder.of(groups.batch());
    }

    int rows() {
        return rows;
    }

    /**
     * Keys, totals of the figures, the number of the row, and the cells, each in its slot.
     *
     * @param states what the groups have gathered; null where totals are not asked for
     * @param first the number of the first row
     */
    Rows laidOut(@Nullable GroupStates states, long first) {
        AfterCrossing after = plan.after();
        int figures = plan.figures().size();
        @Nullable Column[] slots = new Column[heads.slots() + heads.asides()];
        int[] example = example();
        for (int k = 0; k < plan.rows(); k++) {
            slots[k] = groups.column(k).take(example, rows);
        }
        if (states != null) {
            Rows byRow = totals(states, example);
            for (int f = 0; f < figures; f++) {
                slots[plan.totalSlot(f)] = byRow.column(plan.slots().get(f)).flat();
            }
        }
        long[] numbers = new long[rows];
        Arrays.setAll(numbers, i -> first + i);
        slots[plan.numberSlot()] = new LongColumn(Type.INTEGER, numbers, rows, null);
        for (int c = 0; c < heads.size(); c++) {
            int[] groupOf = groupOf(c);
            for (int f = 0; f < figures; f++) {
                int figure = plan.slots().get(f);
                slots[after.cells() + c * figures + f] = cell(figure, groupOf);
                if (plan.marks().get(f) >= 0) {
                    slots[heads.markSlot(c, f)] =
                            groups.column(plan.marks().get(f)).take(groupOf, rows);
                    slots[heads.figureSlot(c, f)] = groups.column(figure).take(groupOf, rows);
                }
            }
        }
        return new Rows(rows, slots);
    }

    /** The first group of each row. */
    private int[] example() {
        int[] example = new int[rows];
        for (int g = groups.size() - 1; g >= 0; g--) {
            example[rowOf[g]] = g;
        }
        return example;
    }

    /** For each row its group in a column, or -1. */
    private int[] groupOf(int column) {
        int[] cells = new int[rows];
        Arrays.fill(cells, -1);
        for (int g = 0; g < groups.size(); g++) {
            if (columnOf[g] == column) {
                cells[rowOf[g]] = g;
            }
        }
        return cells;
    }

    /** A figure of one column: in rows without records there it is filled where the brief says so. */
    private Column cell(int figure, int[] groupOf) {
        Column cells = groups.column(figure).take(groupOf, groupOf.length);
        BitSet empty = new BitSet();
        for (int i = 0; i < groupOf.length; i++) {
            empty.set(i, groupOf[i] < 0);
        }
        return filled(plan, cells, figure, empty);
    }

    static Column filled(Crossing plan, Column cells, int figure, BitSet empty) {
        return plan.with() == null || !plan.additive().contains(figure)
                ? cells
                : Merging.filled(cells, empty, plan.with());
    }

    private Rows totals(GroupStates states, int[] example) {
        long[] own = numbers(groups.batch(), states);
        int from = (int) Arrays.stream(own).min().orElse(0);
        int to = (int) Arrays.stream(own).max().orElse(-1) + 1;
        int[] row = new int[to - from];
        Arrays.fill(row, -1);
        for (int g = 0; g < own.length; g++) {
            row[(int) own[g] - from] = rowOf[g];
        }
        GroupStates.Into into = (keys, first, count) -> {
            int[] rowsOf = new int[count];
            Arrays.setAll(rowsOf, i -> first + i < from || first + i >= to ? -1 : row[first + i - from]);
            return rowsOf;
        };
        int all = plan.rows() + plan.across();
        Column[] keys = new Column[all];
        for (int k = 0; k < all; k++) {
            Column key = groups.column(k);
            keys[k] = k < plan.rows() ? key.take(example, rows) : Column.missing(key.type(), rows);
        }
        BitSet has = new BitSet();
        has.set(0, plan.rows());
        return new Merging(plan.recomputed(), states.part(from, to))
                .rows(into, rows, keys, has)
                .rows();
    }

    /** The numbers of groups. */
    static long[] numbers(Batch groups, GroupStates states) {
        Column numbers = groups.column(states.step().numberSlot()).flat();
        return Arrays.copyOf(((LongColumn) numbers).values(), groups.size());
    }
}
