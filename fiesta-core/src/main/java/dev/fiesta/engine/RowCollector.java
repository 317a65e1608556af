package dev.fiesta.engine;

import dev.fiesta.operate.group.Standing;
import dev.fiesta.operate.sort.TopNFilter;
import dev.fiesta.problem.DataException;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.Step;
import dev.fiesta.store.Memory;
import dev.fiesta.store.Rows;
import dev.fiesta.store.SpillFile;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.store.Stored;
import dev.fiesta.stretch.FailureBytes;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.Packing;
import dev.fiesta.walk.Order;
import dev.fiesta.work.EarliestFailure;
import dev.fiesta.work.Failing;
import dev.fiesta.work.Place;
import dev.fiesta.work.Workers;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import java.util.concurrent.atomic.LongAdder;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * Rows as they come, in the order of what is read. Columns that stand somewhere already, in memory or in a file, are not copied
 * while nothing is taken from them.
 */
final class RowCollector implements Sink {
    /**
     * What is left of a batch.
     *
     * @param picked the rows of the block it was; null for all of them
     * @param slots the columns by slot; null where they stand in {@link #base}
     */
    private record Kept(
            int rows, int @Nullable [] picked, @Nullable Column[] slots) {}

    /** Stands behind the last block that is handed over. */
    private static final long END = -1;

    private final BitSet wanted;
    private final Carried carried;
    private final List<Step> next;
    private final BitSet standing = new BitSet();
    private final long most;
    private final boolean counts;
    private final @Nullable Stored base;
    private final @Nullable Memory memory;
    private final int threads;
    private final Map<Long, Kept> kept = new TreeMap<>();
    private final Map<Long, SpilledRows.Block> written = new TreeMap<>();
    private final LongAdder held = new LongAdder();
    private final LongAdder came = new LongAdder();
    private final EarliestFailure deferred = new EarliestFailure();
    private volatile boolean full;
    private volatile boolean closed;
    private long taken;

    /**
     * @param wanted the slots kept
     * @param carried what is read of them here, and what they carry instead of the rest
     * @param next the steps behind; rows that they drop in any case need not be kept
     * @param most the first rows wanted
     * @param counts whether rows come in order, and no more of them than are wanted
     * @param base what is read, where it stands in memory or in a file
     * @param memory is asked for what is kept; null to keep it all
     */
    RowCollector(
            BitSet wanted,
            Carried carried,
            List<Step> next,
            long most,
            boolean counts,
            @Nullable Stored base,
            @Nullable Memory memory,
            int threads) {
        this.wanted = wanted;
        this.carried = carried;
        this.next = next;
        this.most = most;
        this.counts = counts;
        this.base = base;
        this.memory = memory;
        this.threads = threads;
        if (base instanceof Rows rows) {
            wanted.stream()
                    .filter(s -> s < rows.slots().length && rows.slots()[s] != null)
                    .forEach(standing::set);
        }
    }

    @Override
    public synchronized long left() {
        return !counts ? Long.MAX_VALUE : closed ? 0 : most - taken;
    }

    @Override
    public void close() {
        closed = true;
    }

    @Override
    public Taker worker(Notices counted) {
        TopNFilter thinning = TopNFilter.of(next, wanted);
        return new Taker() {
            @Override
            public void take(Batch rows) {
                came.add(rows.size());
                if (thinning == null) {
                    collect(rows);
                    return;
                }
                if (base == null) {
                    attempt(rows); // what the next step names is read of the rows left out too
                }
                collect(thinning.thinned(rows));
            }

            @Override
            public void attempt(Batch rows) {
                carried.named().stream().filter(wanted::get).forEach(rows::column);
            }
        };
    }

    private void collect(Batch batch) {
        Batch rows = batch.size() > most ? batch.head((int) most) : batch;
        boolean whole = rows.origins() == null && rows.size() == batch.size();
        if (memory != null && base instanceof SpilledRows file && whole) {
            keep(rows, null, written(memory, file.block((int) rows.sequence()), rows));
            return;
        }
        @Nullable Column[] slots = new Column[Math.max(rows.width(), wanted.length())];
        wanted.stream().filter(s -> !standing.get(s)).forEach(s -> slots[s] = column(rows, s));
        int[] picked = standing.isEmpty() || whole ? null : picked(rows);
        long bytes = bytes(slots) + (picked == null ? 0 : 4L * picked.length);
        if (memory != null && !full) {
            held.add(bytes);
            if (!memory.hold(bytes)) {
                full = true; // never set back: two workers may come here at once
            }
        }
        if (memory != null && full) {
            standing.stream().forEach(s -> slots[s] = rows.column(s).flat());
            keep(rows, null, SpilledRows.write(memory.scratch(), rows.size(), slots));
        } else {
            keep(rows, new Kept(rows.size(), picked, slots), null);
        }
    }

    private static int[] picked(Batch rows) {
        int[] origins = rows.origins();
        return origins == null ? Order.asTheyStand(rows.size()) : origins.clone();
    }

    private static long bytes(@Nullable Column[] slots) {
        return Arrays.stream(slots)
                .mapToLong(c -> c == null ? 0 : Rows.bytes(c))
                .sum();
    }

    /** A column; what cannot be read in one that no clause asks for is told after all else. */
    private @Nullable Column column(Batch rows, int slot) {
        if (slot == carried.placeSlot()) {
            return Place.of(rows);
        }
        if (base instanceof Rows) { // what does not stand there was worked out, or nobody needs it
            return rows.loaded(slot);
        }
        try {
            return rows.column(slot).held();
        } catch (DataException e) {
            if (carried.named().get(slot)) {
                throw e;
            }
            Failing failing = Failing.find(rows, e, some -> some.column(slot));
            if (!(failing.failure() instanceof DataException)) {
                throw failing.failure();
            }
            deferred.met(rows.sequence(), rows.origin(failing.sound()), slot, failing.failure());
            int[] none = new int[rows.size()];
            Arrays.fill(none, -1);
            return rows.head(0).column(slot).take(none, none.length);
        }
    }

    /** A whole block, of which what stands in the file stays there. */
    private SpilledRows.Block written(Memory within, SpilledRows.Block block, Batch rows) {
        SpillFile.@Nullable Place[] places = new SpillFile.Place[Math.max(rows.width(), wanted.length())];
        wanted.stream().forEach(s -> {
            boolean stands = s < block.slots().length && block.slots()[s] != null;
            places[s] = stands ? block.slots()[s] : within.scratch().write(rows.column(s));
        });
        return new SpilledRows.Block(rows.size(), places);
    }

    /** @param block where the rows stand in the file, or null when they stay in memory */
    private void keep(Batch rows, @Nullable Kept some, SpilledRows.@Nullable Block block) {
        keep(base == null ? Place.first(rows) : rows.sequence(), rows.size(), some, block);
    }

    private synchronized void keep(long sequence, int rows, @Nullable Kept some, SpilledRows.@Nullable Block block) {
        taken += rows;
        if (some != null) {
            kept.put(sequence, some);
        } else if (block != null) {
            written.put(sequence, block);
        }
    }

    @Override
    public boolean isEmpty() {
        return kept.isEmpty() && written.isEmpty();
    }

    @Override
    public void write(DataOutput out) throws IOException {
        writeMet(out);
        each((sequence, rows) -> {
            out.writeLong(sequence);
            out.writeInt(rows.size());
            Packing.slots(out, rows.slots());
        });
        out.writeLong(END);
    }

    /** Writes what was met on the way, for {@link #readMet}. */
    void writeMet(DataOutput out) throws IOException {
        out.writeLong(came.sum());
        RuntimeException late = deferred.first();
        out.writeBoolean(late != null);
        if (late != null) {
            out.writeLong(deferred.sequence());
            FailureBytes.write(late, out);
        }
    }

    /** Takes the rows of a block. */
    interface BlockTaker {
        /** @param first the place of the first of them */
        void take(long first, Rows rows) throws IOException;
    }

    /** Hands over what was taken in of a source, block by block; those in memory come first. */
    void each(BlockTaker taker) throws IOException {
        for (Map.Entry<Long, Kept> block : kept.entrySet()) {
            taker.take(
                    block.getKey(),
                    new Rows(block.getValue().rows(), block.getValue().slots()));
        }
        for (Map.Entry<Long, SpilledRows.Block> block : written.entrySet()) {
            SpilledRows one = new SpilledRows(Objects.requireNonNull(memory).scratch(), List.of(block.getValue()));
            taker.take(block.getKey(), one.read(0, wanted));
        }
    }

    /** How many rows are kept. */
    synchronized long kept() {
        return taken;
    }

    /** How many rows came, those among them that need not be kept. */
    long came() {
        return came.sum();
    }

    @Override
    public void read(DataInput in) throws IOException {
        readMet(in);
        for (long sequence = in.readLong(); sequence != END; sequence = in.readLong()) {
            Workers.stopIfInterrupted();
            int rows = in.readInt();
            keep(sequence, rows, Packing.slots(in));
        }
    }

    /** Takes in what others met. */
    void readMet(DataInput in) throws IOException {
        came.add(in.readLong());
        if (in.readBoolean()) {
            deferred.met(in.readLong(), FailureBytes.read(in));
        }
    }

    private void keep(long sequence, int rows, @Nullable Column[] slots) {
        long bytes = bytes(slots);
        held.add(bytes);
        if (memory != null && !memory.hold(bytes)) {
            full = true;
        }
        if (memory != null && full) {
            keep(sequence, rows, null, SpilledRows.write(memory.scratch(), rows, slots));
        } else {
            keep(sequence, rows, new Kept(rows, null, slots), null);
        }
    }

    @Override
    public @Nullable RuntimeException deferred() {
        return deferred.first();
    }

    @Override
    public Standing finish() {
        return new Standing(rows(), Math.min(most, came.sum()), null);
    }

    private Stored rows() {
        if (memory != null && !written.isEmpty()) {
            return inFile(memory);
        }
        int size = Math.toIntExact(
                Math.min(most, kept.values().stream().mapToLong(Kept::rows).sum()));
        int width = kept.values().stream().mapToInt(k -> k.slots().length).max().orElse(0);
        @Nullable Column[] columns = new Column[Math.max(width, wanted.length())];
        int[] picked = base instanceof Rows rows && !standing.isEmpty() ? picked(rows.size()) : null;
        Workers.each(threads, columns.length, size, s -> {
            if (standing.get(s)) {
                Column column = ((Rows) Objects.requireNonNull(base)).column(s);
                columns[s] = picked == null ? column : column.take(picked, picked.length);
            } else if (wanted.get(s) && kept.values().iterator().next().slots()[s] != null) {
                List<Column> parts = kept.values().stream()
                        .map(k -> Objects.requireNonNull(k.slots()[s]))
                        .toList();
                columns[s] = Column.join(parts.get(0).type(), parts);
                kept.values().forEach(k -> k.slots()[s] = null); // the parts give their memory back
            }
        });
        int there = kept.values().stream().mapToInt(Kept::rows).sum();
        Rows all = new Rows(there, columns);
        return there == size ? all : all.take(Order.asTheyStand(size));
    }

    /** The rows that are left of those in memory; null for all of them. */
    private int @Nullable [] picked(int size) {
        if (kept.values().stream().allMatch(k -> k.picked() == null)
                && kept.values().stream().mapToInt(Kept::rows).sum() == size) {
            return null;
        }
        int[] all = new int[kept.values().stream().mapToInt(Kept::rows).sum()];
        int count = 0;
        for (Map.Entry<Long, Kept> block : kept.entrySet()) {
            int start = Math.toIntExact(block.getKey() * Rows.BLOCK);
            int[] picked = block.getValue().picked();
            for (int i = 0; i < block.getValue().rows(); i++) {
                all[count++] = start + (picked == null ? i : picked[i]);
            }
        }
        return all;
    }

    /** What was kept in memory first joins what is in the file. */
    private SpilledRows inFile(Memory within) {
        kept.forEach((sequence, some) -> {
            @Nullable Column[] slots = some.slots().clone();
            if (base instanceof Rows rows) {
                int start = Math.toIntExact(sequence * Rows.BLOCK);
                int[] picked = some.picked();
                int[] from = IntStream.range(0, some.rows())
                        .map(i -> start + (picked == null ? i : picked[i]))
                        .toArray();
                standing.stream().forEach(s -> slots[s] = rows.column(s).take(from, from.length));
            }
            written.put(sequence, SpilledRows.write(within.scratch(), some.rows(), slots));
        });
        kept.clear();
        within.hold(-held.sum());
        SpilledRows all = new SpilledRows(within.scratch(), List.copyOf(written.values()));
        return all.rows() <= most ? all : all.first(most, wanted);
    }
}
