package dev.fiesta.walk;

import dev.fiesta.catalogue.Entry;
import dev.fiesta.catalogue.Entry.Family;
import dev.fiesta.compute.Arguments;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import org.jspecify.annotations.Nullable;

/**
 * A function that walks along the rows of a partition: its entry in the catalogue, how it is bound to arguments, and what it can
 * do.
 *
 * @param entry its line in the catalogue
 * @param rule settles its types
 * @param looksAtRows whether rows that stand level are told apart by their order
 * @param countsRows whether it sets rows in proportion to all, so that rows without a key take no part
 * @param countsBefore whether it is one more than the rows that come before in the order, those that stand level not among them
 * @param looksAtNeighbour whether it takes the neighbouring row for that of the neighbouring period
 * @param byValue settles the types where a span of time is given instead of a number of rows; null where none is taken
 */
public record WalkFunction(
        Entry entry,
        Rule rule,
        boolean looksAtRows,
        boolean countsRows,
        boolean countsBefore,
        boolean looksAtNeighbour,
        @Nullable SpanRule byValue) {
    /** Settles the types of a call. */
    @FunctionalInterface
    public interface Rule {
        /** @throws dev.fiesta.compute.Misuse when the arguments do not fit */
        Bound bind(Arguments args);
    }

    /** Settles the types of a call with a span of time. */
    @FunctionalInterface
    public interface SpanRule {
        /**
         * @param args the other arguments
         * @throws dev.fiesta.compute.Misuse when they do not fit
         */
        Bound bind(Arguments args, long months, long micros);
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
    public record Bound(Type type, Walker walker, FrameReach reach) {
        /** A call that may look at every row of its partition. */
        Bound(Type type, Walker walker) {
            this(type, walker, FrameReach.ALL);
        }
    }

    static WalkFunction of(String name, String usage, String about, String example, String result, Rule rule) {
        Entry entry = new Entry(name, Family.WALKING, usage, about, example, result);
        return new WalkFunction(entry, rule, false, false, false, false, null);
    }

    WalkFunction lookingAtRows() {
        return new WalkFunction(entry, rule, true, countsRows, countsBefore, looksAtNeighbour, byValue);
    }

    WalkFunction countingRows() {
        return new WalkFunction(entry, rule, looksAtRows, true, countsBefore, looksAtNeighbour, byValue);
    }

    WalkFunction countingBefore() {
        return new WalkFunction(entry, rule, looksAtRows, countsRows, true, looksAtNeighbour, byValue);
    }

    WalkFunction lookingAtNeighbour() {
        return new WalkFunction(entry, rule, looksAtRows, countsRows, countsBefore, true, byValue);
    }

    WalkFunction byValue(SpanRule spans) {
        return new WalkFunction(entry, rule, looksAtRows, countsRows, countsBefore, looksAtNeighbour, spans);
    }

    public String name() {
        return entry.name();
    }
}
