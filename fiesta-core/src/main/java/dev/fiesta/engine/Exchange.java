package dev.fiesta.engine;

import dev.fiesta.compute.Expression;
import dev.fiesta.compute.FieldRef;
import dev.fiesta.step.Assignment;
import dev.fiesta.step.ComputeStep;
import dev.fiesta.step.DistinctStep;
import dev.fiesta.step.FilterStep;
import dev.fiesta.step.OrderKey;
import dev.fiesta.step.SampleStep;
import dev.fiesta.step.SortStep;
import dev.fiesta.step.Step;
import dev.fiesta.step.WalkSpec;
import dev.fiesta.step.WalksStep;
import dev.fiesta.value.Type;
import java.util.BitSet;
import java.util.List;
import java.util.function.Predicate;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * Steps that look at rows of equal keys only, so that rows may be split by these, and each part be worked on by itself; or that put rows
 * in an order, so that each part may be one range of it.
 *
 * @param keys what these rows have in common; of an order what comes first in it
 * @param ranges whether parts are ranges of an order
 * @param descending whether that order goes from the greatest down
 * @param first the first of the steps
 * @param end the first step behind them
 */
record Exchange(List<Expression> keys, boolean ranges, boolean descending, int first, int end) {
    /** Those from a step on; null where that one looks at all rows. */
    static @Nullable Exchange of(Way way, int first, Carried carried) {
        if (first == way.steps().size()) {
            return null;
        }
        if (way.step(first) instanceof SortStep sort) {
            OrderKey key = sort.keys().get(0);
            int end = end(way, first, carried, s -> s == sort || s instanceof FilterStep || s instanceof ComputeStep);
            boolean all = sort.most() == Long.MAX_VALUE && end > first;
            return all ? new Exchange(List.of(key.key()), true, key.descending(), first, end) : null;
        }
        List<Expression> keys = keys(way.step(first));
        int end = keys.isEmpty() ? first : end(way, first, carried, s -> staysWithin(s, keys));
        return end == first ? null : new Exchange(keys, false, false, first, end);
    }

    /** The first step that a part cannot go through by itself, or for which more must be read. */
    private static int end(Way way, int first, Carried carried, Predicate<Step> goesOn) {
        int end = first;
        while (end < way.steps().size()
                && goesOn.test(way.step(end))
                && carried.pending(Carried.named(way, end)).isEmpty()) {
            end++;
        }
        return end;
    }

    /** What rows that a step looks at together have in common; none where it looks at all. */
    private static List<Expression> keys(Step step) {
        if (step instanceof DistinctStep distinct) {
            return distinct.slots().stream()
                    .<Expression>map(s -> new FieldRef(s, Type.EMPTY)) // columns know their types themselves
                    .toList();
        }
        if (step instanceof SampleStep sample) {
            return sample.shuffled() || sample.identity().isEmpty() ? List.of() : sample.within();
        }
        return step instanceof WalksStep walks
                ? walks.specs().get(0).within().stream()
                        .filter(k -> walks.specs().stream().allMatch(s -> has(s, k)))
                        .toList()
                : List.of();
    }

    private static boolean has(WalkSpec spec, Expression key) {
        return spec.within().stream().anyMatch(key::isSameAs);
    }

    /** Whether a step looks at rows of equal keys only, and leaves the keys as they are. */
    private static boolean staysWithin(Step step, List<Expression> keys) {
        if (step instanceof ComputeStep compute) {
            return leaves(keys, compute.assignments().stream().mapToInt(Assignment::slot));
        }
        if (step instanceof WalksStep walks) {
            return walks.specs().stream().allMatch(s -> keys.stream().allMatch(k -> has(s, k)))
                    && leaves(keys, walks.specs().stream().mapToInt(WalkSpec::slot));
        }
        if (step instanceof SampleStep sample) {
            return !sample.shuffled()
                    && !sample.identity().isEmpty()
                    && keys.stream().allMatch(k -> sample.within().stream().anyMatch(k::isSameAs));
        }
        return step instanceof FilterStep
                || step instanceof DistinctStep distinct
                        && keys.stream()
                                .allMatch(k -> k instanceof FieldRef field
                                        && distinct.slots().contains(field.index()));
    }

    private static boolean leaves(List<Expression> keys, IntStream assigned) {
        BitSet read = new BitSet();
        keys.forEach(k -> k.fields(read::set));
        return assigned.noneMatch(read::get);
    }
}
