package dev.fiesta.operate.steps;

import dev.fiesta.compute.Expression;
import dev.fiesta.compute.FieldRef;
import dev.fiesta.language.Clause.Unmatched;
import dev.fiesta.operate.window.RangeWindows;
import dev.fiesta.step.MatchStep;
import dev.fiesta.step.OrderKey;
import dev.fiesta.step.SortStep;
import dev.fiesta.step.Step;
import dev.fiesta.step.WalksStep;
import dev.fiesta.value.Type;
import java.util.BitSet;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Which rows must be in one part, so that steps can work on each part of the rows by itself. */
public sealed interface Meeting {
    /** Whether a part can go on with a step behind the first. */
    default boolean goesOn(Step step) {
        return step.isOfRows();
    }

    /** The calculations over all rows for which parts must know of each other; null where they need not. */
    default @Nullable WalksStep overAll() {
        return null;
    }

    /** Those of equal keys, as no step looks at others together. */
    record Equal(List<Expression> keys) implements Meeting {
        @Override
        public boolean goesOn(Step step) {
            BitSet read = new BitSet();
            keys.forEach(k -> k.fields(read::set));
            return step.staysWithin(keys) && step.gives().noneMatch(read::get);
        }
    }

    /**
     * Those of one range of an order.
     *
     * @param key what comes first in it
     * @param descending whether it goes from the greatest down
     * @param overAll the calculations that walk along it, or null
     */
    record Range(
            Expression key, boolean descending, @Nullable WalksStep overAll) implements Meeting {}

    /** Whichever stand next to each other, as of those in other parts only a few figures are known. */
    record Anywhere(WalksStep overAll) implements Meeting {}

    /** Those with keys that may stand in the same part of a table that is looked up. */
    record LookedUp(MatchStep match) implements Meeting {
        /** Our keys. */
        public List<Expression> keys() {
            return match.ours().stream()
                    .<Expression>map(s -> new FieldRef(s, Type.EMPTY)) // columns know their types themselves
                    .toList();
        }
    }

    /** The one of a step that does not work batch by batch; null where it must see all rows. */
    static @Nullable Meeting of(Step step) {
        if (step instanceof SortStep sort) {
            return sort.most() < Long.MAX_VALUE ? null : along(sort.keys(), null);
        }
        if (step instanceof MatchStep match) {
            return match.unmatched() == Unmatched.ALSO_UNMATCHED ? null : new LookedUp(match);
        }
        List<Expression> keys = step.together();
        if (!keys.isEmpty()) {
            Equal equal = new Equal(keys);
            return equal.goesOn(step) ? equal : null;
        }
        return step instanceof WalksStep walks && RangeWindows.suits(walks) ? overAll(walks) : null;
    }

    private static Meeting overAll(WalksStep walks) {
        List<OrderKey> order = RangeWindows.order(walks);
        return order.isEmpty() ? new Anywhere(walks) : along(order, walks);
    }

    private static Range along(List<OrderKey> order, @Nullable WalksStep walks) {
        return new Range(order.get(0).key(), order.get(0).descending(), walks);
    }
}
