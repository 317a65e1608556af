package dev.fiesta.plan;

import dev.fiesta.compute.Expression;
import dev.fiesta.step.Assignment;
import dev.fiesta.step.ComputeStep;
import dev.fiesta.step.SortStep;
import dev.fiesta.step.Step;
import dev.fiesta.step.WalkSpec;
import dev.fiesta.step.WalksStep;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/**
 * The steps of a table while they are gathered. Calculations over partitions join an earlier step of their kind when nothing
 * between changes rows or makes what they need, so that one order serves them all.
 */
final class StepList {
    private final List<Step> steps = new ArrayList<>();
    private final Map<Integer, Integer> madeAt = new HashMap<>();
    private int barrier;

    void add(Step step) {
        steps.add(step);
        barrier = steps.size();
    }

    /** Says of an order that was the last step that only so many rows of it are wanted. */
    void wantOnly(long rows) {
        int last = steps.size() - 1;
        if (last >= 0 && steps.get(last) instanceof SortStep sort) {
            steps.set(last, new SortStep(sort.keys(), Math.min(rows, sort.most())));
        }
    }

    void walks(List<WalkSpec> specs) {
        specs.forEach(this::walk);
    }

    private void walk(WalkSpec spec) {
        int[] needed = {barrier};
        List<Expression> reads = new ArrayList<>(spec.args());
        reads.addAll(spec.within());
        spec.along().forEach(k -> reads.add(k.key()));
        if (spec.only() != null) {
            reads.add(spec.only());
        }
        reads.forEach(e -> e.fields(slot -> needed[0] = Math.max(needed[0], madeAt.getOrDefault(slot, -1) + 1)));
        for (int i = needed[0]; i < steps.size(); i++) {
            if (steps.get(i) instanceof WalksStep walks) {
                List<WalkSpec> all = new ArrayList<>(walks.specs());
                all.add(spec);
                steps.set(i, new WalksStep(all));
                madeAt.put(spec.slot(), i);
                return;
            }
        }
        madeAt.put(spec.slot(), steps.size());
        steps.add(new WalksStep(List.of(spec)));
    }

    void compute(Assignment assignment) {
        int last = steps.size() - 1;
        if (last >= barrier && steps.get(last) instanceof ComputeStep compute) {
            List<Assignment> all = new ArrayList<>(compute.assignments());
            all.add(assignment);
            steps.set(last, new ComputeStep(all));
        } else {
            steps.add(new ComputeStep(List.of(assignment)));
        }
        madeAt.put(assignment.slot(), steps.size() - 1);
    }

    List<Step> list() {
        return List.copyOf(steps);
    }
}
