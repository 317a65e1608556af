package dev.fiesta.engine;

import dev.fiesta.compute.Expression;
import dev.fiesta.crew.Crew;
import dev.fiesta.crew.GivenTask;
import dev.fiesta.crew.Sections;
import dev.fiesta.operate.Others;
import dev.fiesta.operate.Partitioning;
import dev.fiesta.operate.group.Standing;
import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.Notices;
import dev.fiesta.progress.Timing;
import dev.fiesta.step.TablePlan;
import dev.fiesta.store.ExternalSort;
import dev.fiesta.store.Memory;
import dev.fiesta.store.Resources;
import dev.fiesta.store.RowBytes;
import dev.fiesta.store.Rows;
import dev.fiesta.store.RowsBuilder;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.store.Stored;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import java.io.BufferedInputStream;
import java.io.DataInput;
import java.io.DataInputStream;
import java.io.DataOutput;
import java.io.DataOutputStream;
import java.io.IOException;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Rows of a source that a crew reads, for steps that look at rows of equal keys only. Members put what they have read into parts, by
 * a hash of the keys, and then go on with a part each; where it was asked only what is left of the parts comes together, in the order
 * of the records. Where a part has more to tell than numbers of rows, a fault or an example of what is odd, all rows come together
 * first, as without members, and it is told as ever.
 */
final class PartedRows implements Sink {
    /** Bits that count rows in a block, behind those that tell where the block stands. */
    private static final int ROW_BITS = 38;

    private static final int BUFFER = 1 << 16;
    private static final Others NOBODY = new Others() {
        @Override
        public Stored stored(TablePlan table) {
            throw new IllegalStateException("a part of the rows needs no other table");
        }

        @Override
        public Rows rows(TablePlan table) {
            throw new IllegalStateException("a part of the rows needs no other table");
        }
    };

    private final RowCollector rows;
    private final Exchange exchange;
    private final Way way;
    private final int number;
    private final BitSet kept;
    private final BitSet numbered;
    private final int parts;
    private final Flow flow;
    private final Notices notices;
    private final Resources resources;
    private final Memory memory;
    private long elsewhere;
    private boolean isTyped;
    private @Nullable Apart apart;
    private boolean isThrough;
    private final List<Timing> timings = new ArrayList<>();

    /**
     * @param rows takes in what is read here
     * @param kept the slots of these
     * @param parts how many parts there are
     * @param flow which look-ups work batch by batch
     */
    PartedRows(
            RowCollector rows,
            Exchange exchange,
            Way way,
            Carried carried,
            BitSet kept,
            int parts,
            Flow flow,
            Notices notices,
            Resources resources) {
        this.rows = rows;
        this.exchange = exchange;
        this.number = way.free() + 1;
        this.way = way.carrying(slots -> with(number, carried.carried(slots)));
        this.kept = kept;
        this.numbered = with(number, kept);
        this.parts = parts;
        this.flow = flow;
        this.notices = notices;
        this.resources = resources;
        this.memory = resources.memory();
    }

    private static BitSet with(int slot, BitSet slots) {
        BitSet more = (BitSet) slots.clone();
        more.set(slot);
        return more;
    }

    /** How many parts there are. */
    int parts() {
        return parts;
    }

    /** Tells where what others have read stands. */
    void apart(Apart others) {
        apart = others;
    }

    /** The step that is left to go on with, where members have been through some; else -1. */
    @Override
    public int resumesAt() {
        return isThrough ? exchange.end() : -1;
    }

    @Override
    public List<Timing> timings() {
        return timings;
    }

    @Override
    public Taker worker(Notices notices) {
        return rows.worker(notices);
    }

    @Override
    public long left() {
        return rows.left();
    }

    @Override
    public void close() {
        rows.close();
    }

    @Override
    public boolean isEmpty() {
        return !isTyped && rows.isEmpty();
    }

    @Override
    public @Nullable RuntimeException deferred() {
        return rows.deferred();
    }

    /** Writes what was met; the rows stand in sections of their own. */
    @Override
    public void write(DataOutput out) throws IOException {
        rows.writeMet(out);
        out.writeBoolean(!rows.isEmpty());
        long[] count = {0};
        rows.each((sequence, some) -> count[0] += some.size());
        out.writeLong(count[0]);
    }

    @Override
    public synchronized void read(DataInput in) throws IOException {
        rows.readMet(in);
        isTyped |= in.readBoolean();
        elsewhere += in.readLong();
    }

    /** Writes the rows of each part into a section. */
    void writeParts(Sections out) throws IOException {
        Partitioning split = new Partitioning(parts, numbered, memory);
        rows.each((sequence, some) -> {
            Rows all = numbered(sequence, some);
            split.add(all, Expression.columns(exchange.keys(), all.batch(), new Notices()));
        });
        if (rows.isEmpty()) {
            for (int p = 0; p < parts; p++) {
                out.next();
                RowBytes.end(new DataOutputStream(out));
            }
            return;
        }
        for (Stored part : split.finish()) {
            out.next();
            RowBytes.write(part, numbered, new DataOutputStream(out));
        }
    }

    /** With the place of each row among all that are read. */
    private Rows numbered(long sequence, Rows some) {
        long[] places = new long[some.size()];
        for (int i = 0; i < places.length; i++) {
            places[i] = sequence << ROW_BITS | i;
        }
        return some.with(number, new LongColumn(Type.INTEGER, places, places.length, null));
    }

    /**
     * Goes on with a part, for somebody else.
     *
     * @param answers what was read, in order
     */
    void goOn(Stretch.Part part, List<String> answers, Crew.Laid laid, DataOutput out) throws IOException {
        RowsBuilder all = new RowsBuilder(memory, numbered);
        int section = Apart.section(part.sink(), parts, part.number());
        for (String answer : answers) {
            try (DataInputStream in =
                    new DataInputStream(new BufferedInputStream(laid.open(answer, section), BUFFER))) {
                RowBytes.read(in, all);
            } catch (IOException e) {
                throw GivenTask.unreadable(e);
            }
        }
        Notices told = new Notices();
        Standing left;
        try {
            Stored some = inOrder(all, numbered);
            left = new StepsRun(NOBODY, flow, new StepCounts(), told, resources)
                    .run(
                            way,
                            exchange.first(),
                            exchange.end(),
                            new Standing(some, some.rows() + part.more(), null),
                            null,
                            step -> {});
        } catch (RuntimeException e) {
            if (!FailureBytes.isOfData(e)) {
                throw e;
            }
            out.writeBoolean(false);
            return;
        }
        boolean isPlain = told.counted().stream().allMatch(PartedRows::isPlain)
                && told.warnings().isEmpty()
                && told.checks().isEmpty();
        out.writeBoolean(isPlain);
        if (isPlain) {
            NoticeBytes.write(told, out);
            for (int step = exchange.first(); step < exchange.end(); step++) {
                out.writeLong(Math.max(0, counted(step)));
            }
            out.writeLong(left.count());
            RowBytes.write(left.rows(), way.live().get(exchange.end()), out);
        }
    }

    /** Whether it is a number only: where rows stand among all is not known in a part. */
    private static boolean isPlain(Notices.Counted counted) {
        return counted.example() == null && counted.cells().isEmpty();
    }

    /** The rows that a step has left, as far as somebody counts them. */
    private long counted(int step) {
        int own = way.numbers().get(step);
        return own < 0 ? 0 : way.counts()[own + 1];
    }

    private Stored inOrder(RowsBuilder all, BitSet slots) {
        return ExternalSort.sorted(all.finish(), ExternalSort.numbered(number), slots, new Notices(), memory);
    }

    @Override
    public Standing finish() {
        Apart others = apart;
        if (others == null) {
            return rows.finish();
        }
        try {
            Standing worked = rows.isEmpty() && others.pays() ? worked(others) : null;
            isThrough = worked != null;
            return worked != null ? worked : together(others);
        } catch (IOException e) {
            throw GivenTask.unreadable(e);
        }
    }

    /** All rows, where members have not gone on with them. */
    private Standing together(Apart others) throws IOException {
        RowsBuilder all = new RowsBuilder(memory, numbered);
        rows.each((sequence, some) -> all.add(numbered(sequence, some).batch()));
        for (GivenTask answer : others.answers()) {
            for (int p = 0; p < parts; p++) {
                try (DataInputStream in = answer.open(others.section(p))) {
                    RowBytes.read(in, all);
                }
            }
        }
        return new Standing(without(inOrder(all, numbered), kept), rows.came(), null);
    }

    private static Stored without(Stored rows, BitSet slots) {
        return rows instanceof SpilledRows file ? file.keep(slots) : rows.load().keep(slots);
    }

    /** What is left of the rows behind the steps that members have gone through with them; null where a part has something to tell. */
    private @Nullable Standing worked(Apart others) {
        long start = System.nanoTime();
        String words = way.step(exchange.first()).word();
        resources.watch().phase(way.shownName() + ": " + words + " by members", elsewhere, () -> -1);
        RowsBuilder left = new RowsBuilder(memory, way.live().get(exchange.end()));
        long[] counts = new long[exchange.end() - exchange.first()];
        long count = 0;
        Notices told = Notices.draft();
        long unseen = rows.came() - elsewhere;
        List<GivenTask> given = others.goOn(unseen);
        try {
            for (GivenTask part : given) {
                try (DataInputStream in = part.open()) {
                    if (!in.readBoolean()) {
                        left.drop();
                        return null;
                    }
                    NoticeBytes.read(told, this, in);
                    for (int i = 0; i < counts.length; i++) {
                        counts[i] += in.readLong();
                    }
                    count += in.readLong();
                    RowBytes.read(in, left);
                }
            }
        } catch (IOException | MachineException e) { // what was read is there all the same, or can be read again
            left.drop();
            return null;
        } finally {
            given.forEach(GivenTask::close);
        }
        if (unseen > 0 && told.counted().stream().anyMatch(c -> c.times() > 0)) {
            left.drop();
            return null;
        }
        notices.add(told);
        tell(counts, System.nanoTime() - start);
        BitSet live = (BitSet) way.live().get(exchange.end()).clone();
        Stored ordered = inOrder(left, live);
        live.clear(number);
        return new Standing(without(ordered, live), count, null);
    }

    private void tell(long[] counts, long nanos) {
        long in = rows.came();
        for (int i = 0; i < counts.length; i++) {
            int step = exchange.first() + i;
            int own = way.numbers().get(step);
            if (own < 0) {
                continue;
            }
            way.left(step, counts[i]);
            boolean last = i == counts.length - 1;
            timings.add(new Timing(way.name(), own, way.step(step).word(), in, counts[i], last ? nanos : 0, 0, 0));
            in = counts[i];
        }
    }
}
