package dev.fiesta.engine;

import dev.fiesta.step.MatchStep;
import dev.fiesta.step.Step;
import dev.fiesta.step.TablePlan;
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
    void hold(MatchStep match) {
        held.add(match);
    }

    /** Whether a look-up needs all rows at once, as far as that was noted. */
    boolean isHeld(Step step) {
        return held.contains(step);
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
        return step.flows() && !held.contains(step);
    }

    /** The first step that is left when rows have passed by from a step on and were taken in. */
    int resumesAt(List<Step> steps, int from) {
        int next = from + flowing(steps, from);
        boolean taken = next < steps.size() && steps.get(next).isTakenIn();
        return taken ? next + 1 : next;
    }
}
