package dev.fiesta.plan;

import dev.fiesta.compute.Apply.Place;
import dev.fiesta.compute.Expression;
import dev.fiesta.gather.GatherFunction;
import dev.fiesta.language.Clause.Unmatched;
import dev.fiesta.language.Op;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Type;
import dev.fiesta.value.Unit;
import dev.fiesta.walk.Frame;
import dev.fiesta.walk.WalkFunction;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * One step of a table as it is run. Rows are laid out in <em>slots</em>: the fields of the source first, then whatever steps
 * add. A slot is never given another meaning before the next step that makes new rows.
 */
public sealed interface Step {
    <R> R accept(Visitor<R> visitor);

    /** Other tables whose rows the step needs, all of them, before it starts. */
    default List<TablePlan> lookedUp() {
        return List.of();
    }

    /** The visible fields of another table that the step reads. */
    default BitSet fieldsOf(TablePlan other) {
        BitSet all = new BitSet();
        all.set(0, other.schema().size());
        return all;
    }

    /** Keeps rows for which all conditions are true; each is asked only where those before it were not false. */
    record Filter(List<Expression> conjuncts, String place) implements Step {
        @Override
        public <R> R accept(Visitor<R> visitor) {
            return visitor.filter(this);
        }
    }

    /**
     * A value for a slot.
     *
     * @param reads the names of the fields it is made of, by slot
     */
    record Assignment(int slot, String name, Expression value, Map<Integer, String> reads) {
        Assignment(int slot, String name, Expression value) {
            this(slot, name, value, Map.of());
        }

        /** One that nobody sees: nothing is told of it. */
        public static Assignment unseen(int slot, Expression value) {
            return new Assignment(slot, "", value, Map.of());
        }

        /** Whether somebody sees it, who is told where it is missing. */
        public boolean isSeen() {
            return !name.isEmpty();
        }
    }

    /** Works out slots, in order. */
    record Compute(List<Assignment> assignments) implements Step {
        @Override
        public <R> R accept(Visitor<R> visitor) {
            return visitor.compute(this);
        }
    }

    /** One key of an order. */
    record OrderKey(Expression key, boolean descending) {}

    /** What a walking calculation works out: exactly one of the two functions is there. */
    record Calculation(
            @Nullable WalkFunction walk,
            WalkFunction.@Nullable Bound walkBound,
            @Nullable GatherFunction gather,
            GatherFunction.@Nullable Bound gatherBound,
            @Nullable Frame frame) {
        public Type type() {
            return walkBound != null
                    ? walkBound.type()
                    : java.util.Objects.requireNonNull(gatherBound).type();
        }

        /** Whether each row gets the part that its value has in what its partition gathers. */
        public boolean isPart() {
            return gather != null && gather.isPart() && frame == null;
        }
    }

    /**
     * A calculation over partitions, one value for each row.
     *
     * @param within the partition keys
     * @param along the order; empty when a whole partition is gathered
     * @param period how far rows should lie apart along a single key, or null where that does not matter
     */
    record WalkSpec(
            int slot,
            Calculation calculation,
            List<Expression> args,
            @Nullable Expression only,
            List<Expression> within,
            List<OrderKey> along,
            @Nullable Unit period,
            Place place) {}

    /**
     * A figure of a group.
     *
     * @param wider the keys, by place, of the wider group it is taken over; null for the group itself
     * @param along the order for functions that look at it
     */
    record GatherSpec(
            GatherFunction function,
            GatherFunction.Bound bound,
            List<Expression> args,
            @Nullable Expression only,
            int @Nullable [] wider,
            List<OrderKey> along,
            Place place) {
        /** Whether it gathers the same values of the same rows as another. */
        public boolean gathersAs(GatherSpec other) {
            return Expression.areSame(only, other.only)
                    && along.isEmpty()
                    && other.along.isEmpty()
                    && Expression.areSame(args, other.args);
        }

        /** Whether it is the same figure as another, written twice. */
        boolean isSameAs(GatherSpec other) {
            return function == other.function && Arrays.equals(wider, other.wider) && gathersAs(other);
        }
    }

    /** Calculations over partitions that need nothing of each other. */
    record Walks(List<WalkSpec> specs) implements Step {
        @Override
        public <R> R accept(Visitor<R> visitor) {
            return visitor.walks(this);
        }
    }

    /**
     * Groups. Makes new rows: keys first, then figures, then the number of the group.
     *
     * @param keepStates whether a later step merges the groups' states
     */
    record Group(List<Expression> keys, List<GatherSpec> gathers, boolean keepStates) implements Step {
        /** The slot that holds the group's number. */
        public int numberSlot() {
            return keys.size() + gathers.size();
        }

        @Override
        public <R> R accept(Visitor<R> visitor) {
            return visitor.group(this);
        }
    }

    /**
     * Puts rows in order, stably.
     *
     * @param most how many of the first rows are wanted; the others need be in no order and may be left out
     */
    record Sort(List<OrderKey> keys, long most) implements Step {
        /** All rows. */
        Sort(List<OrderKey> keys) {
            this(keys, Long.MAX_VALUE);
        }

        @Override
        public <R> R accept(Visitor<R> visitor) {
            return visitor.sort(this);
        }
    }

    /**
     * Keeps the first rows.
     *
     * @param ends whether nothing need be read behind them
     */
    record Limit(long count, boolean ends) implements Step {
        @Override
        public <R> R accept(Visitor<R> visitor) {
            return visitor.limit(this);
        }
    }

    /** Keeps the first row of each combination of slots. */
    record Distinct(List<Integer> slots) implements Step {
        @Override
        public <R> R accept(Visitor<R> visitor) {
            return visitor.distinct(this);
        }
    }

    /**
     * Rows by chance, decided by a hash of the seed and what makes the row the one it is.
     *
     * @param count the rows kept of each partition, or their part in percent
     * @param within the partition
     * @param identity the slots that make a row the one it is; its place in the table when there are none
     * @param shuffled whether the rows stand in the order of the hashes, not in that of the table
     */
    record Sample(
            java.math.BigDecimal count,
            boolean percent,
            List<Expression> within,
            long seed,
            List<Integer> identity,
            boolean shuffled)
            implements Step {
        @Override
        public <R> R accept(Visitor<R> visitor) {
            return visitor.sample(this);
        }
    }

    /** A field brought: where it stands in the other table and the slot it gets here. */
    record Brought(int theirs, int slot, Type type) {}

    /**
     * A look-up.
     *
     * @param ours slots of our keys; {@code theirs} places of theirs, in the same order
     * @param latestOurs the slot that dates our rows, -1 for none
     * @param keySlots for rows that only they have: the slots that their keys go to
     */
    record Match(
            boolean each,
            TablePlan table,
            List<Integer> ours,
            List<Integer> theirs,
            int latestOurs,
            int latestTheirs,
            List<Brought> bring,
            Unmatched unmatched,
            String place)
            implements Step {
        @Override
        public List<TablePlan> lookedUp() {
            return List.of(table);
        }

        @Override
        public BitSet fieldsOf(TablePlan other) {
            BitSet fields = new BitSet();
            theirs.forEach(fields::set);
            bring.forEach(b -> fields.set(b.theirs()));
            if (latestTheirs >= 0) {
                fields.set(latestTheirs);
            }
            return fields;
        }

        @Override
        public <R> R accept(Visitor<R> visitor) {
            return visitor.match(this);
        }
    }

    /**
     * Rows of other tables below. Makes new rows.
     *
     * @param ours for each field of the result the slot here, or -1
     * @param theirs for each table the same
     */
    record Append(List<TablePlan> tables, List<Integer> ours, List<List<Integer>> theirs, List<Type> types)
            implements Step {
        @Override
        public List<TablePlan> lookedUp() {
            return tables;
        }

        @Override
        public <R> R accept(Visitor<R> visitor) {
            return visitor.append(this);
        }
    }

    /**
     * Columns into rows. Makes new rows: the other fields, the name of the column, its value.
     *
     * @param kept slots of the other fields
     */
    record Turn(List<Integer> kept, List<Integer> slots, List<String> names, Type type) implements Step {
        @Override
        public <R> R accept(Visitor<R> visitor) {
            return visitor.turn(this);
        }
    }

    /**
     * Rows for what has none. Rows stand by the keys of {@code within}, then the field.
     *
     * @param within slots of the other keys
     * @param months,micros the step from one period to the next; both 0 when the values come from {@code source}
     * @param from,to the first and last period, or null for those met
     * @param source the table whose values are wanted, or null; {@code sourceField} its place there
     * @param filled slots that get the value {@code with} in new rows
     */
    record Gapless(
            int slot,
            Type type,
            List<Integer> within,
            long months,
            long micros,
            @Nullable Object from,
            @Nullable Object to,
            @Nullable TablePlan source,
            int sourceField,
            List<Integer> filled,
            @Nullable Object with)
            implements Step {
        @Override
        public List<TablePlan> lookedUp() {
            return source == null ? List.of() : List.of(source);
        }

        @Override
        public BitSet fieldsOf(TablePlan other) {
            BitSet field = new BitSet();
            field.set(sourceField);
            return field;
        }

        @Override
        public <R> R accept(Visitor<R> visitor) {
            return visitor.gapless(this);
        }
    }

    /**
     * The first rows of each partition, or of the whole along an order.
     *
     * @param along the order; empty for the rows as they stand, which then stay where they are
     * @param rest how the others become one more row, or null
     */
    record Firsts(
            long count,
            List<Expression> within,
            List<OrderKey> along,
            @Nullable Rest rest) implements Step {
        @Override
        public <R> R accept(Visitor<R> visitor) {
            return visitor.firsts(this);
        }
    }

    /**
     * Rows worked out anew from the states of groups.
     *
     * @param group the step that gathered
     * @param replay what was done since: what is worked out row by row, and figures filled where nothing was gathered
     * @param missing slots that such rows cannot have, with their types
     */
    record Recomputed(Group group, List<Step> replay, Map<Integer, Type> missing) {}

    /**
     * @param labelSlot the key that shows the label
     * @param kept keys whose value the rest row keeps, by place
     */
    record Rest(String label, int labelSlot, List<Integer> kept, Recomputed rows) {}

    /**
     * Total rows: notes which groups stand here. The rows themselves are worked out last, and no step sees them.
     *
     * @param by how many of the first keys get subtotals; 0 for the grand total only
     */
    record Totals(int by) implements Step {
        @Override
        public <R> R accept(Visitor<R> visitor) {
            return visitor.totals(this);
        }
    }

    /**
     * How a check is told.
     *
     * @param at where it stands
     * @param check its own message, and the check as it is written
     */
    record CheckText(String at, String check) {
        @Override
        public String toString() {
            return at + ": " + check;
        }
    }

    /** Something that must hold. */
    record Check(
            @Nullable Expression condition,
            List<Integer> unique,
            @Nullable Op rows,
            long count,
            CheckText text,
            boolean warn,
            Schema shown,
            List<Integer> slots)
            implements Step {
        @Override
        public <R> R accept(Visitor<R> visitor) {
            return visitor.check(this);
        }
    }

    /**
     * Two sums that must be equal.
     *
     * @param ours the function that adds our values, {@code theirs} the same for those of the other table
     * @param slot our values; {@code place} those of the other table
     */
    record CheckSum(
            TablePlan table,
            int slot,
            int place,
            GatherFunction.Bound ours,
            GatherFunction.Bound theirs,
            CheckText text,
            boolean warn)
            implements Step {
        @Override
        public List<TablePlan> lookedUp() {
            return List.of(table);
        }

        @Override
        public BitSet fieldsOf(TablePlan other) {
            BitSet field = new BitSet();
            field.set(place);
            return field;
        }

        @Override
        public <R> R accept(Visitor<R> visitor) {
            return visitor.checkSum(this);
        }
    }

    /** One method for each kind of step. */
    interface Visitor<R> {
        R filter(Filter step);

        R compute(Compute step);

        R walks(Walks step);

        R group(Group step);

        R sort(Sort step);

        R limit(Limit step);

        R distinct(Distinct step);

        R sample(Sample step);

        R match(Match step);

        R append(Append step);

        R turn(Turn step);

        R gapless(Gapless step);

        R firsts(Firsts step);

        R totals(Totals step);

        R check(Check step);

        R checkSum(CheckSum step);
    }
}
