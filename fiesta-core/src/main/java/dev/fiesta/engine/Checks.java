package dev.fiesta.engine;

import dev.fiesta.compute.Expression;
import dev.fiesta.compute.FieldRef;
import dev.fiesta.compute.Kernel;
import dev.fiesta.compute.Types;
import dev.fiesta.gather.Accumulator;
import dev.fiesta.gather.GatherFunction;
import dev.fiesta.language.Op;
import dev.fiesta.problem.CheckException;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.CheckStep;
import dev.fiesta.step.CheckSumStep;
import dev.fiesta.step.CheckText;
import dev.fiesta.step.OrderKey;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Texts;
import dev.fiesta.value.TruthColumn;
import dev.fiesta.value.Type;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;

/** Holds rows to what a brief says of them. */
final class Checks {
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

    private final Notices notices;
    private final Memory memory;

    Checks(Notices notices, Memory memory) {
        this.notices = notices;
        this.memory = memory;
    }

    /** @throws CheckException when the check does not hold and is no mere warning */
    void hold(CheckStep step, Stored rows) {
        String failure;
        if (step.rows() != null) {
            failure = holds(step.rows(), Long.compare(rows.rows(), step.count()))
                    ? null
                    : step.text() + ": there " + (rows.rows() == 1 ? "is 1 row." : "are " + rows.rows() + " rows.");
        } else {
            Offending offending = step.condition() != null ? untrue(step.condition(), rows) : repeated(step, rows);
            failure = offending.count == 0 ? null : step.text() + listed(step, rows, offending);
        }
        tell(step.text(), failure, step.warn());
    }

    /** Holds our sum to that of another table. */
    void hold(CheckSumStep step, Stored rows, Stored theirs) {
        Object ours = sum(step.ours(), rows, step.slot());
        Object other = sum(step.theirs(), theirs, step.place());
        boolean same = ours == null || other == null
                ? ours == other
                : new BigDecimal(Texts.of(ours)).compareTo(new BigDecimal(Texts.of(other))) == 0;
        String sums = (ours == null ? "–" : Texts.of(ours)) + " and " + (other == null ? "–" : Texts.of(other));
        tell(step.text(), same ? null : step.text() + ": the sums are " + sums + ".", step.warn());
    }

    private static @Nullable Object sum(GatherFunction.Bound sum, Stored rows, int slot) {
        Accumulator accumulator = sum.empty(1);
        for (int b = 0; b < rows.blocks(); b++) {
            StepsRun.stopIfInterrupted();
            Batch batch = rows.batch(b);
            Column[] values = {batch.column(slot).flat()};
            accumulator.add(new int[batch.size()], values, batch.size(), 0);
        }
        return accumulator.finish(1).get(0);
    }

    private void tell(CheckText check, @Nullable String failure, boolean warn) {
        Notices.Check made = new Notices.Check(
                check.at(),
                check.check().replaceAll("\\s+", " "),
                failure == null,
                warn,
                failure == null ? "" : failure);
        notices.checked(made);
        if (failure != null && warn) {
            notices.warn("The check does not hold: " + failure);
        } else if (failure != null) {
            throw new CheckException("The check does not hold: " + failure, made);
        }
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
            StepsRun.stopIfInterrupted();
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

    private Offending repeated(CheckStep step, Stored rows) {
        return rows instanceof SpilledRows file ? repeatedInFile(step, file) : repeated(step, rows.load());
    }

    private static Offending repeated(CheckStep step, Rows rows) {
        int[] numbers = RowsRunner.numbers(rows.columns(step.unique()), rows.size());
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
    private Offending repeatedInFile(CheckStep step, SpilledRows rows) {
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
            StepsRun.stopIfInterrupted();
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

    private static String listed(CheckStep step, Stored rows, Offending offending) {
        StringBuilder text = new StringBuilder();
        text.append("\n  ")
                .append(offending.count)
                .append(offending.count == 1 ? " row does not meet it:" : " rows do not meet it:");
        long before = 0;
        for (int b = 0; b < rows.blocks(); b++) {
            Batch batch = rows.batch(b);
            long first = before;
            for (long row : offending.first.subSet(first, first + batch.size())) {
                text.append("\n    ").append(cells(step, batch, (int) (row - first)));
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

    private static String cells(CheckStep step, Batch batch, int row) {
        List<String> cells = new ArrayList<>();
        for (int f = 0; f < step.slots().size(); f++) {
            Object value = batch.column(step.slots().get(f)).get(row);
            cells.add(step.shown().field(f).name() + " " + (value == null ? "–" : Texts.of(value)));
        }
        return String.join(", ", cells);
    }
}
