package dev.fiesta.operate.join;

import dev.fiesta.compute.Types;
import dev.fiesta.gather.keys.GroupTable;
import dev.fiesta.gather.values.Image;
import dev.fiesta.step.MatchStep;
import dev.fiesta.store.Rows;
import dev.fiesta.store.Runs;
import dev.fiesta.value.Column;
import dev.fiesta.value.Halving;
import dev.fiesta.value.Texts;
import dev.fiesta.value.Type;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Objects;
import java.util.stream.IntStream;

/** Finds for rows of ours the rows of another table with the same keys. For several workers at once. */
final class JoinBuild {
    static final int NONE = -1;

    private final MatchStep step;
    private final Type[] types;
    private final GroupTable table;
    private final int known;
    private final int[] starts;
    private final int[] rows;
    private final boolean[] unusable;
    private final Column latest;
    private final BitSet repeated = new BitSet();

    /**
     * @param theirs the other table; slots are its visible fields
     * @param ourDate the type of what dates our rows
     */
    JoinBuild(MatchStep step, Rows theirs, Type[] ourTypes, Type ourDate) {
        this.step = step;
        int keys = step.theirs().size();
        Column[] columns = theirs.columns(step.theirs());
        this.types = new Type[keys];
        Image[] images = new Image[keys];
        for (int k = 0; k < keys; k++) {
            types[k] = Objects.requireNonNull(Types.common(ourTypes[k], columns[k].type()));
            images[k] = new Image(types[k]);
            columns[k] = Types.keys(columns[k], types[k]);
        }
        this.table = new GroupTable(images);
        int[] numbers = new int[theirs.size()];
        table.number(columns, theirs.size(), numbers);
        this.known = table.size();
        this.unusable = new boolean[known];
        for (int i = 0; i < theirs.size(); i++) {
            for (Column column : columns) {
                unusable[numbers[i]] |= column.isMissing(i);
            }
        }
        this.latest = step.latestTheirs() >= 0
                ? dates(theirs.column(step.latestTheirs()), ourDate)
                : Column.missing(Type.EMPTY, 0);
        this.starts = new int[known + 1];
        this.rows = byKey(numbers, theirs.size());
        markRepeated(numbers);
    }

    /** Dates as their type in common with others. */
    private static Column dates(Column dates, Type others) {
        Type common = Objects.requireNonNull(Types.common(dates.type(), others));
        return Types.keys(dates, common).flat();
    }

    /** Their rows, key by key; within a key by the date if there is one, else as they stand. */
    private int[] byKey(int[] numbers, int size) {
        for (int number : numbers) {
            starts[number + 1]++;
        }
        for (int i = 0; i < known; i++) {
            starts[i + 1] += starts[i];
        }
        int[] order = IntStream.range(0, size).toArray();
        if (step.latestTheirs() >= 0) {
            order = dev.fiesta.walk.Order.sort(order, List.of(new dev.fiesta.walk.Order.Key(latest, false)));
        }
        int[] next = Arrays.copyOf(starts, known);
        int[] laid = new int[size];
        for (int row : order) {
            laid[next[numbers[row]]++] = row;
        }
        return laid;
    }

    /** Marks keys that would multiply rows: those that stand twice, when something is brought and that is not wanted. */
    private void markRepeated(int[] numbers) {
        if (step.each() || step.bring().isEmpty()) {
            return;
        }
        int[] before = new int[known];
        Arrays.fill(before, -1);
        for (int p = 0; p < rows.length; p++) {
            int number = numbers[rows[p]];
            boolean again = before[number] >= 0 && (step.latestTheirs() < 0 || isSameDate(before[number], p));
            if (again && !unusable[number]) {
                repeated.set(number);
            }
            before[number] = p;
        }
    }

    /** Whether a number stands for a key that would multiply rows. */
    boolean isRepeated(int number) {
        return number != NONE && repeated.get(number);
    }

    /** Whether there are such keys. */
    boolean anyRepeated() {
        return !repeated.isEmpty();
    }

    private boolean isSameDate(int p, int q) {
        return !latest.isMissing(rows[p]) && Runs.compare(latest, rows[p], latest, rows[q], false) == 0;
    }

    static String shown(Column column, int row) {
        Object value = column.get(row);
        return value == null ? Texts.MISSING_KEY : value instanceof String text ? "'" + text + "'" : Texts.of(value);
    }

    /** Looks keys up for one worker. */
    GroupTable.Finder finder() {
        return table.new Finder();
    }

    /** The number of each of our rows' keys; {@link #NONE} where no row of theirs has them. */
    void numbers(GroupTable.Finder finder, Column[] ours, int size, int[] numbers) {
        Column[] keys = new Column[ours.length];
        for (int k = 0; k < keys.length; k++) {
            keys[k] = Types.keys(ours[k], types[k]);
        }
        finder.find(keys, size, numbers);
        for (int i = 0; i < size; i++) {
            boolean usable = numbers[i] >= 0 && numbers[i] < known && !unusable[numbers[i]];
            numbers[i] = usable ? numbers[i] : NONE;
        }
    }

    /** Their one row for each of ours, or {@link #NONE}. */
    int[] single(int[] numbers, Column ourDates) {
        boolean dated = step.latestTheirs() >= 0;
        Column dates = dated ? dates(ourDates, latest.type()) : ourDates;
        int[] found = new int[numbers.length];
        for (int i = 0; i < found.length; i++) {
            int number = numbers[i];
            found[i] = number == NONE ? NONE : dated ? latest(number, dates, i) : rows[starts[number]];
        }
        return found;
    }

    /** The last of their rows, which stand by date, that is not behind ours. */
    private int latest(int number, Column dates, int row) {
        if (dates.isMissing(row)) {
            return NONE;
        }
        int first = starts[number];
        int behind = Halving.behind(
                first,
                starts[number + 1],
                p -> Runs.compare(latest, rows[p], dates, row, false) <= 0); // missing stands last
        return behind == first ? NONE : rows[behind - 1];
    }

    int count(int number) {
        return starts[number + 1] - starts[number];
    }

    /** The n-th of their rows for a number. */
    int row(int number, int n) {
        return rows[starts[number] + n];
    }
}
