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

    /** The number of first steps that work batch by batch. */
    int flowing(List<Step> steps) {
        int count = 0;
        while (count < steps.size() && flows(steps.get(count))) {
            count++;
        }
        return count;
    }

    /** Whether all steps of a table do. */
    boolean flows(TablePlan table) {
        return flowing(table.steps()) == table.steps().size();
    }

    private boolean flows(Step step) {
        if (step instanceof Step.Match match) {
            return !match.each() && match.unmatched() != Unmatched.ALSO_UNMATCHED && !held.contains(match);
        }
        return step instanceof Step.Filter || step instanceof Step.Compute;
    }

    /** Whether a step is taken in while the input is read. */
    static boolean isTakenIn(Step step) {
        return step instanceof Step.Group group
                && group.gathers().stream().allMatch(g -> g.along().isEmpty());
    }

    /** The first step that is left to be run over all rows. */
    int resumesAt(TablePlan table) {
        int first = flowing(table.steps());
        boolean taken = first < table.steps().size() && isTakenIn(table.steps().get(first));
        return taken ? first + 1 : first;
    }
}
