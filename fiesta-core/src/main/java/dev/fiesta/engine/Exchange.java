package dev.fiesta.engine;

import dev.fiesta.compute.Expression;
import dev.fiesta.compute.FieldRef;
import dev.fiesta.step.Assignment;
import dev.fiesta.step.ComputeStep;
import dev.fiesta.step.DistinctStep;
import dev.fiesta.step.FilterStep;
import dev.fiesta.step.Step;
import dev.fiesta.step.WalkSpec;
import dev.fiesta.step.WalksStep;
import dev.fiesta.value.Type;
import java.util.BitSet;
import java.util.List;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * Steps that look at rows of equal keys only, so that rows may be split by these, and each part be worked on by itself.
 *
 * @param keys what these rows have in common
 * @param first the first of the steps
 * @param end the first step behind them
 */
record Exchange(List<Expression> keys, int first, int end) {
    /** Those from a step on; null where that one looks at all rows. */
    static @Nullable Exchange of(Way way, int first, Carried carried) {
        List<Expression> keys = first < way.steps().size() ? keys(way.step(first)) : List.of();
        int end = first;
        while (!keys.isEmpty()
                && end < way.steps().size()
                && staysWithin(way.step(end), keys)
                && carried.pending(Carried.named(way, end)).isEmpty()) {
            end++;
        }
        return end == first ? null : new Exchange(keys, first, end);
    }

    /** What rows that a step looks at together have in common; none where it looks at all. */
    private static List<Expression> keys(Step step) {
        if (step instanceof DistinctStep distinct) {
            return distinct.slots().stream()
                    .<Expression>map(s -> new FieldRef(s, Type.EMPTY)) // columns know their types themselves
                    .toList();
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
