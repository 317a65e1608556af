package dev.fiesta.operate;

import dev.fiesta.compute.FieldRef;
import dev.fiesta.compute.Types;
import dev.fiesta.problem.DataException;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.GaplessStep;
import dev.fiesta.step.OrderKey;
import dev.fiesta.store.ColumnBuilder;
import dev.fiesta.store.ExternalSort;
import dev.fiesta.store.Memory;
import dev.fiesta.store.PartitionStarts;
import dev.fiesta.store.Rows;
import dev.fiesta.store.RowsBuilder;
import dev.fiesta.store.Runs;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.store.Stored;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.Days;
import dev.fiesta.value.Kind;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import dev.fiesta.value.Values;
import dev.fiesta.work.Workers;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Locale;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/** Adds a row for each wanted value of a field that a combination of the other keys does not have. */
public final class GaplessOperator implements Operator {
    private static final int MOST = 50_000_000;

    private final GaplessStep step;
    private final Others others;
    private final Memory memory;

    public GaplessOperator(GaplessStep step, Ground ground) {
        this.step = step;
        this.others = ground.others();
        this.memory = ground.memory();
    }

    @Override
    public Stored run(Stored rows, BitSet before, BitSet after) {
        Type type = rows.batch(0).column(step.slot()).type();
        List<OrderKey> order = new ArrayList<>();
        for (int slot : step.within()) {
            order.add(new OrderKey(new FieldRef(slot, rows.batch(0).column(slot).type()), false));
        }
        order.add(new OrderKey(new FieldRef(step.slot(), type), false));
        Stored sorted = ExternalSort.sorted(rows, order, before, new Notices(), memory);
        Stored values = step.source() == null ? held(periods(sorted)) : distinct(others.stored(step.source()));
        refuseMany((double) combinations(sorted) * values.rows());
        RowsBuilder all = new RowsBuilder(memory, after);
        new Walk(new Wanted(values, type), after, all).go(sorted);
        return all.finish();
    }

    /** How many combinations of the other keys there are, in sorted rows. */
    private long combinations(Stored sorted) {
        PartitionStarts changes = new PartitionStarts();
        long count = 0;
        for (int b = 0; b < sorted.blocks(); b++) {
            Batch block = sorted.batch(b);
            for (boolean other : changes.in(keys(block), block.size())) {
                count += other ? 1 : 0;
            }
        }
        return count;
    }

    private List<Column> keys(Batch block) {
        return step.within().stream().map(w -> block.column(w).flat()).toList();
    }

    private static Rows held(Column values) {
        return new Rows(values.size(), new Column[] {values});
    }

    /** The wanted values in their order, page by page, as often as there are combinations. */
    private static final class Wanted {
        private final Stored values;
        private final Type type;
        private Column page;
        private int block;
        private int row;

        Wanted(Stored values, Type type) {
            this.values = values;
            this.type = type;
            this.page = read(0);
            settle();
        }

        private Column read(int number) {
            return Types.widen(values.batch(number).column(0).flat(), type).flat();
        }

        void rewind() {
            if (block > 0) {
                block = 0;
                page = read(0);
            }
            row = 0;
            settle();
        }

        boolean isEnd() {
            return row == page.size();
        }

        void next() {
            row++;
            settle();
        }

        /** Goes on to the next page that has values, where there is one. */
        private void settle() {
            while (row == page.size() && block + 1 < values.blocks()) {
                page = read(++block);
                row = 0;
            }
        }

        int compare(Column field, int other) {
            return Runs.compare(page, row, field, other, false);
        }
    }

    /** Sorted rows on their way, with new ones between them. */
    private final class Walk {
        private static final int MOST_AT_ONCE = 1 << 13;

        private final Wanted wanted;
        private final BitSet after;
        private final RowsBuilder all;
        private final int[] rows = new int[MOST_AT_ONCE];
        private final boolean[] isNew = new boolean[MOST_AT_ONCE];
        private final Column[] newPages = new Column[MOST_AT_ONCE];
        private final int[] newRows = new int[MOST_AT_ONCE];
        private int size;
        private int news;

        Walk(Wanted wanted, BitSet after, RowsBuilder all) {
            this.wanted = wanted;
            this.after = after;
            this.all = all;
        }

        /** Each block is looked at with the last row before it, whose combination may have ended there. */
        void go(Stored sorted) {
            Rows last = null;
            for (int b = 0; b < sorted.blocks(); b++) {
                Workers.stopIfInterrupted();
                Rows block = loaded(sorted.batch(b));
                Rows both = last == null ? block : Rows.join(List.of(last, block));
                walk(both, last == null ? 0 : 1);
                last = block.size() > 0 ? both.range(both.size() - 1, both.size()) : last;
                if (last == null && b == sorted.blocks() - 1) {
                    all.add(block.batch());
                }
            }
            if (last != null) {
                lacking(last, 0);
                flush(last);
            }
        }

        private Rows loaded(Batch block) {
            BitSet read = (BitSet) after.clone();
            read.set(step.slot());
            step.within().forEach(read::set);
            @Nullable Column[] slots = new Column[read.length()];
            for (int s = read.nextSetBit(0); s >= 0; s = read.nextSetBit(s + 1)) {
                slots[s] = block.column(s).flat();
            }
            return new Rows(block.size(), slots);
        }

        private void walk(Rows block, int from) {
            List<Column> keys = keys(block.batch());
            Column field = block.column(step.slot());
            for (int i = from; i < block.size(); i++) {
                if (i > 0 && Runs.differ(keys, i - 1, keys, i)) {
                    lacking(block, i - 1);
                    wanted.rewind();
                }
                while (!wanted.isEnd() && wanted.compare(field, i) < 0) {
                    add(block, i, true);
                }
                if (!wanted.isEnd() && wanted.compare(field, i) == 0) {
                    wanted.next();
                }
                add(block, i, false);
            }
            flush(block);
        }

        /** New rows of the combination of a row, for all values that are left. */
        private void lacking(Rows block, int row) {
            while (!wanted.isEnd()) {
                add(block, row, true);
            }
        }

        /** @param made whether it is a new row, of the next wanted value, or the row itself */
        private void add(Rows block, int row, boolean made) {
            if (size == MOST_AT_ONCE) {
                flush(block);
            }
            rows[size] = row;
            isNew[size++] = made;
            if (made) {
                newPages[news] = wanted.page;
                newRows[news++] = wanted.row;
                wanted.next();
            }
        }

        private void flush(Rows block) {
            @Nullable Column[] slots = new Column[after.length()];
            after.stream().forEach(s -> slots[s] = column(s, block.column(s)));
            all.add(Batch.of(size, slots, 0));
            size = 0;
            news = 0;
        }

        private Column column(int slot, Column own) {
            if (step.within().contains(slot)) {
                return own.take(rows, size);
            }
            int[] pick = new int[size];
            for (int i = 0, next = own.size(); i < size; i++) {
                pick[i] = isNew[i] ? next++ : rows[i];
            }
            return Column.join(own.type(), List.of(own, added(slot, own.type())))
                    .take(pick, size);
        }

        /** A field of new rows. */
        private Column added(int slot, Type type) {
            if (slot == step.slot()) {
                return ColumnBuilder.of(type, newPages, newRows, news);
            }
            return step.filled().contains(slot) && step.with() != null
                    ? Types.widen(Column.constant(Type.INTEGER, step.with(), news), type)
                            .flat()
                    : Column.missing(type, news);
        }
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

    /** The different values of the field of the other table, in their order. */
    private Stored distinct(Stored theirs) {
        BitSet value = new BitSet();
        value.set(0);
        Stored values = theirs instanceof SpilledRows file
                ? file.project(List.of(step.sourceField()), value)
                : held(theirs.load().column(step.sourceField()).flat());
        FieldRef key = new FieldRef(0, values.batch(0).column(0).type());
        Stored sorted = ExternalSort.sorted(values, List.of(new OrderKey(key, false)), value, new Notices(), memory);
        PartitionStarts changes = new PartitionStarts();
        RowsBuilder different = new RowsBuilder(memory, value);
        for (int b = 0; b < sorted.blocks(); b++) {
            Workers.stopIfInterrupted();
            Batch block = sorted.batch(b);
            Column column = block.column(0).flat();
            boolean[] others = changes.in(List.of(column), block.size());
            int[] picked = IntStream.range(0, block.size())
                    .filter(row -> others[row] && !column.isMissing(row))
                    .toArray();
            different.add(block.select(picked, picked.length));
        }
        return different.finish();
    }

    /** The periods from the least to the greatest value, or between the limits given. */
    private Column periods(Stored rows) {
        long least = Long.MAX_VALUE;
        long greatest = Long.MIN_VALUE;
        for (int b = 0; b < rows.blocks(); b++) {
            LongColumn field = (LongColumn) rows.batch(b).column(step.slot()).flat();
            for (int i = 0; i < field.size(); i++) {
                if (!field.isMissing(i)) {
                    least = Math.min(least, field.values()[i]);
                    greatest = Math.max(greatest, field.values()[i]);
                }
            }
        }
        least = step.from() == null ? least : Values.toLong(step.type(), step.from());
        greatest = step.to() == null ? greatest : Values.toLong(step.type(), step.to());
        refuseMany(least > greatest ? 0 : ((double) greatest - least) / length());
        long[] values = new long[64];
        int size = 0;
        for (long value = period(least, 0); value <= greatest; value = period(least, size)) {
            values = size == values.length ? Arrays.copyOf(values, 2 * size) : values;
            values[size++] = value;
        }
        return new LongColumn(step.type(), Arrays.copyOf(values, size), size, null);
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
