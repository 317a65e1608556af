package dev.fiesta.operate;

import dev.fiesta.compute.Expression;
import dev.fiesta.compute.FieldRef;
import dev.fiesta.compute.Kernel;
import dev.fiesta.compute.Types;
import dev.fiesta.gather.keys.GroupTable;
import dev.fiesta.language.Op;
import dev.fiesta.problem.CheckException;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.CheckStep;
import dev.fiesta.step.OrderKey;
import dev.fiesta.store.ExternalSort;
import dev.fiesta.store.Memory;
import dev.fiesta.store.Rows;
import dev.fiesta.store.Runs;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.store.Stored;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Texts;
import dev.fiesta.value.TruthColumn;
import dev.fiesta.value.Type;
import dev.fiesta.work.Workers;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.TreeSet;

/** Holds rows to what a brief says of them: how many there are, a condition, keys that are unique. */
public final class CheckOperator implements Operator {
    private static final int SHOWN = 10;

    /** How many rows do not meet a check, and the first of them. */
    private static final class Offending {
        private final TreeSet<Long> first = new TreeSet<>();
        private long count;

        void add(long row) {
            count++;
            if (first.size() < SHOWN) {
                first.add(row);
            } else if (row < first.last()) {
                first.add(row);
                first.pollLast();
            }
        }
    }

    private final CheckStep step;
    private final Notices notices;
    private final Memory memory;

    public CheckOperator(CheckStep step, Ground ground) {
        this.step = step;
        this.notices = ground.notices();
        this.memory = ground.memory();
    }

    /** @throws CheckException when the check does not hold and is no mere warning */
    @Override
    public Stored run(Stored rows, BitSet before, BitSet after) {
        String failure;
        if (step.rows() != null) {
            failure = holds(step.rows(), Long.compare(rows.rows(), step.count()))
                    ? null
                    : step.text() + ": there " + (rows.rows() == 1 ? "is 1 row." : "are " + rows.rows() + " rows.");
        } else {
            Offending offending = step.condition() != null ? untrue(step.condition(), rows) : repeated(rows);
            failure = offending.count == 0 ? null : step.text() + listed(rows, offending);
        }
        step.text().tell(failure, step.warn(), notices);
        return rows;
    }

    private static boolean holds(Op op, int sign) {
        return switch (op) {
            case EQUAL -> sign == 0;
            case DIFFERENT -> sign != 0;
            case LESS -> sign < 0;
            case AT_MOST -> sign <= 0;
            case GREATER -> sign > 0;
            default -> sign >= 0;
        };
    }

    private Offending untrue(Expression condition, Stored rows) {
        Kernel kernel = condition.kernel(notices);
        Offending offending = new Offending();
        long before = 0;
        for (int b = 0; b < rows.blocks(); b++) {
            Workers.stopIfInterrupted();
            Batch batch = rows.batch(b);
            TruthColumn truth =
                    (TruthColumn) Types.widen(kernel.eval(batch), Type.TRUTH).flat();
            for (int i = 0; i < batch.size(); i++) {
                if (!truth.isTrue(i)) {
                    offending.add(before + i);
                }
            }
            before += batch.size();
        }
        return offending;
    }

    private Offending repeated(Stored rows) {
        return rows instanceof SpilledRows file ? repeatedInFile(file) : repeatedHeld(rows.load());
    }

    private Offending repeatedHeld(Rows rows) {
        int[] numbers = GroupTable.numbers(rows.columns(step.unique()), rows.size());
        int[] times = new int[rows.size() + 1];
        for (int number : numbers) {
            times[number]++;
        }
        Offending offending = new Offending();
        for (int i = 0; i < numbers.length; i++) {
            if (times[numbers[i]] > 1) {
                offending.add(i);
            }
        }
        return offending;
    }

    /** Sorted by their keys, rows that share one stand side by side. */
    private Offending repeatedInFile(SpilledRows rows) {
        BitSet keys = new BitSet();
        step.unique().forEach(keys::set);
        int number = keys.length();
        BitSet wanted = (BitSet) keys.clone();
        wanted.set(number);
        Batch typed = rows.batch(0);
        List<OrderKey> order = step.unique().stream()
                .map(s -> new OrderKey(new FieldRef(s, typed.column(s).type()), false))
                .toList();
        SpilledRows sorted = ExternalSort.sorted(rows.numbered(keys, number), order, wanted, notices, memory);
        Offending offending = new Offending();
        Rows before = new Rows(0, new Column[0]);
        int row = -1;
        boolean counted = false;
        for (int b = 0; b < sorted.blocks(); b++) {
            Workers.stopIfInterrupted();
            Rows block = sorted.read(b, wanted);
            for (int i = 0; i < block.size(); i++) {
                boolean same = row >= 0 && Runs.same(before, row, block, i, step.unique());
                if (same && !counted) {
                    offending.add(number(before, number, row));
                }
                if (same) {
                    offending.add(number(block, number, i));
                }
                counted = same;
                before = block;
                row = i;
            }
        }
        return offending;
    }

    private static long number(Rows rows, int slot, int row) {
        return ((LongColumn) rows.column(slot)).values()[row];
    }

    private String listed(Stored rows, Offending offending) {
        StringBuilder text = new StringBuilder();
        text.append("\n  ")
                .append(offending.count)
                .append(offending.count == 1 ? " row does not meet it:" : " rows do not meet it:");
        long before = 0;
        for (int b = 0; b < rows.blocks(); b++) {
            Batch batch = rows.batch(b);
            long first = before;
            for (long row : offending.first.subSet(first, first + batch.size())) {
                text.append("\n    ").append(cells(batch, (int) (row - first)));
            }
            before += batch.size();
        }
        if (offending.count > SHOWN) {
            text.append("\n  Rows 1 to ")
                    .append(SHOWN)
                    .append(" of ")
                    .append(offending.count)
                    .append('.');
        }
        return text.toString();
    }

    private String cells(Batch batch, int row) {
        List<String> cells = new ArrayList<>();
        for (int f = 0; f < step.slots().size(); f++) {
            Object value = batch.column(step.slots().get(f)).get(row);
            cells.add(step.shown().field(f).name() + " " + (value == null ? "–" : Texts.of(value)));
        }
        return String.join(", ", cells);
    }
}
