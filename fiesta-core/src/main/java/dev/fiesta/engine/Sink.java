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
import org.jspecify.annotations.Nullable;

/** Takes in what workers bring and makes rows of it. */
interface Sink {
    /** What one worker hands its batches to. */
    Stage worker();

    /** Whether nothing has come that tells the types of columns. */
    boolean isEmpty();

    /** All rows, once the workers are done. */
    Rows finish();

    /** Groups: each worker has its own, they are merged at the end. */
    final class Groups implements Sink {
        private final Step.Group step;
        private final Notices notices;
        private final List<Grouping> workers = new ArrayList<>();

        Groups(Step.Group step, Notices notices) {
            this.step = step;
            this.notices = notices;
        }

        @Override
        public synchronized Stage worker() {
            Grouping grouping = new Grouping(step, notices);
            workers.add(grouping);
            return grouping::add;
        }

        @Override
        public boolean isEmpty() {
            return false;
        }

        @Override
        public Rows finish() {
            Grouping first = workers.get(0);
            workers.subList(1, workers.size()).forEach(first::merge);
            return first.finish();
        }
    }

    /** Rows as they are, in the order of the input; reading stops when enough of them are there. */
    final class Collected implements Sink {
        private final BitSet slots;
        private final long most;
        private final Source.@Nullable Scan scan;
        private final Map<Long, Batch> batches = new TreeMap<>();
        private int width;

        /**
         * @param slots the slots kept
         * @param most the first rows wanted
         * @param scan what is stopped when they are there, or null
         */
        Collected(BitSet slots, long most, Source.@Nullable Scan scan) {
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
                keep(Batch.of(rows.size(), columns, rows.sequence()));
            };
        }

        private synchronized void keep(Batch batch) {
            batches.put(batch.sequence(), batch);
            width = Math.max(width, batch.width());
            if (scan == null) {
                return;
            }
            long rows = 0;
            for (Batch known : batches.values()) {
                rows += known.size();
                if (rows >= most) {
                    scan.stop(known.sequence() + 1);
                    return;
                }
            }
        }

        @Override
        public boolean isEmpty() {
            return batches.isEmpty();
        }

        @Override
        public Rows finish() {
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
    }
}
