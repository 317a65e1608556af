package dev.fiesta.operate.group;

import dev.fiesta.compute.Expression;
import dev.fiesta.compute.Kernel;
import dev.fiesta.compute.RowNumbers;
import dev.fiesta.compute.Types;
import dev.fiesta.problem.Notices;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.TruthColumn;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * What figures over the same rows are gathered from: rows that meet one condition, their groups, and arguments, each worked out
 * when it is first asked for and once for all figures that have it.
 */
public final class GatherInput {
    private final @Nullable Expression condition;
    private final @Nullable Kernel test;
    private final Notices notices;
    private final List<Expression> arguments = new ArrayList<>();
    private final List<Kernel> kernels = new ArrayList<>();
    private final List<@Nullable Column> columns = new ArrayList<>();
    private @Nullable Batch rows;
    private int[] groups = new int[0];

    /** @param condition the condition of the figures, null for all rows */
    private GatherInput(@Nullable Expression condition, Notices notices) {
        this.condition = condition;
        this.test = condition == null ? null : condition.kernel(notices);
        this.notices = notices;
    }

    /** The input for a condition, which is added to those known when it is none of them. */
    static GatherInput of(@Nullable Expression condition, List<GatherInput> known, Notices notices) {
        for (GatherInput input : known) {
            if (Expression.areSame(input.condition, condition)) {
                return input;
            }
        }
        GatherInput input = new GatherInput(condition, notices);
        known.add(input);
        return input;
    }

    /** The places of some arguments among all of this input. */
    int[] places(List<Expression> wanted) {
        return wanted.stream().mapToInt(this::place).toArray();
    }

    private int place(Expression argument) {
        for (int i = 0; i < arguments.size(); i++) {
            if (arguments.get(i).isSameAs(argument)) {
                return i;
            }
        }
        arguments.add(argument);
        kernels.add(argument.kernel(notices));
        columns.add(null);
        return arguments.size() - 1;
    }

    /** Forgets the batch before. */
    void clear() {
        rows = null;
        columns.replaceAll(c -> null);
    }

    /** The rows of a batch that meet the condition. */
    Batch rows(Batch batch, int[] groupOfEach) {
        Batch known = rows;
        if (known != null) {
            return known;
        }
        Batch met = batch;
        groups = groupOfEach;
        if (test != null) {
            int[] picked = met(test, batch);
            met = batch.select(picked, picked.length);
            groups = pick(groupOfEach, picked);
        }
        rows = met;
        return met;
    }

    /** The groups of the rows. */
    int[] groups() {
        return groups;
    }

    /** An argument over the rows, none of them constant. */
    Column argument(int place, Batch over) {
        Column known = columns.get(place);
        if (known == null) {
            known = kernels.get(place).eval(over).flat();
            columns.set(place, known);
        }
        return known;
    }

    /** The rows of a batch for which a condition is true. */
    public static int[] met(Kernel condition, Batch batch) {
        TruthColumn truth =
                (TruthColumn) Types.widen(condition.eval(batch), Type.TRUTH).flat();
        return RowNumbers.where(truth.bits(), batch.size());
    }

    public static int[] pick(int[] from, int[] rows) {
        int[] picked = new int[rows.length];
        for (int i = 0; i < rows.length; i++) {
            picked[i] = from[rows[i]];
        }
        return picked;
    }
}
