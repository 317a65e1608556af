package dev.fiesta.total;

import dev.fiesta.step.TablePlan;
import dev.fiesta.store.Stored;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.TruthColumn;
import java.util.Arrays;
import java.util.BitSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * Which cells are not shown. Where a total is shown, a single hidden part of it could be worked out by taking away the others;
 * so the least of the parts that are shown is hidden too.
 */
final class Hiding {
    private Hiding() {}

    /** The notes at cells: for each field their texts, and the rows. */
    static Map<String, Map<String, BitSet>> notes(TablePlan table, Stored rows) {
        Map<String, Map<String, BitSet>> notes = new LinkedHashMap<>();
        int first = table.passedOn().size() - table.marks().size();
        for (int m = 0; m < table.marks().size(); m++) {
            TablePlan.Mark mark = table.marks().get(m);
            if (mark.says() == TablePlan.Mark.Says.NOTE) {
                notes.computeIfAbsent(table.schema().names().get(mark.field()), f -> new LinkedHashMap<>())
                        .computeIfAbsent(mark.note(), n -> new BitSet())
                        .or(truths(rows, first + m));
            }
        }
        return notes;
    }

    /** The rows in which something is said of fields: that they are hidden, or rest on few records. */
    static Map<String, BitSet> of(
            TablePlan table, Stored rows, Totalling.@Nullable TotalRows totals, TablePlan.Mark.Says says) {
        boolean hides = says == TablePlan.Mark.Says.HIDDEN;
        Map<String, BitSet> marked = new LinkedHashMap<>();
        int first = table.passedOn().size() - table.marks().size();
        for (int m = 0; m < table.marks().size(); m++) {
            TablePlan.Mark mark = table.marks().get(m);
            if (mark.says() != says) {
                continue;
            }
            BitSet bits = truths(rows, first + m);
            if (hides && totals != null) {
                protect(rows, mark.field(), bits, totals);
            }
            marked.put(table.schema().names().get(mark.field()), bits);
        }
        return marked;
    }

    /** The rows in which a slot is true. */
    static BitSet truths(Stored rows, int slot) {
        BitSet bits = new BitSet();
        for (int b = 0, start = 0; b < rows.blocks(); b++) {
            Batch block = rows.batch(b);
            int before = start;
            truths(block.column(slot).flat(), block.size()).stream().forEach(i -> bits.set(before + i));
            start += block.size();
        }
        return bits;
    }

    private static BitSet truths(Column marks, int rows) {
        BitSet bits = new BitSet();
        for (int i = 0; i < rows; i++) {
            if (!marks.isMissing(i) && ((TruthColumn) marks).isTrue(i)) {
                bits.set(i);
            }
        }
        return bits;
    }

    /** The rows between two totals of the lowest level are the parts of the one behind them. */
    private static void protect(Stored rows, int slot, BitSet hidden, Totalling.TotalRows totals) {
        int lowest = Arrays.stream(totals.level()).max().orElse(0);
        int[] ends = IntStream.range(0, totals.after().length)
                .filter(t -> totals.level()[t] == lowest)
                .map(t -> totals.after()[t])
                .toArray();
        Alone alone = new Alone();
        int row = 0;
        int end = 0;
        for (int b = 0; b < rows.blocks(); b++) {
            Batch block = rows.batch(b);
            Column values = block.column(slot).flat();
            for (int i = 0; i < block.size(); i++, row++) {
                while (end < ends.length && ends[end] <= row) {
                    alone.protect(hidden);
                    alone = new Alone();
                    end++;
                }
                if (end < ends.length) {
                    alone.add(values, i, row, hidden.get(row));
                }
            }
        }
        if (end < ends.length) {
            alone.protect(hidden);
        }
    }

    /** The parts of one total as they are gone through. A hidden part that has no value must not be told either. */
    private static final class Alone {
        private int hidden;
        private int withValue;
        private int least = -1;
        private @Nullable Column values;
        private int at;

        /** @param part what {@link #company} gives when this part is the least that is shown */
        void add(Column column, int i, int part, boolean isHidden) {
            if (!column.type().isNumeric()) {
                return;
            }
            if (isHidden) {
                hidden++;
                withValue += column.isMissing(i) ? 0 : 1;
            } else if (!column.isMissing(i) && (values == null || less(column, i, values, at))) {
                least = part;
                values = column;
                at = i;
            }
        }

        /** The part to hide too, because only one is hidden, or only one that has a value (a count beside it may tell which); -1 for none. */
        int company() {
            return hidden == 1 || withValue == 1 ? least : -1;
        }

        /** Hides it; whether there was one. */
        boolean protect(BitSet bits) {
            boolean any = company() >= 0;
            if (any) {
                bits.set(company());
            }
            return any;
        }
    }

    private static boolean less(Column a, int row, Column b, int other) {
        if (a instanceof LongColumn left && b instanceof LongColumn right) {
            return left.values()[row & a.mask()] < right.values()[other & b.mask()];
        }
        return ((DoubleColumn) a).values()[row & a.mask()] < ((DoubleColumn) b).values()[other & b.mask()];
    }

    /**
     * Cells of one figure, laid out with totals of rows and of columns: until no hidden cell stands alone in either.
     *
     * @param slots of the columns of cells
     * @param hidden for each the rows in which it is hidden
     */
    static void protect(Stored rows, int[] slots, List<BitSet> hidden) {
        boolean more = true;
        while (more) {
            more = false;
            for (int b = 0, start = 0; b < rows.blocks(); b++) {
                Batch block = rows.batch(b);
                more |= inRows(columns(block, slots), block.size(), start, hidden);
                start += block.size();
            }
            List<Alone> below =
                    IntStream.range(0, slots.length).mapToObj(c -> new Alone()).toList();
            for (int b = 0, start = 0; b < rows.blocks(); b++) {
                Batch block = rows.batch(b);
                Column[] columns = columns(block, slots);
                for (int c = 0; c < slots.length; c++) {
                    for (int i = 0; i < block.size(); i++) {
                        below.get(c).add(columns[c], i, start + i, hidden.get(c).get(start + i));
                    }
                }
                start += block.size();
            }
            for (int c = 0; c < slots.length; c++) {
                more |= below.get(c).protect(hidden.get(c));
            }
        }
    }

    private static Column[] columns(Batch block, int[] slots) {
        return Arrays.stream(slots).mapToObj(s -> block.column(s).flat()).toArray(Column[]::new);
    }

    private static boolean inRows(Column[] columns, int rows, int start, List<BitSet> hidden) {
        boolean any = false;
        for (int i = 0; i < rows; i++) {
            Alone alone = new Alone();
            for (int c = 0; c < columns.length; c++) {
                alone.add(columns[c], i, c, hidden.get(c).get(start + i));
            }
            if (alone.company() >= 0) {
                hidden.get(alone.company()).set(start + i);
                any = true;
            }
        }
        return any;
    }
}
