package dev.fiesta.engine;

import dev.fiesta.crew.GivenTask;
import dev.fiesta.crew.Sections;
import dev.fiesta.operate.Partitioning;
import dev.fiesta.operate.group.Standing;
import dev.fiesta.operate.window.RangeWindows;
import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.Notices;
import dev.fiesta.progress.Timing;
import dev.fiesta.step.WalksStep;
import dev.fiesta.store.Memory;
import dev.fiesta.store.Resources;
import dev.fiesta.store.RowBytes;
import dev.fiesta.store.Rows;
import dev.fiesta.store.RowsBuilder;
import dev.fiesta.store.Stored;
import dev.fiesta.stretch.NoticeBytes;
import dev.fiesta.value.Column;
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
    private final RowCollector rows;
    private final PartSteps steps;
    private final BitSet kept;
    private final int parts;
    private final Notices notices;
    private final Resources resources;
    private final Memory memory;
    private long elsewhere;
    private boolean isTyped;
    private @Nullable Apart apart;
    private boolean isThrough;
    private List<Timing> timings = List.of();

    /**
     * @param rows takes in what is read here
     * @param steps what each part goes through
     * @param kept the slots of the rows
     * @param parts how many parts there are
     */
    PartedRows(RowCollector rows, PartSteps steps, BitSet kept, int parts, Notices notices, Resources resources) {
        this.rows = rows;
        this.steps = steps;
        this.kept = kept;
        this.parts = parts;
        this.notices = notices;
        this.resources = resources;
        this.memory = resources.memory();
    }

    /** What each part goes through. */
    PartSteps steps() {
        return steps;
    }

    /** Bounds of the ranges that parts are, from the rows that have come here. */
    @Nullable
    Column bounds() throws IOException {
        List<Rows> some = new ArrayList<>();
        rows.each((first, each) -> some.add(each));
        return steps.bounds(some, parts);
    }

    /** Tells where what others have read stands. */
    void apart(Apart others) {
        apart = others;
    }

    /** The step that is left to go on with, where members have been through some; else -1. */
    @Override
    public int resumesAt() {
        return isThrough ? steps.end() : -1;
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
        out.writeLong(rows.kept());
    }

    @Override
    public synchronized void read(DataInput in) throws IOException {
        rows.readMet(in);
        isTyped |= in.readBoolean();
        elsewhere += in.readLong();
    }

    /** Writes the rows of each part into a section; where none has come, not even their types. */
    void writeParts(Sections out) throws IOException {
        List<Stored> split = rows.isEmpty() ? List.of() : split();
        for (int p = 0; p < parts; p++) {
            out.next();
            DataOutputStream to = new DataOutputStream(out);
            if (split.isEmpty()) {
                RowBytes.end(to);
            } else {
                RowBytes.write(split.get(p), steps.numbered(kept), to);
            }
        }
    }

    private List<Stored> split() throws IOException {
        Partitioning split = new Partitioning(parts, steps.numbered(kept), memory);
        rows.each((first, some) -> {
            Rows all = steps.numbered(first, some);
            split.add(all, steps.parts(all, parts));
        });
        return split.finish();
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
        RowsBuilder all = new RowsBuilder(memory, steps.numbered(kept));
        rows.each((first, some) -> all.add(steps.numbered(first, some).batch()));
        for (GivenTask answer : others.answers()) {
            for (int p = 0; p < parts; p++) {
                try (DataInputStream in = answer.open(others.section(p))) {
                    RowBytes.read(in, all);
                }
            }
        }
        return new Standing(steps.inOrder(all, kept, memory), rows.came(), null);
    }

    /** What is left of the rows behind the steps that members have gone through with them; null where a part has something to tell. */
    private @Nullable Standing worked(Apart others) {
        long start = System.nanoTime();
        resources.watch().phase(steps.words() + " by " + others.sharing().readers(), elsewhere, () -> -1);
        long unseen = rows.came() - elsewhere;
        BitSet live = steps.left();
        RowsBuilder left = new RowsBuilder(memory, steps.numbered(live));
        long[] counts = new long[steps.count() + 1];
        Notices told = Notices.draft();
        boolean isPlain = false;
        try {
            WalksStep walks = steps.overAll();
            String known = walks == null ? null : known(new RangeWindows(walks), others);
            isPlain = (walks == null || known != null)
                    && each(others, unseen, known, in -> take(in, told, counts, left))
                    && !(unseen > 0 && told.counted().stream().anyMatch(c -> c.times() > 0));
        } catch (IOException | MachineException e) { // what was read is there all the same, or can be read again
            isPlain = false;
        } finally {
            if (!isPlain) {
                left.drop();
            }
        }
        if (!isPlain) {
            return null;
        }
        notices.add(told);
        timings = steps.told(rows.came(), counts, System.nanoTime() - start);
        return new Standing(steps.left(left, live, memory), counts[steps.count()], null);
    }

    /** Takes what has come of a part. */
    @FunctionalInterface
    private interface Taking {
        void take(DataInputStream in) throws IOException;
    }

    /**
     * Has members go on with all parts; whether none of them has something to tell.
     *
     * @param known under which name it lies what each must know of the others, or null
     */
    private static boolean each(Apart others, long unseen, @Nullable String known, Taking taking) throws IOException {
        List<GivenTask> given = new ArrayList<>();
        try {
            others.goOn(unseen, known, given);
            for (GivenTask part : given) {
                try (DataInputStream in = part.open()) {
                    if (!in.readBoolean()) {
                        return false;
                    }
                    taking.take(in);
                }
            }
            return true;
        } finally {
            given.forEach(GivenTask::close);
        }
    }

    private void take(DataInputStream in, Notices told, long[] counts, RowsBuilder left) throws IOException {
        NoticeBytes.read(told, this, in);
        for (int i = 0; i < counts.length; i++) {
            counts[i] += in.readLong();
        }
        RowBytes.read(in, left);
    }

    /** Lays down what each part must know of the others, under this name; null where one has something to tell. */
    private static @Nullable String known(RangeWindows windows, Apart others) throws IOException {
        RangeWindows.Told told = windows.nothingTold();
        if (!each(others, 0, null, told::add)) {
            return null;
        }
        return others.sharing().work().lay(out -> {
            for (int p = 0; p < others.parts(); p++) {
                if (p > 0) {
                    out.next();
                }
                told.write(p, new DataOutputStream(out));
            }
        });
    }
}
