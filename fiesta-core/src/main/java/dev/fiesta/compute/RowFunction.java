package dev.fiesta.compute;

import dev.fiesta.catalogue.Entry;
import dev.fiesta.problem.Notices;
import dev.fiesta.value.Bounds;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import dev.fiesta.value.Unit;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A function or operator that gives one value for each row: its entry in the catalogue, how it is bound to arguments, and what is
 * known of its results.
 *
 * @param entry its line in the catalogue
 * @param rule settles its types
 * @param period how far apart its results lie, for functions that name periods of time; else null
 * @param comparesTexts whether it compares its first argument with the others
 * @param keepsOrder whether of two values of its only argument the greater never gives the lesser result
 * @param chance for a condition that can be told from bounds alone, else null
 */
public record RowFunction(
        Entry entry,
        Rule rule,
        @Nullable Unit period,
        boolean comparesTexts,
        boolean keepsOrder,
        @Nullable Chance chance) {
    RowFunction(Entry entry, Rule rule) {
        this(entry, rule, null, false, false, null);
    }

    RowFunction naming(@Nullable Unit unit) {
        return new RowFunction(entry, rule, unit, comparesTexts, keepsOrder, chance);
    }

    RowFunction comparingTexts() {
        return new RowFunction(entry, rule, period, true, keepsOrder, chance);
    }

    RowFunction keepingOrder() {
        return new RowFunction(entry, rule, period, comparesTexts, true, chance);
    }

    RowFunction with(Chance known) {
        return new RowFunction(entry, rule, period, comparesTexts, keepsOrder, known);
    }

    /** Tells of a condition whether it may hold for values of which only their bounds are known. */
    @FunctionalInterface
    interface Chance {
        boolean mayHold(List<Bounds> args);
    }

    /** Settles the types of a call. */
    @FunctionalInterface
    public interface Rule {
        /** @throws Misuse when the arguments do not fit */
        Bound bind(Arguments args);
    }

    /** Makes the loop for one worker. */
    @FunctionalInterface
    public interface Maker {
        Body make(Notices notices);
    }

    /** The loop over the arguments. */
    @FunctionalInterface
    public interface Body {
        /**
         * One value for each of {@code rows} rows.
         *
         * @param args one column for each argument, some may be constant
         * @throws Fault for a value that cannot be worked with
         */
        Column apply(Column[] args, int rows);
    }

    /**
     * A call with its types settled.
     *
     * @param type type of the result
     * @param mayFail whether it may fail or count for a value
     * @param counts as what a row counts that has no result although all arguments are there; null where that is nothing odd
     */
    public record Bound(Type type, boolean mayFail, Maker maker, Notices.@Nullable Kind counts) {
        /** A call of which nothing is counted. */
        public Bound(Type type, boolean mayFail, Maker maker) {
            this(type, mayFail, maker, null);
        }

        /** A call whose rows without a result are counted. */
        public static Bound counted(Type type, Notices.Kind kind, Body body) {
            return new Bound(type, true, notices -> body, kind);
        }

        /** A call that never fails and remembers nothing. */
        public static Bound safe(Type type, Body body) {
            return new Bound(type, false, notices -> body);
        }

        /** A call that may fail for a value. */
        public static Bound fallible(Type type, Body body) {
            return new Bound(type, true, notices -> body);
        }
    }

    public String name() {
        return entry.name();
    }
}
