package dev.fiesta.total;

import dev.fiesta.operate.group.GroupStates;
import dev.fiesta.step.TablePlan.AfterCrossing;
import dev.fiesta.step.TablePlan.Crossing;
import dev.fiesta.store.PartitionStarts;
import dev.fiesta.store.Rows;
import dev.fiesta.store.Stored;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.Field;
import dev.fiesta.work.Workers;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** The total row of a cross-tabulation, merged from the groups of the rows that stand. */
final class CrossTotals {
    private static final short NONE = -1;

    private final Crossing plan;
    private final CrossHeads heads;
    private final GroupStates states;
    private final List<Column> typed;
    /** For each group, by its number, its column; {@link #NONE} where its row does not stand. */
    private final short[] columnOf;
    /** For columns that have groups the keys of one of them. */
    private final Map<Integer, Column[]> keysOf = new HashMap<>();

    /** @param standing the numbers of the rows that stand */
    CrossTotals(Crossing plan, CrossHeads heads, Stored groups, GroupStates states, BitSet standing) {
        this.plan = plan;
        this.heads = heads;
        this.states = states;
        this.typed = keys(groups.batch(0), 0, plan.rows() + plan.across());
        this.columnOf = new short[states.numbers()];
        Arrays.fill(columnOf, NONE);
        PartitionStarts changes = new PartitionStarts();
        CrossHeads.Finder finder = heads.new Finder();
        int row = -1;
        for (int b = 0; b < groups.blocks(); b++) {
            Workers.stopIfInterrupted();
            Batch block = groups.batch(b);
            boolean[] begins = changes.in(keys(block, 0, plan.rows()), block.size());
            int[] columns = finder.of(block);
            long[] numbers = CrossCells.numbers(block, states);
            List<Column> across = keys(block, plan.rows(), plan.rows() + plan.across());
            for (int g = 0; g < columns.length; g++) {
                row += begins[g] ? 1 : 0;
                int group = g;
                if (columns[g] >= 0) {
                    keysOf.computeIfAbsent(
                            columns[g],
                            c -> across.stream().map(k -> k.range(group, 1)).toArray(Column[]::new));
                }
                columnOf[(int) numbers[g]] = standing.get(row) ? (short) columns[g] : NONE;
            }
        }
    }

    private static List<Column> keys(Batch rows, int from, int to) {
        List<Column> keys = new ArrayList<>();
        for (int k = from; k < to; k++) {
            keys.add(rows.column(k).flat());
        }
        return keys;
    }

    /**
     * The row.
     *
     * @param fields the visible fields, {@code slots} where they stand
     * @param after how many rows it stands behind
     */
    Totalling.TotalRows row(List<Field> fields, List<Integer> slots, int after) {
        AfterCrossing later = plan.after();
        int figures = plan.figures().size();
        BitSet none = new BitSet();
        BitSet across = new BitSet();
        across.set(plan.rows(), plan.rows() + plan.across());
        Merging merging = new Merging(plan.recomputed(), states);
        Rows byColumn = merging.rows(this::columns, heads.size(), keysOfColumns(), across)
                .rows();
        Rows all = merging.rows((keys, first, groups) -> whole(first, groups), 1, missing(1), none)
                .rows();
        BitSet empty = new BitSet();
        empty.set(0, heads.size());
        for (short column : columnOf) {
            if (column >= 0) {
                empty.clear(column);
            }
        }
        @Nullable Column[] row = new Column[heads.slots()];
        System.arraycopy(missing(1), 0, row, 0, plan.rows());
        BitSet nothing = new BitSet();
        nothing.set(0, empty.cardinality() == heads.size());
        for (int f = 0; f < figures; f++) {
            int figure = plan.slots().get(f);
            row[plan.totalSlot(f)] = CrossCells.filled(plan, all.column(figure).flat(), figure, nothing);
            for (int c = 0; c < heads.size(); c++) {
                BitSet lacking = new BitSet();
                lacking.set(0, empty.get(c));
                Column cell = byColumn.column(figure).take(new int[] {c}, 1);
                row[later.cells() + c * figures + f] = CrossCells.filled(plan, cell, figure, lacking);
            }
        }
        Rows replayed = Merging.replay(later.replay(), new Rows(1, row), none);
        Column[] cells = new Column[fields.size()];
        for (int i = 0; i < cells.length; i++) {
            int slot = slots.get(i);
            Column known = slot < replayed.slots().length ? replayed.slots()[slot] : null;
            cells[i] = known == null ? Column.missing(fields.get(i).type(), 1) : known;
        }
        return new Totalling.TotalRows(new int[] {after}, new int[] {0}, cells);
    }

    private int[] columns(Column[] keys, int first, int groups) {
        int[] columns = new int[groups];
        Arrays.setAll(columns, i -> columnOf[first + i]);
        return columns;
    }

    private int[] whole(int first, int groups) {
        int[] whole = new int[groups];
        Arrays.setAll(whole, i -> columnOf[first + i] >= 0 ? 0 : -1);
        return whole;
    }

    private Column[] missing(int size) {
        return typed.stream().map(k -> Column.missing(k.type(), size)).toArray(Column[]::new);
    }

    /** The keys of the merged columns: those across as one of their groups has them, the others missing. */
    private Column[] keysOfColumns() {
        Column[] keys = missing(heads.size());
        for (int k = plan.rows(); k < keys.length && heads.size() > 0; k++) {
            List<Column> parts = new ArrayList<>();
            for (int c = 0; c < heads.size(); c++) {
                Column[] known = keysOf.get(c);
                parts.add(known == null ? Column.missing(typed.get(k).type(), 1) : known[k - plan.rows()]);
            }
            keys[k] = Column.join(typed.get(k).type(), parts);
        }
        return keys;
    }
}
