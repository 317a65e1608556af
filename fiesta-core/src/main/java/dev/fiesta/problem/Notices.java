package dev.fiesta.problem;

import java.util.Collections;
import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.LongAdder;

/** Counts what a run did that nobody should have to guess: values made missing, rows dropped, ties decided. Thread-safe. */
public final class Notices {
    /** What is counted. */
    public enum Kind {
        BAD_AS_MISSING("value that could not be read became missing", "values that could not be read became missing"),
        TRY_FAILED(
                "value that could not be converted became missing",
                "values that could not be converted became missing"),
        NO_NUMBER("result was no number and became missing", "results were no number and became missing"),
        DROPPED_MISSING(
                "row was dropped because the condition was missing, not false",
                "rows were dropped because the condition was missing, not false"),
        ADD_MISSING("row is missing because of a missing field", "rows are missing because of a missing field"),
        UNMATCHED("row found no match", "rows found no match"),
        TIES("row stood level with another; their order decided", "rows stood level with another; their order decided"),
        WIDENED("field was read again with a wider type", "fields were read again with a wider type"),
        OUTSIDE_FRAME("row has no row in its frame", "rows have no row in their frame"),
        LIST_CUT("list was cut after 1 000 values", "lists were cut after 1 000 values");

        private final String one;
        private final String many;

        Kind(String one, String many) {
            this.one = one;
            this.many = many;
        }
    }

    /**
     * One count.
     *
     * @param subject the field, clause or expression it belongs to
     */
    public record Notice(Kind kind, String subject, long count) {
        /** As it is told: {@code net: 3 results were no number and became missing}. */
        public String text() {
            return subject + ": " + count + " " + (count == 1 ? kind.one : kind.many);
        }
    }

    /**
     * A check that was made.
     *
     * @param at where it stands
     * @param check as it is written
     * @param holds whether it holds
     * @param warns whether it only warns
     * @param told what is told where it does not hold, else nothing
     */
    public record Check(String at, String check, boolean holds, boolean warns, String told) {}

    private record Key(Kind kind, String subject) {}

    private final Map<Key, LongAdder> counts = new ConcurrentHashMap<>();
    private final Set<String> warnings = Collections.synchronizedSet(new LinkedHashSet<>());
    private final Set<Check> checks = Collections.synchronizedSet(new LinkedHashSet<>());

    /** With nothing counted yet. */
    public Notices() {}

    /** Adds to a count; nothing happens for 0. */
    public void count(Kind kind, String subject, long times) {
        if (times > 0) {
            counts.computeIfAbsent(new Key(kind, subject), k -> new LongAdder()).add(times);
        }
    }

    /** Something told as it is, once however often it comes. */
    public void warn(String text) {
        warnings.add(text);
    }

    /** Notes that a check was made. */
    public void checked(Check check) {
        checks.add(check);
    }

    /** The checks made, in the order in which they were. */
    public List<Check> checks() {
        synchronized (checks) {
            return List.copyOf(checks);
        }
    }

    /** What was told as it is, in the order in which it came. */
    public List<String> warnings() {
        synchronized (warnings) {
            return List.copyOf(warnings);
        }
    }

    /** All counts, by kind, then subject. */
    public List<Notice> list() {
        return counts.entrySet().stream()
                .map(e -> new Notice(
                        e.getKey().kind, e.getKey().subject, e.getValue().sum()))
                .sorted(Comparator.comparing(Notice::kind).thenComparing(Notice::subject))
                .toList();
    }
}
