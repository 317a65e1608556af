package dev.fiesta.engine;

import dev.fiesta.compute.Kernel;
import dev.fiesta.plan.Step;
import dev.fiesta.problem.Notices;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

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
                count(rows, needed.get(i), value);
            }
            rows = rows.with(needed.get(i).slot(), value);
        }
        return rows;
    }

    /** Counts the rows whose value is missing and that lack one of its fields; the first tells which. */
    private void count(Batch rows, Step.Assignment assignment, Column value) {
        List<Integer> slots = new ArrayList<>();
        assignment.value().fields(slots::add);
        List<Column> fields = slots.stream().map(rows::column).toList();
        int count = 0;
        for (int i = 0; i < value.size(); i++) {
            int lacking = value.isMissing(i) ? lacking(fields, i) : -1;
            if (lacking >= 0 && count++ == 0) {
                String name = assignment.reads().get(slots.get(lacking));
                Supplier<@Nullable String> whence = rows.place(i);
                notices.example(
                        Notices.Kind.ADD_MISSING, assignment.name(), rows.sequence(), i, () -> told(name, whence));
            }
        }
        notices.count(Notices.Kind.ADD_MISSING, assignment.name(), count, value.size());
    }

    private static int lacking(List<Column> fields, int row) {
        for (int f = 0; f < fields.size(); f++) {
            if (fields.get(f).isMissing(row)) {
                return f;
            }
        }
        return -1;
    }

    private static @Nullable String told(@Nullable String field, Supplier<@Nullable String> whence) {
        String place = whence.get();
        return field == null ? place : place == null ? field : field + " (" + place + ")";
    }
}
