package dev.fiesta.operate;

import dev.fiesta.compute.Expression;
import dev.fiesta.compute.Kernel;
import dev.fiesta.compute.RowNumbers;
import dev.fiesta.compute.Types;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.FilterStep;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Bits;
import dev.fiesta.value.Bounds;
import dev.fiesta.value.TruthColumn;
import dev.fiesta.value.Type;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Keeps the rows for which all conditions are true. A condition sees only rows that no condition before it made false; a row
 * that is dropped because one was missing, and none false, is counted.
 */
public final class FilterStage {
    private final List<Expression> conjuncts;
    private final Kernel[] conditions;
    private final String place;
    private final Notices notices;

    public FilterStage(FilterStep step, Notices notices) {
        this.conjuncts = step.conjuncts();
        this.conditions = step.conjuncts().stream().map(c -> c.kernel(notices)).toArray(Kernel[]::new);
        this.place = step.place();
        this.notices = notices;
    }

    /** Whether one of the conditions is known to be false for all rows, and none before it may fail or count. */
    public static boolean dropsAll(List<Expression> conjuncts, Bounds.Known known) {
        for (Expression condition : conjuncts) {
            if (condition.mayFail()) {
                return false;
            }
            if (condition.neverHolds(known)) {
                return true;
            }
        }
        return false;
    }

    /** The rows left. */
    public Batch apply(Batch batch) {
        if (dropsAll(conjuncts, batch::bounds)) {
            notices.count(Notices.Kind.DROPPED_MISSING, place, 0, batch.size());
            return batch.head(0);
        }
        Batch left = batch;
        long[] unknown = null;
        for (Kernel condition : conditions) {
            TruthColumn truth =
                    (TruthColumn) Types.widen(condition.eval(left), Type.TRUTH).flat();
            int size = left.size();
            if (unknown == null && truth.valid() == null) {
                int[] rows = RowNumbers.where(truth.bits(), size);
                left = left.select(rows, rows.length);
                continue;
            }
            long[] open = Bits.all(size);
            for (int i = 0; i < open.length; i++) {
                long missing = truth.valid() == null ? 0 : open[i] & ~truth.valid()[i];
                open[i] = truth.bits()[i] | missing;
            }
            int[] rows = RowNumbers.where(open, size);
            unknown = unknown(truth, unknown, rows);
            left = left.select(rows, rows.length);
        }
        notices.count(Notices.Kind.DROPPED_MISSING, place, 0, batch.size());
        if (unknown != null) {
            left = drop(left, unknown);
        }
        return left;
    }

    private static long[] unknown(TruthColumn truth, long @Nullable [] before, int[] rows) {
        long[] now = Bits.none(rows.length);
        for (int i = 0; i < rows.length; i++) {
            if (truth.isMissing(rows[i]) || (before != null && Bits.get(before, rows[i]))) {
                Bits.set(now, i);
            }
        }
        return now;
    }

    private Batch drop(Batch batch, long[] unknown) {
        long[] sure = Bits.all(batch.size());
        for (int i = 0; i < sure.length; i++) {
            sure[i] &= ~unknown[i];
        }
        int[] rows = RowNumbers.where(sure, batch.size());
        notices.count(Notices.Kind.DROPPED_MISSING, place, batch.size() - rows.length);
        return batch.select(rows, rows.length);
    }
}
