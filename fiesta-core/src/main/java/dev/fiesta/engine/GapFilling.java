package dev.fiesta.engine;

import dev.fiesta.compute.Types;
import dev.fiesta.gather.GroupTable;
import dev.fiesta.gather.Image;
import dev.fiesta.plan.Step;
import dev.fiesta.problem.DataException;
import dev.fiesta.value.Column;
import dev.fiesta.value.Days;
import dev.fiesta.value.Kind;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import dev.fiesta.value.Values;
import dev.fiesta.walk.Order;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import org.jspecify.annotations.Nullable;

/** Adds a row for each wanted value of a field that a combination of the other keys does not have. */
final class GapFilling {
    private static final int MOST = 50_000_000;

    private final Step.Gapless step;
    private final Rows rows;
    private final @Nullable Rows source;

    /** @param source the table that has the wanted values, or null when they are periods */
    GapFilling(Step.Gapless step, Rows rows, @Nullable Rows source) {
        this.step = step;
        this.rows = rows;
        this.source = source;
    }

    Rows run() {
        Column field = rows.column(step.slot());
        Column wanted = source == null ? periods((LongColumn) field) : distinct(source.column(step.sourceField()));
        Column[] within = rows.columns(step.within());
        int[] combination = RowsRunner.numbers(within, rows.size());
        int combinations = Arrays.stream(combination).max().orElse(-1) + 1;
        int[] example = new int[combinations];
        for (int i = rows.size() - 1; i >= 0; i--) {
            example[combination[i]] = i;
        }
        refuseMany((double) combinations * wanted.size());
        List<int[]> lacking = lacking(field, wanted, combination, combinations);
        int[] origin = lacking.stream().mapToInt(p -> example[p[0]]).toArray();
        int[] value = lacking.stream().mapToInt(p -> p[1]).toArray();
        @Nullable Column[] slots = new Column[rows.slots().length];
        for (int s = 0; s < slots.length; s++) {
            Column column = rows.slots()[s];
            if (column != null) {
                slots[s] = Column.join(column.type(), List.of(column, below(s, column.type(), wanted, origin, value)));
            }
        }
        Rows all = new Rows(rows.size() + origin.length, slots);
        List<Order.Key> order = new ArrayList<>();
        step.within().forEach(w -> order.add(new Order.Key(all.column(w), false)));
        order.add(new Order.Key(all.column(step.slot()), false));
        return all.take(Order.sort(Order.asTheyStand(all.size()), order));
    }

    private static void refuseMany(double rows) {
        if (rows > MOST) {
            throw new DataException(String.format(
                    Locale.ROOT,
                    "'gapless' would make %,.0f rows, more than %,d. Limit it with 'from … to …', or take a longer step.",
                    rows,
                    MOST));
        }
    }

    private Column below(int slot, Type type, Column wanted, int[] origin, int[] value) {
        if (slot == step.slot()) {
            return Types.widen(wanted.take(value, value.length), type);
        }
        if (step.within().contains(slot)) {
            return rows.column(slot).take(origin, origin.length);
        }
        boolean filled = step.filled().contains(slot) && step.with() != null;
        return filled
                ? Types.widen(Column.constant(Type.INTEGER, step.with(), origin.length), type)
                        .flat()
                : Column.missing(type, origin.length);
    }

    /** Pairs of a combination and a wanted value that no row has. */
    private static List<int[]> lacking(Column field, Column wanted, int[] combination, int combinations) {
        GroupTable values = new GroupTable(new Image(wanted.type()));
        int[] numbers = new int[wanted.size()];
        values.number(new Column[] {wanted}, wanted.size(), numbers);
        int known = values.size();
        int[] own = new int[field.size()];
        values.number(new Column[] {Types.widen(field, wanted.type())}, field.size(), own);
        boolean[][] met = new boolean[combinations][known];
        for (int i = 0; i < own.length; i++) {
            if (own[i] < known) {
                met[combination[i]][own[i]] = true;
            }
        }
        List<int[]> lacking = new ArrayList<>();
        for (int c = 0; c < combinations; c++) {
            for (int w = 0; w < numbers.length; w++) {
                if (!met[c][numbers[w]]) {
                    lacking.add(new int[] {c, w});
                }
            }
        }
        return lacking;
    }

    private static Column distinct(Column column) {
        Column[] key = {column};
        GroupTable table = RowsRunner.table(key);
        table.number(key, column.size(), new int[column.size()]);
        Column values = table.keys()[0];
        int[] present = java.util.stream.IntStream.range(0, values.size())
                .filter(i -> !values.isMissing(i))
                .toArray();
        return values.take(present, present.length);
    }

    /** The periods from the least to the greatest value, or between the limits given. */
    private Column periods(LongColumn field) {
        long least = Long.MAX_VALUE;
        long greatest = Long.MIN_VALUE;
        for (int i = 0; i < field.size(); i++) {
            if (!field.isMissing(i)) {
                least = Math.min(least, field.values()[i]);
                greatest = Math.max(greatest, field.values()[i]);
            }
        }
        least = step.from() == null ? least : Values.toLong(step.type(), step.from());
        greatest = step.to() == null ? greatest : Values.toLong(step.type(), step.to());
        refuseMany(least > greatest ? 0 : ((double) greatest - least) / length());
        List<Long> values = new ArrayList<>();
        for (long n = 0; ; n++) {
            long value = period(least, n);
            if (value > greatest) {
                break;
            }
            values.add(value);
        }
        long[] longs = values.stream().mapToLong(Long::longValue).toArray();
        return new LongColumn(step.type(), longs, longs.length, null);
    }

    /** The length of a period in units of the field; of months, of the longest. */
    private double length() {
        long micros = step.months() * 31 * Values.MICROS_A_DAY + step.micros();
        return switch (step.type().kind()) {
            case INTEGER -> 1;
            case DATE -> (double) micros / Values.MICROS_A_DAY;
            default -> micros;
        };
    }

    /** Months are counted from the first period, so that a 31st stays one where there is one. */
    private long period(long first, long n) {
        if (step.type().kind() == Kind.INTEGER) {
            return first + n;
        }
        return Days.shift(step.type(), first, n * step.months(), n * step.micros());
    }
}
