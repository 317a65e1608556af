package dev.fiesta.operate;

import dev.fiesta.gather.Accumulator;
import dev.fiesta.gather.GatherFunction;
import dev.fiesta.problem.CheckException;
import dev.fiesta.step.CheckSumStep;
import dev.fiesta.store.Stored;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.Texts;
import dev.fiesta.work.Workers;
import java.math.BigDecimal;
import java.util.BitSet;
import org.jspecify.annotations.Nullable;

/** Holds the sum of rows to that of another table. */
public final class CheckSumOperator implements Operator {
    private final CheckSumStep step;
    private final Ground ground;

    public CheckSumOperator(CheckSumStep step, Ground ground) {
        this.step = step;
        this.ground = ground;
    }

    /** @throws CheckException when the sums differ and that is no mere warning */
    @Override
    public Stored run(Stored rows, BitSet before, BitSet after) {
        Object ours = sum(step.ours(), rows, step.slot());
        Object other = sum(step.theirs(), ground.others().stored(step.table()), step.place());
        boolean same = ours == null || other == null
                ? ours == other
                : new BigDecimal(Texts.of(ours)).compareTo(new BigDecimal(Texts.of(other))) == 0;
        String sums = (ours == null ? "–" : Texts.of(ours)) + " and " + (other == null ? "–" : Texts.of(other));
        step.text().tell(same ? null : step.text() + ": the sums are " + sums + ".", step.warn(), ground.notices());
        return rows;
    }

    private static @Nullable Object sum(GatherFunction.Bound sum, Stored rows, int slot) {
        Accumulator accumulator = sum.empty(1);
        for (int b = 0; b < rows.blocks(); b++) {
            Workers.stopIfInterrupted();
            Batch batch = rows.batch(b);
            Column[] values = {batch.column(slot).flat()};
            accumulator.add(new int[batch.size()], values, batch.size(), 0);
        }
        return accumulator.finish(1).get(0);
    }
}
