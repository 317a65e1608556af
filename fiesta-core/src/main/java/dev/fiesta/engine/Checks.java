package dev.fiesta.engine;

import dev.fiesta.compute.Types;
import dev.fiesta.language.Op;
import dev.fiesta.plan.Step;
import dev.fiesta.problem.CheckException;
import dev.fiesta.problem.Notices;
import dev.fiesta.value.Column;
import dev.fiesta.value.Texts;
import dev.fiesta.value.TruthColumn;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.List;

/** Holds rows to what a brief says of them. */
final class Checks {
    private static final int SHOWN = 10;

    private Checks() {}

    /** @throws CheckException when the check does not hold and is no mere warning */
    static void hold(Step.Check step, Rows rows, Notices notices) {
        String failure;
        if (step.rows() != null) {
            failure = holds(step.rows(), Long.compare(rows.size(), step.count()))
                    ? null
                    : step.text() + ": there " + (rows.size() == 1 ? "is 1 row." : "are " + rows.size() + " rows.");
        } else {
            List<Integer> offending = step.condition() != null ? untrue(step, rows, notices) : repeated(step, rows);
            failure = offending.isEmpty() ? null : step.text() + listed(step, rows, offending);
        }
        tell(step.text(), failure, step.warn(), notices);
    }

    /** Holds our sum to that of another table. */
    static void hold(Step.CheckSum step, Rows rows, Rows theirs, Notices notices) {
        Object ours = sum(step.ours(), rows.column(step.slot()), rows.size());
        Object other = sum(step.theirs(), theirs.column(step.place()), theirs.size());
        boolean same = ours == null || other == null
                ? ours == other
                : new java.math.BigDecimal(Texts.of(ours)).compareTo(new java.math.BigDecimal(Texts.of(other))) == 0;
        String sums = (ours == null ? "–" : Texts.of(ours)) + " and " + (other == null ? "–" : Texts.of(other));
        tell(step.text(), same ? null : step.text() + ": the sums are " + sums + ".", step.warn(), notices);
    }

    private static @org.jspecify.annotations.Nullable Object sum(
            dev.fiesta.gather.GatherFunction.Bound sum, Column column, int rows) {
        dev.fiesta.gather.Accumulator accumulator = sum.maker().get();
        accumulator.grow(1);
        accumulator.add(new int[rows], new Column[] {column.flat()}, rows, 0);
        return accumulator.finish(1).get(0);
    }

    private static void tell(
            Step.CheckText check, @org.jspecify.annotations.Nullable String failure, boolean warn, Notices notices) {
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

    private static List<Integer> untrue(Step.Check step, Rows rows, Notices notices) {
        Column result = java.util.Objects.requireNonNull(step.condition())
                .kernel(notices)
                .eval(rows.batch());
        TruthColumn truth = (TruthColumn) Types.widen(result, Type.TRUTH).flat();
        List<Integer> offending = new ArrayList<>();
        for (int i = 0; i < rows.size(); i++) {
            if (!truth.isTrue(i)) {
                offending.add(i);
            }
        }
        return offending;
    }

    private static List<Integer> repeated(Step.Check step, Rows rows) {
        int[] numbers = RowsRunner.numbers(rows.columns(step.unique()), rows.size());
        int[] times = new int[rows.size() + 1];
        for (int number : numbers) {
            times[number]++;
        }
        List<Integer> offending = new ArrayList<>();
        for (int i = 0; i < numbers.length; i++) {
            if (times[numbers[i]] > 1) {
                offending.add(i);
            }
        }
        return offending;
    }

    private static String listed(Step.Check step, Rows rows, List<Integer> offending) {
        StringBuilder text = new StringBuilder();
        text.append("\n  ")
                .append(offending.size())
                .append(offending.size() == 1 ? " row does not meet it:" : " rows do not meet it:");
        for (int i = 0; i < Math.min(SHOWN, offending.size()); i++) {
            int row = offending.get(i);
            List<String> cells = new ArrayList<>();
            for (int f = 0; f < step.slots().size(); f++) {
                Object value = rows.column(step.slots().get(f)).get(row);
                cells.add(step.shown().field(f).name() + " " + (value == null ? "–" : Texts.of(value)));
            }
            text.append("\n    ").append(String.join(", ", cells));
        }
        if (offending.size() > SHOWN) {
            text.append("\n    ").append(offending.size() - SHOWN).append(" further rows");
        }
        return text.toString();
    }
}
