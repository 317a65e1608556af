package dev.fiesta.engine;

import dev.fiesta.language.Clause.Unmatched;
import dev.fiesta.plan.Step;
import dev.fiesta.plan.TablePlan;
import java.util.Collections;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Set;

/**
 * Which steps work batch by batch while an input is read. A look-up does so only where the other table fits into memory, which
 * is known once that table is worked out.
 */
final class Flow {
    private final Set<Step> held = Collections.newSetFromMap(new IdentityHashMap<>());

    /** Notes that a look-up needs all rows at once. */
    void hold(Step.Match match) {
        held.add(match);
    }

    /** How many steps from one on work batch by batch. */
    int flowing(List<Step> steps, int first) {
        int next = first;
        while (next < steps.size() && flows(steps.get(next))) {
            next++;
        }
        return next - first;
    }

    /** Whether all steps of a table do. */
    boolean flows(TablePlan table) {
        return flowing(table.steps(), 0) == table.steps().size();
    }

    private boolean flows(Step step) {
        if (step instanceof Step.Match match) {
            return !match.each() && match.unmatched() != Unmatched.ALSO_UNMATCHED && !held.contains(match);
        }
        return step instanceof Step.Filter || step instanceof Step.Compute;
    }

    /** Whether a step is taken in while the input is read. */
    static boolean isTakenIn(Step step) {
        return step instanceof Step.Limit || step instanceof Step.Group;
    }

    /** The first step that is left when rows have passed by from a step on and were taken in. */
    int resumesAt(List<Step> steps, int from) {
        int next = from + flowing(steps, from);
        boolean taken = next < steps.size() && isTakenIn(steps.get(next));
        return taken ? next + 1 : next;
    }
}
