package dev.fiesta.operate;

import dev.fiesta.compute.Kernel;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.Assignment;
import dev.fiesta.step.ComputeStep;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;

/** Works out the slots of a step that somebody needs, each from what stands before it. */
public final class ComputeStage {
    private final List<Assignment> needed = new ArrayList<>();
    private final List<Kernel> kernels = new ArrayList<>();
    private final Notices notices;

    /** @param after the slots needed behind the step */
    public ComputeStage(ComputeStep step, BitSet after, Notices notices) {
        this.notices = notices;
        BitSet live = (BitSet) after.clone();
        List<Assignment> all = step.assignments();
        List<Assignment> backwards = new ArrayList<>();
        for (int i = all.size() - 1; i >= 0; i--) {
            if (all.get(i).isNeeded(live)) {
                backwards.add(all.get(i));
                all.get(i).value().fields(live::set);
            }
        }
        for (int i = backwards.size() - 1; i >= 0; i--) {
            needed.add(backwards.get(i));
            kernels.add(backwards.get(i).value().kernel(notices));
        }
    }

    public Batch apply(Batch batch) {
        Batch rows = batch;
        for (int i = 0; i < kernels.size(); i++) {
            Column value = kernels.get(i).eval(rows);
            if (needed.get(i).isSeen()) {
                tell(rows, needed.get(i), value);
            }
            rows = rows.with(needed.get(i).slot(), value);
        }
        return rows;
    }

    private void tell(Batch rows, Assignment assignment, Column value) {
        notices.count(Notices.Kind.ADD_MISSING, assignment.name(), 0, value.size());
        if (value.valid() != null && !assignment.value().tellsMissing()) {
            count(rows, assignment, value);
        }
    }

    /** Counts the rows whose value is missing and that lack one of its fields, and says which. */
    private void count(Batch rows, Assignment assignment, Column value) {
        List<Integer> slots = new ArrayList<>();
        assignment.value().fields(slots::add);
        List<Column> fields = slots.stream().map(rows::column).toList();
        int count = 0;
        BitSet lacking = new BitSet();
        for (int i = 0; i < value.size(); i++) {
            if (value.isMissing(i)) {
                int field = lacking(fields, i);
                count += field < 0 ? 0 : 1;
                lacking.set(field + 1);
            }
        }
        notices.count(Notices.Kind.ADD_MISSING, assignment.name(), count, 0);
        for (int f = lacking.nextSetBit(1); f > 0; f = lacking.nextSetBit(f + 1)) {
            String name = assignment.reads().get(slots.get(f - 1));
            notices.example(Notices.Kind.ADD_MISSING, assignment.name(), slots.get(f - 1), 0, () -> name);
        }
    }

    private static int lacking(List<Column> fields, int row) {
        for (int f = 0; f < fields.size(); f++) {
            if (fields.get(f).isMissing(row)) {
                return f;
            }
        }
        return -1;
    }
}
