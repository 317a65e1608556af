package dev.fiesta.engine;

import dev.fiesta.compute.Types;
import dev.fiesta.plan.TablePlan.Crossing;
import dev.fiesta.problem.DataException;
import dev.fiesta.value.Column;
import dev.fiesta.value.Field;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Texts;
import dev.fiesta.value.Type;
import dev.fiesta.walk.Order;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** Lays groups out as a cross-tabulation: some keys as rows, the others as columns, totals from the merged groups. */
final class CrossLayout {
    private static final int MOST_COLUMNS = 200;
    private static final String TOTAL = "Total";
    private static final String MISSING = "(missing)";

    private final Crossing plan;
    private final Rows groups;
    private final int[] rowOf;
    private final int[] columnOf;
    private final int rows;
    private final List<Object[]> heads = new ArrayList<>();
    private final List<Field> fields = new ArrayList<>();
    private final List<Column> columns = new ArrayList<>();

    CrossLayout(Crossing plan, Rows groups) {
        this.plan = plan;
        this.groups = groups;
        this.rowOf = RowsRunner.numbers(keys(0, plan.rows()), groups.size());
        this.rows = Arrays.stream(rowOf).max().orElse(-1) + 1;
        this.columnOf = heads();
    }

    private Column[] keys(int from, int count) {
        Column[] keys = new Column[count];
        for (int k = 0; k < count; k++) {
            keys[k] = groups.column(from + k);
        }
        return keys;
    }

    /** Finds the columns, and for each group its column. */
    private int[] heads() {
        Column[] keys = keys(plan.rows(), plan.across());
        if (plan.choices().stream().allMatch(Objects::nonNull)) {
            chosen(new Object[plan.across()], 0);
        } else {
            met(keys);
        }
        if (heads.size() * plan.figures().size() > MOST_COLUMNS) {
            throw new DataException(
                    "'against' would make " + heads.size() * plan.figures().size() + " columns, more than "
                            + MOST_COLUMNS + ". Choose some with 'in (…)', the others with 'rest as'.");
        }
        int[] column = new int[groups.size()];
        for (int g = 0; g < column.length; g++) {
            Object[] own = new Object[keys.length];
            for (int k = 0; k < keys.length; k++) {
                own[k] = keys[k].get(g);
            }
            column[g] = find(own);
        }
        return column;
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

    private void met(Column[] keys) {
        int[] order = Order.sort(
                Order.asTheyStand(groups.size()),
                Arrays.stream(keys).map(k -> new Order.Key(k, false)).toList());
        for (int row : order) {
            Object[] head = new Object[keys.length];
            for (int k = 0; k < keys.length; k++) {
                head[k] = keys[k].get(row);
            }
            if (heads.isEmpty() || !same(heads.get(heads.size() - 1), head)) {
                heads.add(head);
            }
        }
    }

    private int find(Object[] own) {
        for (int i = 0; i < heads.size(); i++) {
            if (same(heads.get(i), own)) {
                return i;
            }
        }
        return -1;
    }

    private static boolean same(Object[] a, Object[] b) {
        boolean same = true;
        for (int k = 0; k < a.length; k++) {
            boolean numbers = a[k] instanceof Number && b[k] instanceof Number;
            same &= numbers
                    ? new BigDecimal(Texts.of(a[k])).compareTo(new BigDecimal(Texts.of(b[k]))) == 0
                    : Objects.equals(a[k], b[k]);
        }
        return same;
    }

    Worked run() {
        int[] example = new int[rows];
        for (int g = groups.size() - 1; g >= 0; g--) {
            example[rowOf[g]] = g;
        }
        for (int k = 0; k < plan.rows(); k++) {
            add(plan.keys().get(k), groups.column(k).take(example, rows));
        }
        for (int c = 0; c < heads.size(); c++) {
            for (int f = 0; f < plan.figures().size(); f++) {
                add(
                        head(heads.get(c), f),
                        filled(groups.column(plan.slots().get(f)).take(cells(c), rows)));
            }
        }
        Totalling.TotalRows totals = plan.totals() ? totals(example) : null;
        Column[] all = columns.toArray(Column[]::new);
        return new Worked(new Schema(fields), new Rows(all.length == 0 ? 0 : all[0].size(), all, null), totals);
    }

    private void add(String name, Column column) {
        if (fields.stream().anyMatch(f -> f.name().equals(name))) {
            throw new DataException(
                    "'against' makes two columns named '" + name + "'. Rename one of the keys or values.");
        }
        fields.add(new Field(name, column.type()));
        columns.add(column.flat());
    }

    private String head(@Nullable Object[] values, int figure) {
        List<String> parts = new ArrayList<>();
        for (Object value : values) {
            parts.add(value == null ? MISSING : Texts.of(value));
        }
        if (plan.figures().size() > 1) {
            parts.add(plan.figures().get(figure));
        }
        return String.join(" ", parts);
    }

    /** For each row its group in a column, or -1. */
    private int[] cells(int column) {
        int[] cells = new int[rows];
        Arrays.fill(cells, -1);
        for (int g = 0; g < groups.size(); g++) {
            if (columnOf[g] == column) {
                cells[rowOf[g]] = g;
            }
        }
        return cells;
    }

    private Column filled(Column column) {
        if (plan.with() == null || column.valid() == null || !column.type().isNumeric()) {
            return column;
        }
        Column filling = Types.widen(Column.constant(Type.INTEGER, plan.with(), 1), column.type())
                .flat();
        Column both = Column.join(column.type(), List.of(column, filling));
        int[] pick = new int[column.size()];
        for (int i = 0; i < pick.length; i++) {
            pick[i] = column.isMissing(i) ? column.size() : i;
        }
        return both.take(pick, pick.length);
    }

    private Totalling.TotalRows totals(int[] example) {
        GroupStates states = Objects.requireNonNull(groups.states());
        Merging merging = new Merging(plan.recomputed(), states);
        int[] rowOfGroup = byNumber(states, rowOf);
        int[] columnOfGroup = byNumber(states, columnOf);
        int keys = plan.rows() + plan.across();
        Rows byRow = merging.rows(
                rowOfGroup, rows, keys(example, 0, plan.rows(), keys), has(rows, 0, plan.rows()), states.keys());
        for (int f = 0; f < plan.figures().size(); f++) {
            String name = plan.figures().size() == 1
                    ? TOTAL
                    : TOTAL + " " + plan.figures().get(f);
            add(name, byRow.column(plan.slots().get(f)));
        }
        int[] exampleOfColumn = new int[heads.size()];
        Arrays.fill(exampleOfColumn, -1);
        for (int g = 0; g < groups.size(); g++) {
            exampleOfColumn[columnOf[g]] = g;
        }
        Rows byColumn = merging.rows(
                columnOfGroup,
                heads.size(),
                keys(exampleOfColumn, plan.rows(), keys, keys),
                has(heads.size(), plan.rows(), keys),
                states.keys());
        Rows all = merging.rows(
                new int[states.numbers()], 1, keys(new int[] {-1}, 0, 0, keys), has(1, 0, 0), states.keys());
        return totalRow(byColumn, all);
    }

    /** What belongs to rows, by the number of their groups. */
    private int[] byNumber(GroupStates states, int[] ofRow) {
        LongColumn own = (LongColumn) groups.column(states.step().numberSlot());
        int[] ofGroup = new int[states.numbers()];
        Arrays.fill(ofGroup, -1);
        for (int row = 0; row < ofRow.length; row++) {
            ofGroup[(int) own.values()[row]] = ofRow[row];
        }
        return ofGroup;
    }

    private static BitSet[] has(int count, int from, int to) {
        BitSet bits = new BitSet();
        bits.set(from, to);
        BitSet[] each = new BitSet[count];
        Arrays.fill(each, bits);
        return each;
    }

    /** The keys of merged rows: those from one place to before another as their example has them, the others missing. */
    private Column[] keys(int[] example, int from, int to, int count) {
        Column[] keys = new Column[count];
        for (int k = 0; k < count; k++) {
            Column key = groups.column(k);
            boolean own = k >= from && k < to;
            keys[k] = own ? key.take(example, example.length) : Column.missing(key.type(), example.length);
        }
        return keys;
    }

    private Totalling.TotalRows totalRow(Rows byColumn, Rows all) {
        List<Column> cells = new ArrayList<>();
        for (int k = 0; k < plan.rows(); k++) {
            cells.add(Column.missing(fields.get(k).type(), 1));
        }
        for (int c = 0; c < heads.size(); c++) {
            for (int slot : plan.slots()) {
                cells.add(filled(byColumn.column(slot).take(new int[] {c}, 1)));
            }
        }
        for (int slot : plan.slots()) {
            cells.add(all.column(slot));
        }
        return new Totalling.TotalRows(new int[] {rows}, new int[] {0}, cells.toArray(Column[]::new));
    }
}
