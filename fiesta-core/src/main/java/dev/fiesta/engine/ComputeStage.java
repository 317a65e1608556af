package dev.fiesta.engine;

import dev.fiesta.compute.Kernel;
import dev.fiesta.plan.Step;
import dev.fiesta.problem.Notices;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;

/** Works out the slots of a step that somebody needs, each from what stands before it. */
final class ComputeStage {
    private final List<Step.Assignment> needed = new ArrayList<>();
    private final List<Kernel> kernels = new ArrayList<>();
    private final Notices notices;

    /** @param after the slots needed behind the step */
    ComputeStage(Step.Compute step, BitSet after, Notices notices) {
        this.notices = notices;
        BitSet live = (BitSet) after.clone();
        List<Step.Assignment> all = step.assignments();
        List<Step.Assignment> backwards = new ArrayList<>();
        for (int i = all.size() - 1; i >= 0; i--) {
            if (Liveness.isNeeded(all.get(i), live)) {
                backwards.add(all.get(i));
                all.get(i).value().fields(live::set);
            }
        }
        for (int i = backwards.size() - 1; i >= 0; i--) {
            needed.add(backwards.get(i));
            kernels.add(backwards.get(i).value().kernel(notices));
        }
    }

    Batch apply(Batch batch) {
        Batch rows = batch;
        for (int i = 0; i < kernels.size(); i++) {
            Column value = kernels.get(i).eval(rows);
            if (value.valid() != null) {
                notices.count(
                        Notices.Kind.ADD_MISSING, needed.get(i).name(), forWantOfFields(rows, needed.get(i), value));
            }
            rows = rows.with(needed.get(i).slot(), value);
        }
        return rows;
    }

    /** The rows whose value is missing and that lack one of its fields. */
    private static int forWantOfFields(Batch rows, Step.Assignment assignment, Column value) {
        List<Column> fields = new ArrayList<>();
        assignment.value().fields(f -> fields.add(rows.column(f)));
        int count = 0;
        for (int i = 0; i < value.size(); i++) {
            boolean missing = false;
            for (int f = 0; f < fields.size() && value.isMissing(i) && !missing; f++) {
                missing = fields.get(f).isMissing(i);
            }
            count += missing ? 1 : 0;
        }
        return count;
    }
}
