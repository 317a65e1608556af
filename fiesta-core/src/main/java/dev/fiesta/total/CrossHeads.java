package dev.fiesta.total;

import dev.fiesta.gather.keys.GroupTable;
import dev.fiesta.problem.DataException;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.CrossNames;
import dev.fiesta.step.TablePlan.AfterCrossing;
import dev.fiesta.step.TablePlan.Crossing;
import dev.fiesta.store.ExternalSort;
import dev.fiesta.store.Memory;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.store.Stored;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.Texts;
import dev.fiesta.work.Workers;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** The columns of a cross-tabulation: combinations of the values of the keys that become columns, in their order. */
final class CrossHeads {
    private static final int MOST_COLUMNS = 200;

    private final Crossing plan;
    private final List<@Nullable Object[]> heads = new ArrayList<>();
    private @Nullable Object[] last = new Object[0];
    private long met;

    /** Those that are chosen, or else those that groups have. */
    CrossHeads(Crossing plan, Stored groups, Notices notices, Memory memory) {
        this.plan = plan;
        if (isFixed()) {
            chosen(new Object[plan.across()], 0);
        } else {
            BitSet keys = new BitSet();
            keys.set(plan.rows(), plan.rows() + plan.across());
            Stored some = groups instanceof SpilledRows ? groups : groups.load().keep(keys);
            Stored sorted = ExternalSort.sorted(some, plan.order(), keys, notices, memory);
            for (int b = 0; b < sorted.blocks(); b++) {
                Workers.stopIfInterrupted();
                met(sorted.batch(b));
            }
        }
        long columns = Math.max(met, heads.size()) * plan.figures().size();
        if (columns > MOST_COLUMNS) {
            throw new DataException("'against' would make " + columns + " columns, more than " + MOST_COLUMNS
                    + ". Choose some with 'in (…)', the others with 'rest as'.");
        }
    }

    /** Whether the brief says which columns there are. */
    boolean isFixed() {
        return plan.choices().stream().allMatch(Objects::nonNull);
    }

    int size() {
        return heads.size();
    }

    /** How many cells a row has: one for each column and figure. */
    int cells() {
        return heads.size() * plan.figures().size();
    }

    /** How many slots rows have that are laid out: see {@link AfterCrossing}. */
    int slots() {
        return Math.max(plan.numberSlot() + 1, plan.after().cells() + cells());
    }

    /** How many slots stand behind these, which tell what is hidden: of each figure that may be, for each column whether it is, and its value. */
    int asides() {
        return 2 * (int) plan.marks().stream().filter(m -> m >= 0).count() * heads.size();
    }

    /** The slot that tells in which rows a figure of a column is hidden. */
    int markSlot(int column, int figure) {
        int before = (int)
                plan.marks().subList(0, figure).stream().filter(m -> m >= 0).count();
        return slots() + 2 * (before * heads.size() + column);
    }

    /** The slot of the values of a figure of a column, missing in rows that have no records there. */
    int figureSlot(int column, int figure) {
        return markSlot(column, figure) + 1;
    }

    /** The name of a cell: of one column and figure. */
    String cellName(int cell) {
        int figures = plan.figures().size();
        return CrossNames.cell(Arrays.asList(heads.get(cell / figures)), plan.figures(), cell % figures);
    }

    private void chosen(@Nullable Object[] head, int k) {
        if (k == plan.across()) {
            heads.add(head.clone());
            return;
        }
        for (Object choice : Objects.requireNonNull(plan.choices().get(k))) {
            head[k] = choice;
            chosen(head, k + 1);
        }
    }

    /** Notes the heads of rows whose equal ones stand together; more than can be shown are counted only. */
    private void met(Batch rows) {
        Column[] keys = keys(rows);
        for (int row = 0; row < rows.size(); row++) {
            @Nullable Object[] head = head(keys, row);
            if (met == 0 || !same(last, head)) {
                last = head;
                if (met++ <= MOST_COLUMNS) {
                    heads.add(head);
                }
            }
        }
    }

    private Column[] keys(Batch rows) {
        Column[] keys = new Column[plan.across()];
        Arrays.setAll(keys, k -> rows.column(plan.rows() + k).flat());
        return keys;
    }

    private static @Nullable Object[] head(Column[] keys, int row) {
        @Nullable Object[] head = new @Nullable Object[keys.length];
        for (int k = 0; k < keys.length; k++) {
            head[k] = keys[k].get(row);
        }
        return head;
    }

    private int find(@Nullable Object[] own) {
        for (int i = 0; i < heads.size(); i++) {
            if (same(heads.get(i), own)) {
                return i;
            }
        }
        return -1;
    }

    private static boolean same(@Nullable Object[] a, @Nullable Object[] b) {
        boolean same = true;
        for (int k = 0; k < a.length; k++) {
            same &= a[k] instanceof Number x && b[k] instanceof Number y
                    ? new BigDecimal(Texts.of(x)).compareTo(new BigDecimal(Texts.of(y))) == 0
                    : Objects.equals(a[k], b[k]);
        }
        return same;
    }

    /** Finds the columns of groups: each combination of keys is looked up once. */
    final class Finder {
        private @Nullable GroupTable known;
        private int[] columns = new int[0];

        /** For each group its column; -1 for none. */
        int[] of(Batch groups) {
            Column[] keys = keys(groups);
            GroupTable table = known == null ? GroupTable.of(keys) : known;
            known = table;
            int[] numbers = new int[groups.size()];
            table.number(keys, numbers.length, numbers);
            int before = columns.length;
            columns = Arrays.copyOf(columns, Math.max(before, table.size()));
            Arrays.fill(columns, before, columns.length, -2);
            for (int g = 0; g < numbers.length; g++) {
                if (columns[numbers[g]] == -2) {
                    columns[numbers[g]] = find(head(keys, g));
                }
                numbers[g] = columns[numbers[g]];
            }
            return numbers;
        }
    }
}
