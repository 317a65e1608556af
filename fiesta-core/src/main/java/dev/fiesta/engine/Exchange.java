package dev.fiesta.engine;

import dev.fiesta.compute.Expression;
import dev.fiesta.compute.FieldRef;
import dev.fiesta.language.Clause.Unmatched;
import dev.fiesta.operate.window.RangeWindows;
import dev.fiesta.step.Assignment;
import dev.fiesta.step.ComputeStep;
import dev.fiesta.step.DistinctStep;
import dev.fiesta.step.FilterStep;
import dev.fiesta.step.MatchStep;
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
 * Steps for which rows may be put into parts, each of which is worked on by itself.
 *
 * @param meeting which rows are in one part
 * @param first the first of the steps
 * @param end the first step behind them
 */
record Exchange(Meeting meeting, int first, int end) {
    /** Which rows are in one part. */
    sealed interface Meeting {}

    /** Those of equal keys, as no step looks at others together. */
    record Equal(List<Expression> keys) implements Meeting {}

    /**
     * Those of one range of an order.
     *
     * @param key what comes first in it
     * @param descending whether it goes from the greatest down
     */
    record Range(Expression key, boolean descending) implements Meeting {}

    /** Whichever stand next to each other, as of those in other parts only a few figures are known. */
    record Anywhere() implements Meeting {}

    /** Those with keys that may stand in the same part of a table that is looked up. */
    record LookedUp(MatchStep match) implements Meeting {
        List<Expression> keys() {
            return match.ours().stream()
                    .<Expression>map(s -> new FieldRef(s, Type.EMPTY)) // columns know their types themselves
                    .toList();
        }
    }

    /** Those from a step on; null where that one looks at all rows. */
    static @Nullable Exchange of(Way way, int first, Carried carried) {
        if (first == way.steps().size()) {
            return null;
        }
        Step step = way.step(first);
        if (step instanceof SortStep sort) {
            OrderKey key = sort.keys().get(0);
            return sort.most() < Long.MAX_VALUE
                    ? null
                    : of(new Range(key.key(), key.descending()), way, first, carried, s -> s == sort || isOfRows(s));
        }
        if (step instanceof MatchStep match) {
            return match.unmatched() == Unmatched.ALSO_UNMATCHED
                    ? null
                    : of(new LookedUp(match), way, first, carried, s -> s == match || isOfRows(s));
        }
        List<Expression> keys = keys(step);
        if (!keys.isEmpty()) {
            return of(new Equal(keys), way, first, carried, s -> staysWithin(s, keys));
        }
        return step instanceof WalksStep walks && RangeWindows.suits(walks)
                ? of(overAll(walks), way, first, carried, s -> s == walks || isOfRows(s))
                : null;
    }

    private static Meeting overAll(WalksStep walks) {
        List<OrderKey> order = RangeWindows.order(walks);
        return order.isEmpty()
                ? new Anywhere()
                : new Range(order.get(0).key(), order.get(0).descending());
    }

    /** The calculations over all rows for which parts must know of each other; null where they need not. */
    @Nullable
    WalksStep overAll(Way way) {
        return !(meeting instanceof Equal) && way.step(first) instanceof WalksStep walks ? walks : null;
    }

    private static @Nullable Exchange of(Meeting meeting, Way way, int first, Carried carried, Predicate<Step> goesOn) {
        int end = end(way, first, carried, goesOn);
        return end == first ? null : new Exchange(meeting, first, end);
    }

    private static boolean isOfRows(Step step) {
        return step instanceof FilterStep || step instanceof ComputeStep;
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
