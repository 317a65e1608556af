package dev.fiesta.walk;

import dev.fiesta.catalogue.Entry;
import dev.fiesta.compute.Arguments;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;

/**
 * A function that walks along the rows of a partition: its entry in the catalogue and how it is bound to arguments.
 *
 * @param entry its line in the catalogue
 * @param looksAtRows whether rows that stand level are told apart by their order
 * @param countsRows whether it sets rows in proportion to all, so that rows without a key take no part
 * @param rule settles its types
 */
public record WalkFunction(Entry entry, boolean looksAtRows, boolean countsRows, Rule rule) {
    /** Settles the types of a call. */
    @FunctionalInterface
    public interface Rule {
        /** @throws dev.fiesta.compute.Misuse when the arguments do not fit */
        Bound bind(Arguments args);
    }

    /** Works out one value for each position of a walk. */
    @FunctionalInterface
    public interface Walker {
        /**
         * @param args the arguments by row, none of them constant
         * @return the values by position
         */
        Column walk(Walk walk, Column[] args);
    }

    /** A call with its types settled. */
    public record Bound(Type type, Walker walker, Reach reach) {
        /** A call that may look at every row of its partition. */
        Bound(Type type, Walker walker) {
            this(type, walker, Reach.ALL);
        }
    }

    public String name() {
        return entry.name();
    }
}
