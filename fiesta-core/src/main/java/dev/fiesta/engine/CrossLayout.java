package dev.fiesta.engine;

import dev.fiesta.problem.DataException;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.CrossNames;
import dev.fiesta.step.TablePlan.AfterCrossing;
import dev.fiesta.step.TablePlan.Crossing;
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
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** Lays groups out as a cross-tabulation: some keys as rows, the others as columns, totals from the merged groups. */
final class CrossLayout {
    private static final int MOST_COLUMNS = 200;

    private final Crossing plan;
    private final Rows groups;
    private final @Nullable GroupStates states;
    private final Notices notices;
    private final int[] rowOf;
    private final int[] columnOf;
    private final int rows;
    private final List<@Nullable Object[]> heads = new ArrayList<>();
    private final List<Field> fields = new ArrayList<>();
    private final List<Column> columns = new ArrayList<>();

    CrossLayout(Crossing plan, Rows groups, @Nullable GroupStates states, Notices notices) {
        this.plan = plan;
        this.states = states;
        this.groups = groups;
        this.notices = notices;
        this.rowOf = RowsRunner.numbers(keys(0, plan.rows()), groups.size());
        this.rows = Arrays.stream(rowOf).max().orElse(-1) + 1;
        this.columnOf = heads();
    }

    private GroupStates states() {
        return Objects.requireNonNull(states);
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
            @Nullable Object[] own = new @Nullable Object[keys.length];
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
                plan.order().stream()
                        .map(k -> new Order.Key(k.key().kernel(notices).eval(groups.batch()), k.descending()))
                        .toList());
        for (int row : order) {
            @Nullable Object[] head = new @Nullable Object[keys.length];
            for (int k = 0; k < keys.length; k++) {
                head[k] = keys[k].get(row);
            }
            if (heads.isEmpty() || !same(heads.get(heads.size() - 1), head)) {
                heads.add(head);
            }
        }
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

    /** @param steps runs what was done since; it tells nothing of it */
    Worked run(StepsRun steps) {
        int[] example = new int[rows];
        for (int g = groups.size() - 1; g >= 0; g--) {
            example[rowOf[g]] = g;
        }
        AfterCrossing after = plan.after();
        Rows laidOut = laidOut(example);
        BitSet all = new BitSet();
        all.set(0, laidOut.slots().length);
        after.steps().forEach(s -> s.before(new BitSet()).stream().forEach(all::set));
        after.slots().forEach(all::set);
        BitSet[] live = new BitSet[after.steps().size() + 1];
        Arrays.fill(live, all);
        Way way = Way.of("", "", after.steps(), null, live);
        int stands = way.before(after.standing());
        Rows standing = steps.run(way, 0, stands, Standing.all(laidOut), null, i -> {})
                .rows()
                .load();
        Rows end = steps.run(way, stands, way.steps().size(), Standing.all(standing), null, i -> {})
                .rows()
                .load();
        boolean fixed = plan.choices().stream().allMatch(Objects::nonNull);
        for (int i = 0; i < after.known(); i++) {
            add(after.names().get(i), end.column(after.slots().get(i)));
        }
        for (int c = 0; c < heads.size() * plan.figures().size() && !fixed; c++) {
            add(cellName(c), end.column(after.cells() + c));
        }
        for (int f = 0; f < plan.figures().size() && plan.totals(); f++) {
            add(CrossNames.total(plan.figures(), f), end.column(plan.totalSlot(f)));
        }
        for (int i = after.known(); i < after.names().size(); i++) {
            add(after.names().get(i), end.column(after.slots().get(i)));
        }
        Column[] shown = columns.toArray(Column[]::new);
        Totalling.TotalRows totals = plan.totals() ? totals(standing, end.size()) : null;
        return new Worked(new Schema(fields), new Rows(end.size(), shown), totals, hidden(end), Map.of(), Map.of(), 1);
    }

    private String cellName(int cell) {
        int figures = plan.figures().size();
        return CrossNames.cell(Arrays.asList(heads.get(cell / figures)), plan.figures(), cell % figures);
    }

    /** Keys, totals of the figures, the number of the row, and the cells, each in its slot. */
    private Rows laidOut(int[] example) {
        AfterCrossing after = plan.after();
        int cells = heads.size() * plan.figures().size();
        @Nullable Column[] slots = new Column[Math.max(plan.numberSlot() + 1, after.cells() + cells)];
        for (int k = 0; k < plan.rows(); k++) {
            slots[k] = groups.column(k).take(example, rows);
        }
        if (plan.totals() || !after.steps().isEmpty()) {
            Rows byRow = totalsOfRows(example);
            for (int f = 0; f < plan.figures().size(); f++) {
                slots[plan.totalSlot(f)] = byRow.column(plan.slots().get(f)).flat();
            }
        }
        long[] numbers = new long[rows];
        Arrays.setAll(numbers, i -> i);
        slots[plan.numberSlot()] = new LongColumn(Type.INTEGER, numbers, rows, null);
        for (int c = 0; c < cells; c++) {
            int figure = plan.slots().get(c % plan.figures().size());
            slots[after.cells() + c] = cell(figure, cells(c / plan.figures().size()));
        }
        return new Rows(rows, slots);
    }

    /** The cells that are not shown, and those that would tell them by a total of their row or column. */
    private Map<String, BitSet> hidden(Rows end) {
        Map<String, BitSet> hidden = new LinkedHashMap<>();
        for (int f = 0; f < plan.figures().size(); f++) {
            if (plan.marks().get(f) < 0) {
                continue;
            }
            Column marks = groups.column(plan.marks().get(f));
            int[] numbers = numbers(end);
            List<BitSet> bits = new ArrayList<>();
            List<Column> cells = new ArrayList<>();
            for (int c = 0; c < heads.size(); c++) {
                bits.add(Hiding.truths(marks.take(cells(c), rows).take(numbers, numbers.length), numbers.length));
                cells.add(
                        groups.column(plan.slots().get(f)).take(cells(c), rows).take(numbers, numbers.length));
            }
            if (plan.totals()) {
                Hiding.protect(cells, bits, numbers.length);
            }
            for (int c = 0; c < heads.size(); c++) {
                hidden.put(cellName(c * plan.figures().size() + f), bits.get(c));
            }
        }
        return hidden;
    }

    /** The numbers that rows had when they were laid out. */
    private int[] numbers(Rows laidOut) {
        LongColumn numbers = (LongColumn) laidOut.column(plan.numberSlot());
        return Arrays.stream(numbers.values())
                .limit(laidOut.size())
                .mapToInt(n -> (int) n)
                .toArray();
    }

    private void add(String name, Column column) {
        if (fields.stream().anyMatch(f -> f.name().equals(name))) {
            throw new DataException(
                    "'against' makes two columns named '" + name + "'. Rename one of the keys or values.");
        }
        fields.add(new Field(name, column.type()));
        columns.add(column.flat());
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

    /** A figure of one column: in rows without records there it is filled where the brief says so. */
    private Column cell(int figure, int[] groupOf) {
        Column cells = groups.column(figure).take(groupOf, groupOf.length);
        BitSet empty = new BitSet();
        for (int i = 0; i < groupOf.length; i++) {
            empty.set(i, groupOf[i] < 0);
        }
        return filled(cells, figure, empty);
    }

    private Column filled(Column cells, int figure, BitSet empty) {
        return plan.with() == null || !plan.additive().contains(figure)
                ? cells
                : Merging.filled(cells, empty, plan.with());
    }

    private Rows totalsOfRows(int[] example) {
        int keys = plan.rows() + plan.across();
        return new Merging(plan.recomputed(), states())
                .rows(into(byNumber(rowOf)), rows, keys(example, 0, plan.rows(), keys), has(0, plan.rows()))
                .rows();
    }

    /** The total row: the groups of the rows that stood where totals were asked for. */
    private Totalling.TotalRows totals(Rows standing, int after) {
        Merging merging = new Merging(plan.recomputed(), states());
        BitSet stand = new BitSet();
        for (int number : numbers(standing)) {
            stand.set(number);
        }
        int[] columnOfGroup = byNumber(columnOf);
        int[] whole = new int[states().numbers()];
        int[] rowOfGroup = byNumber(rowOf);
        for (int g = 0; g < whole.length; g++) {
            if (rowOfGroup[g] < 0 || !stand.get(rowOfGroup[g])) {
                whole[g] = -1;
                columnOfGroup[g] = -1;
            }
        }
        int keys = plan.rows() + plan.across();
        int[] exampleOfColumn = new int[heads.size()];
        Arrays.fill(exampleOfColumn, -1);
        for (int g = 0; g < groups.size(); g++) {
            exampleOfColumn[columnOf[g]] = g;
        }
        Rows byColumn = merging.rows(
                        into(columnOfGroup),
                        heads.size(),
                        keys(exampleOfColumn, plan.rows(), keys, keys),
                        has(plan.rows(), keys))
                .rows();
        Rows all = merging.rows(into(whole), 1, keys(new int[] {-1}, 0, 0, keys), has(0, 0))
                .rows();
        BitSet empty = new BitSet();
        empty.set(0, heads.size());
        for (int column : columnOfGroup) {
            if (column >= 0) {
                empty.clear(column);
            }
        }
        return totalRow(byColumn, all, empty, after);
    }

    /** What belongs to rows, by the number of their groups. */
    private int[] byNumber(int[] ofRow) {
        LongColumn own = (LongColumn) groups.column(states().step().numberSlot());
        int[] ofGroup = new int[states().numbers()];
        Arrays.fill(ofGroup, -1);
        for (int row = 0; row < ofRow.length; row++) {
            ofGroup[(int) own.values()[row]] = ofRow[row];
        }
        return ofGroup;
    }

    private static GroupStates.Into into(int[] byNumber) {
        return (keys, first, groups) -> Arrays.copyOfRange(byNumber, first, first + groups);
    }

    private static BitSet has(int from, int to) {
        BitSet bits = new BitSet();
        bits.set(from, to);
        return bits;
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

    /** @param empty the columns for which no record stands */
    private Totalling.TotalRows totalRow(Rows byColumn, Rows all, BitSet empty, int after) {
        AfterCrossing later = plan.after();
        @Nullable
        Column[] slots =
                new Column[later.cells() + heads.size() * plan.figures().size()];
        for (int k = 0; k < plan.rows(); k++) {
            slots[k] = Column.missing(groups.column(k).type(), 1);
        }
        for (int f = 0; f < plan.figures().size(); f++) {
            BitSet none = new BitSet();
            none.set(0, empty.cardinality() == heads.size());
            slots[plan.totalSlot(f)] =
                    filled(all.column(plan.slots().get(f)).flat(), plan.slots().get(f), none);
            for (int c = 0; c < heads.size(); c++) {
                int figure = plan.slots().get(f);
                BitSet nothing = new BitSet();
                nothing.set(0, empty.get(c));
                Column cell = byColumn.column(figure).take(new int[] {c}, 1);
                slots[later.cells() + c * plan.figures().size() + f] = filled(cell, figure, nothing);
            }
        }
        Rows row = Merging.replay(later.replay(), new Rows(1, slots), new BitSet());
        List<Column> cells = new ArrayList<>();
        for (int i = 0; i < fields.size(); i++) {
            int slot = slotOf(fields.get(i).name());
            Column known = slot < row.slots().length ? row.slots()[slot] : null;
            cells.add(known == null ? Column.missing(fields.get(i).type(), 1) : known);
        }
        return new Totalling.TotalRows(new int[] {after}, new int[] {0}, cells.toArray(Column[]::new));
    }

    private int slotOf(String name) {
        AfterCrossing after = plan.after();
        int place = after.names().indexOf(name);
        if (place >= 0) {
            return after.slots().get(place);
        }
        for (int f = 0; f < plan.figures().size(); f++) {
            if (CrossNames.total(plan.figures(), f).equals(name)) {
                return plan.totalSlot(f);
            }
        }
        int cell = 0;
        while (!cellName(cell).equals(name)) {
            cell++;
        }
        return after.cells() + cell;
    }
}
