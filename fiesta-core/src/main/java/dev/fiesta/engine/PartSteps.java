package dev.fiesta.engine;

import dev.fiesta.compute.Fault;
import dev.fiesta.crew.Crew;
import dev.fiesta.crew.GivenTask;
import dev.fiesta.crew.Sections;
import dev.fiesta.operate.Others;
import dev.fiesta.operate.Partitioning;
import dev.fiesta.operate.group.Standing;
import dev.fiesta.operate.steps.Meeting;
import dev.fiesta.operate.window.RangeWindows;
import dev.fiesta.problem.DataException;
import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.Notices;
import dev.fiesta.progress.Timing;
import dev.fiesta.step.TablePlan;
import dev.fiesta.step.WalksStep;
import dev.fiesta.store.ExternalSort;
import dev.fiesta.store.Memory;
import dev.fiesta.store.Resources;
import dev.fiesta.store.RowBytes;
import dev.fiesta.store.Rows;
import dev.fiesta.store.RowsBuilder;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.store.Stored;
import dev.fiesta.stretch.NoticeBytes;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import java.io.BufferedInputStream;
import java.io.ByteArrayOutputStream;
import java.io.DataInputStream;
import java.io.DataOutput;
import java.io.DataOutputStream;
import java.io.IOException;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Objects;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * What each part of rows of equal keys goes through. Rows carry their place among all that are read, by which those of all parts come
 * back into their order.
 */
final class PartSteps {
    private static final int BUFFER = 1 << 16;

    private final Exchange exchange;
    private final Way way;
    private final BitSet kept;
    private final int number;
    private @Nullable Column bounds;
    private @Nullable String laid;

    /** @param kept the slots of the rows before the steps */
    PartSteps(Exchange exchange, Way way, Carried carried, BitSet kept) {
        this.exchange = exchange;
        this.kept = kept;
        this.number = way.free() + 1;
        this.way = way.carrying(slots -> numbered(carried.carried(slots)));
    }

    private int first() {
        return exchange.first();
    }

    /** The first step behind them. */
    int end() {
        return exchange.end();
    }

    /** How many there are. */
    int count() {
        return end() - first();
    }

    /** How others go through a step of the table, in words; null where they do not. */
    @Nullable
    String told(int step) {
        boolean theirs = IntStream.range(0, count()).anyMatch(i -> own(i) == step);
        return !theirs ? null : hasRanges() ? "by members, range by range" : "by members, in parts of equal keys";
    }

    /** The place of a step among those of the table; -1 for one that only prepares another. */
    private int own(int step) {
        return way.numbers().get(first() + step);
    }

    /** What the first of them is, of which table. */
    String words() {
        return way.shownName() + ": " + way.step(first()).word();
    }

    /** The slots of what is left behind them. */
    BitSet left() {
        BitSet left = (BitSet) way.live().get(end()).clone();
        left.clear(number);
        return left;
    }

    /** Slots, and that of the place of each row. */
    BitSet numbered(BitSet slots) {
        BitSet more = (BitSet) slots.clone();
        more.set(number);
        return more;
    }

    /** Whether parts are ranges of an order, of which the bounds must be told. */
    boolean hasRanges() {
        return exchange.meeting() instanceof Meeting.Range;
    }

    /** The calculations over all rows of which parts must know of each other; null for none. */
    @Nullable
    WalksStep overAll() {
        return exchange.meeting().overAll();
    }

    /** The look-up in a table that is put into parts as the rows are; null for none. */
    Meeting.@Nullable LookedUp lookedUp() {
        return exchange.meeting() instanceof Meeting.LookedUp looked ? looked : null;
    }

    /** Tells where the parts of the table lie that is looked up. */
    void lies(String name) {
        laid = name;
    }

    /**
     * Writes a table that is looked up, each part of it into a section of its own, in which the keys are that may stand in that part of ours.
     */
    static void write(Meeting.LookedUp looked, Stored theirs, int parts, Memory memory, Sections out)
            throws IOException {
        BitSet fields = looked.match().theirFields();
        Partitioning split = new Partitioning(parts, fields, memory);
        RowBytes.each(theirs, fields, some -> split.add(some, looked.theirs(some, parts)));
        List<Stored> all = split.finish();
        for (int p = 0; p < parts; p++) {
            if (p > 0) {
                out.next();
            }
            RowBytes.write(all.get(p), fields, new DataOutputStream(out));
        }
    }

    /**
     * Tells where one range ends and the next begins.
     *
     * @param ends one less than there are parts, in their order; null where nothing is known, so that all rows are one part
     */
    void between(@Nullable Column ends) {
        bounds = ends;
    }

    /** Bounds of so many ranges, each with about as many rows of some. */
    @Nullable
    Column bounds(List<Rows> some, int parts) {
        return ((Meeting.Range) exchange.meeting()).ends(some, parts);
    }

    /** The part of each row: those that are looked at together are in one. */
    int[] parts(Rows rows, int parts) {
        return exchange.meeting().parts(rows, parts, bounds);
    }

    /** With the place of each row among all that are read. */
    Rows numbered(long first, Rows some) {
        long[] places = new long[some.size()];
        for (int i = 0; i < places.length; i++) {
            places[i] = first + i;
        }
        return some.with(number, new LongColumn(Type.INTEGER, places, places.length, null));
    }

    /** What is left of all parts, in their order where that is the order of the rows, else in the order of their places, which go. */
    Stored left(RowsBuilder all, BitSet slots, Memory memory) {
        return hasRanges() && overAll() == null ? without(all.finish(), slots) : inOrder(all, slots, memory);
    }

    /** Rows in the order of their places, which go. */
    Stored inOrder(RowsBuilder all, BitSet slots, Memory memory) {
        return without(sorted(all, numbered(slots), memory), slots);
    }

    private static Stored without(Stored rows, BitSet slots) {
        return rows instanceof SpilledRows file ? file.keep(slots) : rows.load().keep(slots);
    }

    private Stored sorted(RowsBuilder all, BitSet slots, Memory memory) {
        return ExternalSort.sorted(all.finish(), ExternalSort.numbered(number), slots, new Notices(), memory);
    }

    /**
     * Goes on with a part, for somebody else.
     *
     * @param asked the part, and the names of the answers it stands in, in order
     */
    void goOn(Stretch asked, Crew.Laid lies, Flow flow, Resources resources, DataOutput out) throws IOException {
        Stretch.Part part = Objects.requireNonNull(asked.part());
        Memory memory = resources.memory();
        Stored some = rows(asked, part, lies, memory);
        WalksStep walks = overAll();
        if (walks != null && part.known() == null) {
            tell(new RangeWindows(walks), some, memory, out);
            return;
        }
        Notices told = new Notices();
        Standing left;
        try {
            int next = first();
            if (walks != null) {
                try (DataInputStream known = opened(lies, Objects.requireNonNull(part.known()), part.number())) {
                    BitSet after = way.live().get(next + 1);
                    some = new RangeWindows(walks).run(some, after, known, told, memory);
                }
                way.left(next++, some.rows() + part.more());
            }
            left = new StepsRun(new Theirs(lies, part.number(), memory), flow, new StepCounts(), told, resources)
                    .run(way, next, end(), new Standing(some, some.rows() + part.more(), null), null, step -> {});
        } catch (DataException | Fault e) {
            out.writeBoolean(false);
            return;
        }
        // Where rows stand among all is not known in a part, and so not which example is the first.
        boolean isPlain = told.counted().stream().allMatch(c -> c.example() == null);
        out.writeBoolean(isPlain);
        if (isPlain) {
            NoticeBytes.write(told, out);
            for (int i = 0; i < count(); i++) {
                out.writeLong(Math.max(0, counted(i)));
            }
            out.writeLong(left.count());
            RowBytes.write(left.rows(), numbered(left()), out);
        }
    }

    /** The rows of a part, in the order of their places. */
    private Stored rows(Stretch asked, Stretch.Part part, Crew.Laid lies, Memory memory) {
        BitSet slots = numbered(kept);
        RowsBuilder all = new RowsBuilder(memory, slots);
        for (String answer : asked.answers()) {
            try (DataInputStream in = opened(lies, answer, Apart.section(part.sink(), asked.parts(), part.number()))) {
                RowBytes.read(in, all);
            } catch (IOException e) {
                throw GivenTask.unreadable(e);
            }
        }
        return sorted(all, slots, memory);
    }

    private static DataInputStream opened(Crew.Laid lies, String name, int section) throws IOException {
        return new DataInputStream(new BufferedInputStream(lies.open(name, section), BUFFER));
    }

    /** Tells what other parts must know of one, if that can be worked out. */
    private static void tell(RangeWindows windows, Stored rows, Memory memory, DataOutput out) throws IOException {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try {
            windows.tell(rows, memory, new DataOutputStream(bytes));
        } catch (DataException | Fault e) {
            out.writeBoolean(false);
            return;
        }
        out.writeBoolean(true);
        out.write(bytes.toByteArray());
    }

    /** The rows that a step has left, as far as somebody counts them. */
    private long counted(int number) {
        int own = own(number);
        return own < 0 ? 0 : way.counts()[own + 1];
    }

    /**
     * Notes what the steps have left, and tells it.
     *
     * @param came the rows before them
     * @param counts the rows behind each, and those left
     */
    List<Timing> told(long came, long[] counts, long nanos) {
        List<Timing> timings = new ArrayList<>();
        long in = came;
        for (int i = 0; i < count(); i++) {
            int own = own(i);
            if (own < 0) {
                continue;
            }
            way.left(first() + i, counts[i]);
            boolean last = i == count() - 1;
            timings.add(
                    new Timing(way.name(), own, way.step(first() + i).word(), in, counts[i], last ? nanos : 0, 0, 0));
            in = counts[i];
        }
        return timings;
    }

    /** The part of the table that is looked up; no other one is. */
    private final class Theirs implements Others {
        private final Crew.Laid lies;
        private final int part;
        private final Memory memory;
        private @Nullable Stored known;

        Theirs(Crew.Laid lies, int part, Memory memory) {
            this.lies = lies;
            this.part = part;
            this.memory = memory;
        }

        @Override
        public Stored stored(TablePlan table) {
            Stored read = known;
            if (read == null) {
                read = read();
                known = read;
            }
            return read;
        }

        private Stored read() {
            BitSet fields = Objects.requireNonNull(PartSteps.this.lookedUp(), "a look-up")
                    .match()
                    .theirFields();
            RowsBuilder rows = new RowsBuilder(memory, fields);
            try (DataInputStream in = opened(lies, Objects.requireNonNull(laid), part)) {
                RowBytes.read(in, rows);
                return rows.finish();
            } catch (IOException e) {
                throw new MachineException("A table that is looked up cannot be read", e);
            }
        }

        @Override
        public Rows rows(TablePlan table) {
            return stored(table).load();
        }
    }
}
