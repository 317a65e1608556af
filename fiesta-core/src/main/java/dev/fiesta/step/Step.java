package dev.fiesta.step;

import dev.fiesta.compute.Expression;
import java.util.BitSet;
import java.util.List;
import java.util.stream.IntStream;

/**
 * One step of a table as it is run, and what it is to whoever runs it; how it is run is told by the operators. Rows are laid out
 * in <em>slots</em>: the fields of the source first, then whatever steps add. A slot is never given another meaning before the
 * next step that makes new rows.
 */
public sealed interface Step
        permits FilterStep,
                ComputeStep,
                WalksStep,
                GroupStep,
                SortStep,
                LimitStep,
                DistinctStep,
                SampleStep,
                MatchStep,
                AppendStep,
                TurnStep,
                GaplessStep,
                FirstsStep,
                TotalsStep,
                CheckStep,
                CheckSumStep {
    /** The step in the word of its clause. */
    String word();

    /**
     * What it does, as a plan tells it.
     *
     * @param after the slots needed behind it
     */
    default String told(BitSet after) {
        return word();
    }

    /** The slots needed before it, where some are needed behind it. */
    BitSet before(BitSet after);

    /** The slots that it looks at itself in all rows, where some are needed behind it: all of them where it makes new rows. */
    default BitSet reads(BitSet after) {
        return before(makesNewRows() ? after : new BitSet());
    }

    /** Other tables whose rows the step needs, all of them, before it starts. */
    default List<TablePlan> lookedUp() {
        return List.of();
    }

    /**
     * The visible fields of another table that the step reads.
     *
     * @param after the slots needed behind it
     */
    default BitSet fieldsOf(TablePlan other, BitSet after) {
        BitSet all = new BitSet();
        all.set(0, other.schema().size());
        return all;
    }

    /** Whether it works on any rows by themselves, so that they may pass by batch by batch. */
    default boolean flows() {
        return false;
    }

    /** Whether it takes rows in as they come, and gives others once all have come. */
    default boolean isTakenIn() {
        return false;
    }

    /** Whether rows may be dropped by it. */
    default boolean drops() {
        return false;
    }

    /** Whether as many rows leave it as come, all of them the same. */
    default boolean keepsRows() {
        return false;
    }

    /** Whether it makes rows of its own, whose slots are others. */
    default boolean makesNewRows() {
        return false;
    }

    /** The slots that it gives values, besides those of rows of its own. */
    default IntStream gives() {
        return IntStream.empty();
    }

    /** What rows that it looks at together have in common; none where it looks at all, or at each by itself. */
    default List<Expression> together() {
        return List.of();
    }

    /** Whether rows with other keys mean nothing to it; whether it gives the keys other values is another matter. */
    default boolean staysWithin(List<Expression> keys) {
        return isOfRows();
    }

    /** Whether it works on each row by itself, knowing nothing else. */
    default boolean isOfRows() {
        return flows() && lookedUp().isEmpty() && !makesNewRows();
    }

    /** How many rows become of one, where that is known without the rows. */
    default int times() {
        return 1;
    }

    /** The step, with what may fail worked out before it. */
    default Step prepared(Prepared before) {
        return this;
    }
}
