package dev.fiesta.engine;

import dev.fiesta.gather.Accumulator;
import dev.fiesta.plan.Step;
import dev.fiesta.value.Column;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * What the groups of a grouping have gathered, kept so that totals and rests can be merged from it.
 *
 * @param accumulators one for each figure gathered
 * @param groups the number of groups met in the records; rests have numbers behind them
 * @param keys the keys by group number, those of rests too
 * @param standing the numbers of the groups that stood where totals were asked for, or null
 */
record GroupStates(
        Step.Group step, List<Accumulator> accumulators, int groups, Column[] keys, int @Nullable [] standing) {

    GroupStates marked(int[] numbers) {
        return new GroupStates(step, accumulators, groups, keys, numbers);
    }

    /** All numbers given out, those of rests too. */
    int numbers() {
        return keys.length == 0 ? groups : keys[0].size();
    }
}
