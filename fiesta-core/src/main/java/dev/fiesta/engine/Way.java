package dev.fiesta.engine;

import dev.fiesta.plan.Step;
import dev.fiesta.plan.TablePlan;
import java.util.BitSet;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Steps that rows go through.
 *
 * @param name of the table, {@code shownName} as it is told of
 * @param passedOn the slots that tables over it see; null where they see all, also what an input hides
 * @param live the slots needed before each step, and behind the last
 */
record Way(
        String name,
        String shownName,
        List<Step> steps,
        @Nullable List<Integer> passedOn,
        BitSet[] live) {
    static Way of(TablePlan table, BitSet[] live) {
        List<Integer> passedOn = table.isInput() ? null : table.passedOn();
        return new Way(table.name(), table.shownName(), table.steps(), passedOn, live);
    }

    Step step(int number) {
        return steps.get(number);
    }
}
