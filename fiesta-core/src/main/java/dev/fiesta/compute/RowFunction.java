package dev.fiesta.compute;

import dev.fiesta.catalogue.Entry;
import dev.fiesta.problem.Notices;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;

/**
 * A function or operator that gives one value for each row: its entry in the catalogue and how it is bound to arguments.
 *
 * @param entry its line in the catalogue
 * @param rule settles its types
 */
public record RowFunction(Entry entry, Rule rule) {
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
     */
    public record Bound(Type type, boolean mayFail, Maker maker) {
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
