package dev.fiesta.problem;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.Collections;
import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicReference;
import java.util.concurrent.atomic.LongAdder;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * Counts what a run did that nobody should have to guess: values made missing, rows dropped, ties decided. Thread-safe. It is long
 * because all ways of counting share what is counted: at once, as a draft, of cells read twice, of what others have counted.
 */
public final class Notices {
    /** What is counted, and how that is said. */
    public enum Kind {
        BAD_AS_MISSING("value", "could not be read and became missing"),
        SEVERAL_PATTERNS("value", "{fits|fit} several patterns as different days; the first was taken"),
        TRY_FAILED("value", "could not be converted and became missing"),
        NO_NUMBER("result", "{was|were} no number, or too large for one, and became missing"),
        DROPPED_MISSING("row", "{was|were} dropped because the condition was missing, not false"),
        ADD_MISSING("row", "{is|are} missing because of a missing field"),
        UNMATCHED("row", "found no match"),
        TIES("row", "stood level with another; their order decided"),
        WITHOUT_PLACE("row", "{has|have} no place, because what is walked along is missing"),
        UNEVEN_STEPS("step", "{is|are} not one period long"),
        SET_ASIDE("record", "cannot be read and {was|were} set aside"),
        WIDENED("field", "{was|were} read again with a wider type"),
        LONG_NUMBERS(
                "value",
                "{has|have} more digits than a decimal holds and {was|were} read as {a real number|real numbers}"),
        FILLED("value", "{was|were} missing and {was|were} filled in"),
        OUTSIDE_FRAME("row", "{has|have} no row in {its|their} frame"),
        LIST_CUT("list", "{was|were} cut after 1 000 values");

        private final String what;
        private final String said;

        Kind(String what, String said) {
            this.what = what;
            this.said = said;
        }

        private String said(long count) {
            return said.replaceAll("\\{([^|}]*)\\|([^}]*)\\}", count == 1 ? "$1" : "$2");
        }
    }

    /**
     * One count.
     *
     * @param subject the field, clause or expression it belongs to
     * @param of how many were looked at, 0 where nobody counted
     * @param example one of them, with its place where that is known, or null: that of the least place
     */
    public record Notice(
            Kind kind,
            String subject,
            long count,
            long of,
            @Nullable String example) {
        /** {@return as it is told: {@code net: 3 of 60 results were no number, …, such as 12.50 / 0}} */
        public String text() {
            String many = of > 1 && of >= count ? number(count) + " of " + number(of) : number(count);
            String what = kind.what + (count == 1 && !many.contains(" ") || of == 1 ? "" : "s");
            return subject + ": " + many + " " + what + " " + kind.said(count)
                    + (example == null ? "" : ", such as " + example);
        }

        private static String number(long count) {
            return String.format(Locale.ROOT, "%,d", count);
        }
    }

    /** One of what is counted: where it stands among the rows, and what is told of it when somebody asks. */
    private record Example(long sequence, long row, Supplier<@Nullable String> text) {
        boolean isBefore(Example other) {
            return sequence < other.sequence || (sequence == other.sequence && row < other.row);
        }
    }

    /**
     * Something that was met, told with its place where that is known.
     *
     * @param place looked up when it is asked for
     */
    public record Met(String shown, Supplier<@Nullable String> place) implements Supplier<@Nullable String> {
        @Override
        public String get() {
            String where = place.get();
            return where == null ? shown : shown + " (" + where + ")";
        }
    }

    /** A count as it grows. */
    private static final class Counter {
        private final LongAdder times = new LongAdder();
        private final LongAdder of = new LongAdder();
        private final AtomicReference<@Nullable Example> example = new AtomicReference<>();

        void take(Example other) {
            example.accumulateAndGet(other, (known, more) -> known == null || more.isBefore(known) ? more : known);
        }

        @Nullable
        String shown() {
            Example known = example.get();
            return known == null ? null : known.text.get();
        }
    }

    /**
     * A check that was made.
     *
     * @param at where it stands
     * @param check as it is written
     * @param holds whether it holds
     * @param warns whether it only warns
     * @param message what is told where it does not hold, else nothing
     */
    public record Check(String at, String check, boolean holds, boolean warns, String message)
            implements java.io.Serializable {}

    /** Compared in every run that notices something: by hand, as types are. */
    private record Key(Kind kind, String subject) {
        @Override
        public boolean equals(Object other) {
            return other instanceof Key key && key.kind == kind && key.subject.equals(subject);
        }

        @Override
        public int hashCode() {
            return kind.ordinal() * 31 + subject.hashCode();
        }
    }

    /** Cells of one field in one piece of a source; by identity of the source. */
    private record Cells(Object source, Key key, long sequence) {}

    /** A cell that is told of. */
    private record Cell(Cells at, int row, String value, Supplier<@Nullable String> place) {}

    /** Is told of cells instead of their being counted. */
    @FunctionalInterface
    public interface CellsMet {
        /**
         * @param kind what is counted
         * @param subject the name of the field
         * @param sequence the piece of the source, {@code row} its row in the piece
         * @param row the number of the row, from 0
         * @param value as it stands
         */
        void met(Kind kind, String subject, long sequence, int row, String value);
    }

    private final Map<Key, Counter> counts = new ConcurrentHashMap<>();
    private final Map<Cells, BitSet> cells = new ConcurrentHashMap<>();
    /** Cells that a draft was told of. */
    private final List<Cell> cellsMet = new ArrayList<>();
    /** What a draft does when it counts; null where all counts at once. */
    private final @Nullable List<Runnable> drafted;

    private final @Nullable Notices parent;
    private final @Nullable Kind muted;
    private final @Nullable CellsMet listener;
    private final Set<String> warnings = Collections.synchronizedSet(new LinkedHashSet<>());
    private final Set<Check> checks = Collections.synchronizedSet(new LinkedHashSet<>());

    /** With nothing counted yet. */
    public Notices() {
        this(null, null, null, null);
    }

    private Notices(
            @Nullable Notices parent,
            @Nullable Kind muted,
            @Nullable List<Runnable> drafted,
            @Nullable CellsMet listener) {
        this.listener = listener;
        this.parent = parent;
        this.muted = muted;
        this.drafted = drafted;
    }

    /**
     * {@return the same counts, but of one kind nothing is counted}
     *
     * @param kind what is counted
     */
    public Notices without(Kind kind) {
        return new Notices(this, kind, null, null);
    }

    /** {@return what is counted while nobody knows whether it counts, by one thread: see {@link #add} and {@link #clear}} */
    public static Notices draft() {
        return new Notices(null, null, new ArrayList<>(), null);
    }

    /**
     * {@return counts that do not count cells, but tell of each}
     *
     * @param listener who is told
     */
    public static Notices listening(CellsMet listener) {
        return new Notices(null, null, null, listener);
    }

    /**
     * Adds all that a draft has counted, which is empty then.
     *
     * @param draft whose counts are taken
     */
    public void add(Notices draft) {
        draft.counts.forEach((key, counter) -> {
            Counter own = counts.computeIfAbsent(key, k -> new Counter());
            own.times.add(counter.times.sum());
            own.of.add(counter.of.sum());
            Example example = counter.example.get();
            if (example != null) {
                own.take(example);
            }
        });
        draft.cellsMet.forEach(this::take);
        if (draft.drafted != null) {
            draft.drafted.forEach(Runnable::run);
        }
        warnings.addAll(draft.warnings);
        draft.clear();
    }

    /**
     * Does something once what is counted beside it counts: at once, or when this draft is added.
     *
     * @param deed what is done
     */
    public void whenCounted(Runnable deed) {
        if (parent != null) {
            parent.whenCounted(deed);
        } else if (drafted != null) {
            drafted.add(deed);
        } else {
            deed.run();
        }
    }

    /**
     * One count with all that another process needs to count on.
     *
     * @param times how often beside the cells
     * @param example the one of the least place, or null; {@code sequence} and {@code row} its place
     * @param cells the rows counted in each piece of a source
     */
    public record Counted(
            Kind kind,
            String subject,
            long times,
            long of,
            @Nullable Supplier<@Nullable String> example,
            long sequence,
            long row,
            Map<Long, BitSet> cells) {}

    /** {@return all that was counted, of the cells of one source at most} */
    public List<Counted> counted() {
        List<Counted> all = new ArrayList<>();
        counts.forEach((key, counter) -> {
            Map<Long, BitSet> own = new TreeMap<>();
            cells.forEach((at, rows) -> {
                if (at.key.equals(key)) {
                    own.put(at.sequence, rows);
                }
            });
            long inCells = own.values().stream().mapToLong(BitSet::cardinality).sum();
            Example example = counter.example.get();
            all.add(new Counted(
                    key.kind,
                    key.subject,
                    counter.times.sum() - inCells,
                    counter.of.sum(),
                    example == null ? null : example.text,
                    example == null ? 0 : example.sequence,
                    example == null ? 0 : example.row,
                    own));
        });
        return all;
    }

    /**
     * Counts what another process has counted.
     *
     * @param source what the cells are cells of here
     * @param all what was counted there
     */
    public void add(Object source, List<Counted> all) {
        for (Counted other : all) {
            Key key = new Key(other.kind, other.subject);
            long fresh = other.times;
            for (Map.Entry<Long, BitSet> piece : other.cells.entrySet()) {
                Cells at = new Cells(source, key, piece.getKey());
                long[] more = {0};
                cells.compute(at, (same, rows) -> {
                    BitSet together = (BitSet) piece.getValue().clone();
                    if (rows != null) {
                        together.or(rows);
                    }
                    more[0] = together.cardinality() - (rows == null ? 0 : rows.cardinality());
                    return together;
                });
                fresh += more[0];
            }
            count(other.kind, other.subject, fresh, other.of);
            if (other.example != null) {
                example(other.kind, other.subject, other.sequence, other.row, other.example);
            }
        }
    }

    /** Forgets all that was counted. */
    public void clear() {
        counts.clear();
        cells.clear();
        cellsMet.clear();
        warnings.clear();
        if (drafted != null) {
            drafted.clear();
        }
    }

    /**
     * Counts a cell, once, however often it is read.
     *
     * @param source what it is a cell of, {@code sequence} its piece there and {@code row} its row in the piece
     * @param kind what is counted
     * @param subject what it belongs to
     * @param sequence the place of the piece
     * @param row the number of the row, from 0
     * @param value what stands in it and {@code place} where, told of it as an example
     * @param place where it stands
     */
    public void cell(
            Object source,
            Kind kind,
            String subject,
            long sequence,
            int row,
            String value,
            Supplier<@Nullable String> place) {
        if (listener != null) {
            listener.met(kind, subject, sequence, row, value);
            return;
        }
        take(new Cell(new Cells(source, new Key(kind, subject), sequence), row, value, place));
    }

    private void take(Cell cell) {
        if (drafted != null) {
            cellsMet.add(cell);
            return;
        }
        boolean[] known = {false};
        cells.compute(cell.at, (at, rows) -> {
            BitSet counted = rows == null ? new BitSet() : rows;
            known[0] = counted.get(cell.row);
            counted.set(cell.row);
            return counted;
        });
        if (!known[0]) {
            Key key = cell.at.key;
            count(key.kind, key.subject, 1);
            example(key.kind, key.subject, cell.at.sequence, cell.row, new Met(cell.value, cell.place));
        }
    }

    /**
     * Adds to a count; nothing happens for 0.
     *
     * @param kind what is counted
     * @param subject what it belongs to
     * @param times how often
     */
    public void count(Kind kind, String subject, long times) {
        if (times > 0) {
            count(kind, subject, times, 0);
        }
    }

    /**
     * Adds to a count and to what was looked at; what was never counted is not told, however much was looked at.
     *
     * @param kind what is counted
     * @param subject what it belongs to
     * @param times how often
     * @param of of how many
     */
    public void count(Kind kind, String subject, long times, long of) {
        if (kind == muted) {
            return;
        }
        if (parent != null) {
            parent.count(kind, subject, times, of);
            return;
        }
        Counter counter = counts.computeIfAbsent(new Key(kind, subject), k -> new Counter());
        counter.times.add(times);
        counter.of.add(of);
    }

    /**
     * Offers one of what is counted as the example; that of the least place is told.
     *
     * @param kind what is counted
     * @param subject what it belongs to
     * @param sequence the sequence of its batch, {@code row} its place there
     * @param row the number of the row, from 0
     * @param text what is told of it, asked for at the end and only if it is told; null for nothing
     */
    public void example(Kind kind, String subject, long sequence, long row, Supplier<@Nullable String> text) {
        if (kind == muted) {
            return;
        }
        if (parent != null) {
            parent.example(kind, subject, sequence, row, text);
            return;
        }
        counts.computeIfAbsent(new Key(kind, subject), k -> new Counter()).take(new Example(sequence, row, text));
    }

    /**
     * Something told as it is, once however often it comes.
     *
     * @param text what is written
     */
    public void warn(String text) {
        if (parent != null) {
            parent.warn(text);
            return;
        }
        warnings.add(text);
    }

    /**
     * Notes that a check was made.
     *
     * @param check the check
     */
    public void checked(Check check) {
        checks.add(check);
    }

    /** {@return the checks made, in the order in which they were} */
    public List<Check> checks() {
        synchronized (checks) {
            return List.copyOf(checks);
        }
    }

    /** {@return what was told as it is, in the order in which it came} */
    public List<String> warnings() {
        synchronized (warnings) {
            return List.copyOf(warnings);
        }
    }

    /** {@return all counts, by kind, then subject} */
    public List<Notice> list() {
        return counts.entrySet().stream()
                .filter(e -> e.getValue().times.sum() > 0)
                .map(e -> new Notice(
                        e.getKey().kind,
                        e.getKey().subject,
                        e.getValue().times.sum(),
                        e.getValue().of.sum(),
                        e.getValue().shown()))
                .sorted(Comparator.comparing(Notice::kind).thenComparing(Notice::subject))
                .toList();
    }
}
