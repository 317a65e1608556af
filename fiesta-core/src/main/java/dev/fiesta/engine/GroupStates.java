package dev.fiesta.engine;

import dev.fiesta.gather.Accumulator;
import dev.fiesta.plan.Step;
import java.util.List;

/**
 * What the groups of a grouping have gathered, kept so that totals and rests can be merged from it.
 *
 * @param accumulators one for each figure gathered
 * @param groups the number of groups
 */
record GroupStates(Step.Group step, List<Accumulator> accumulators, int groups) {}
