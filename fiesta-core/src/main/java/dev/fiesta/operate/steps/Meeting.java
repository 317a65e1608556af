package dev.fiesta.operate.steps;

import dev.fiesta.compute.Expression;
import dev.fiesta.language.Clause.Unmatched;
import dev.fiesta.operate.Partitioning;
import dev.fiesta.operate.window.RangeWindows;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.MatchStep;
import dev.fiesta.step.OrderKey;
import dev.fiesta.step.SortStep;
import dev.fiesta.step.Step;
import dev.fiesta.step.WalksStep;
import dev.fiesta.store.Rows;
import dev.fiesta.store.Runs;
import dev.fiesta.value.Column;
import dev.fiesta.value.Halving;
import dev.fiesta.walk.Order;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/** Which rows must be in one part, so that steps can work on each part of the rows by itself. */
public sealed interface Meeting {
    /**
     * The part of each row.
     *
     * @param ends where ranges end, one less than there are parts; null for other meetings, or where nothing is known of it
     */
    int[] parts(Rows rows, int parts, @Nullable Column ends);

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
        public int[] parts(Rows rows, int parts, @Nullable Column ends) {
            return Partitioning.byHash(columns(keys, rows), rows.size(), parts);
        }

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
            Expression key, boolean descending, @Nullable WalksStep overAll) implements Meeting {
        @Override
        public int[] parts(Rows rows, int parts, @Nullable Column ends) {
            int[] part = new int[rows.size()];
            if (ends != null) {
                Column own = column(rows);
                Arrays.setAll(
                        part,
                        row -> Halving.behind(0, ends.size(), e -> Runs.compare(ends, e, own, row, descending) < 0));
            }
            return part;
        }

        /** Where so many ranges end that each has about as many rows of some; null where there are none to go by. */
        public @Nullable Column ends(List<Rows> some, int parts) {
            List<Column> keys = some.stream().map(this::column).toList();
            if (keys.isEmpty()) {
                return null;
            }
            Column all = Column.join(keys.get(0).type(), keys);
            int[] order = Order.sort(Order.asTheyStand(all.size()), List.of(new Order.Key(all, descending)));
            int[] ends = IntStream.range(1, all.size() == 0 ? 1 : parts)
                    .map(p -> order[(int) ((long) order.length * p / parts)])
                    .toArray();
            return all.take(ends, ends.length).held();
        }

        private Column column(Rows rows) {
            return columns(List.of(key), rows)[0].flat();
        }
    }

    /** Whichever stand next to each other, as of those in other parts only a few figures are known. */
    record Anywhere(WalksStep overAll) implements Meeting {
        @Override
        public int[] parts(Rows rows, int parts, @Nullable Column ends) {
            return IntStream.range(0, rows.size())
                    .map(row -> (int) ((long) row * parts / rows.size()))
                    .toArray();
        }
    }

    /** Those with keys that may stand in the same part of a table that is looked up. */
    record LookedUp(MatchStep match) implements Meeting {
        @Override
        public int[] parts(Rows rows, int parts, @Nullable Column ends) {
            return Partitioning.alike(rows.columns(match.ours()), rows.size(), parts);
        }

        /** The part that each row of the other table stands in. */
        public int[] theirs(Rows rows, int parts) {
            return Partitioning.alike(rows.columns(match.theirs()), rows.size(), parts);
        }
    }

    private static Column[] columns(List<Expression> keys, Rows rows) {
        return Expression.columns(keys, rows.batch(), new Notices());
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
