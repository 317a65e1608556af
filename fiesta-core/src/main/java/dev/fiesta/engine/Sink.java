package dev.fiesta.engine;

import dev.fiesta.plan.Step;
import dev.fiesta.problem.Notices;
import dev.fiesta.source.Source;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.atomic.AtomicReference;
import java.util.concurrent.atomic.LongAdder;
import org.jspecify.annotations.Nullable;

/** Takes in what workers bring and makes rows of it. */
interface Sink {
    /** What one worker hands its batches to. */
    Stage worker();

    /** Whether nothing has come that tells the types of columns. */
    boolean isEmpty();

    /** Whether it may have ended the reading before all records had been read. */
    default boolean stopsReading() {
        return false;
    }

    /** All rows, once the workers are done. */
    Stored finish();

    /** Groups: each worker has its own, they are merged at the end. */
    final class Groups implements Sink {
        private final Step.Group step;
        private final Notices notices;
        private final Memory memory;
        private final int threads;
        private final AtomicReference<Grouping.@Nullable Relief> relief = new AtomicReference<>();
        private final List<Grouping> workers = new ArrayList<>();

        /** @param threads how many bring the workers' groups together */
        Groups(Step.Group step, Notices notices, Memory memory, int threads) {
            this.threads = threads;
            this.memory = memory;
            this.step = step;
            this.notices = notices;
        }

        @Override
        public synchronized Stage worker() {
            Grouping grouping = new Grouping(step, notices, memory, relief);
            workers.add(grouping);
            return grouping::add;
        }

        @Override
        public boolean isEmpty() {
            return false;
        }

        @Override
        public Stored finish() {
            return Grouping.finish(workers, threads);
        }
    }

    /** Rows as they are, in the order of the input; reading stops when enough of them are there. */
    final class Collected implements Sink {
        private final BitSet slots;
        private final long most;
        private final Source.@Nullable Scan scan;
        private final Memory memory;
        private final Map<Long, Batch> batches = new TreeMap<>();
        private final Map<Long, FileRows.Block> written = new TreeMap<>();
        private final Map<Long, Integer> sizes = new TreeMap<>();
        private final LongAdder held = new LongAdder();
        private volatile boolean full;
        private int width;

        /**
         * @param slots the slots kept
         * @param most the first rows wanted
         * @param scan what is stopped when they are there, or null
         */
        Collected(BitSet slots, long most, Source.@Nullable Scan scan, Memory memory) {
            this.memory = memory;
            this.slots = slots;
            this.most = most;
            this.scan = scan;
        }

        @Override
        public Stage worker() {
            return batch -> {
                Batch rows = batch.size() > most ? batch.head((int) most) : batch;
                @Nullable Column[] columns = new Column[Math.max(rows.width(), slots.length())];
                slots.stream().forEach(s -> columns[s] = rows.column(s).flat());
                Rows taken = new Rows(rows.size(), columns, null);
                if (!full) {
                    held.add(taken.bytes());
                    if (!memory.hold(taken.bytes())) {
                        full = true; // never set back: two workers may come here at once
                    }
                }
                FileRows.Block block = full ? FileRows.write(memory.scratch(), taken.size(), columns) : null;
                keep(Batch.of(rows.size(), columns, rows.sequence()), block);
            };
        }

        /** @param block where the rows stand in the file, or null when they stay in memory */
        private synchronized void keep(Batch batch, FileRows.@Nullable Block block) {
            if (block == null) {
                batches.put(batch.sequence(), batch);
            } else {
                written.put(batch.sequence(), block);
            }
            width = Math.max(width, batch.width());
            if (scan != null) {
                sizes.put(batch.sequence(), batch.size());
                stopWhenEnough(scan);
            }
        }

        private void stopWhenEnough(Source.Scan reading) {
            long rows = 0;
            for (Map.Entry<Long, Integer> known : sizes.entrySet()) {
                rows += known.getValue();
                if (rows >= most) {
                    reading.stop(known.getKey() + 1);
                    return;
                }
            }
        }

        @Override
        public boolean isEmpty() {
            return batches.isEmpty() && written.isEmpty();
        }

        @Override
        public boolean stopsReading() {
            return scan != null && sizes.values().stream().mapToLong(n -> n).sum() >= most;
        }

        @Override
        public Stored finish() {
            if (!written.isEmpty()) {
                return inFile();
            }
            int size = Math.toIntExact(Math.min(
                    most, batches.values().stream().mapToLong(Batch::size).sum()));
            @Nullable Column[] columns = new Column[Math.max(width, slots.length())];
            slots.stream().forEach(s -> {
                List<Column> parts =
                        batches.values().stream().map(b -> b.column(s)).toList();
                columns[s] = Column.join(parts.get(0).type(), parts);
            });
            Rows all = new Rows(batches.values().stream().mapToInt(Batch::size).sum(), columns, null);
            return all.size() == size ? all : all.take(dev.fiesta.walk.Order.asTheyStand(size));
        }

        /** What was kept in memory first joins what is in the file. */
        private FileRows inFile() {
            batches.forEach((sequence, batch) -> {
                @Nullable Column[] columns = new Column[batch.width()];
                slots.stream().forEach(s -> columns[s] = batch.column(s));
                written.put(sequence, FileRows.write(memory.scratch(), batch.size(), columns));
            });
            batches.clear();
            memory.hold(-held.sum());
            FileRows all = new FileRows(memory.scratch(), List.copyOf(written.values()));
            return all.rows() <= most ? all : FileRunner.first(all, most, slots);
        }
    }
}
