package dev.fiesta.engine;

import dev.fiesta.operate.group.Grouping;
import dev.fiesta.operate.group.Standing;
import dev.fiesta.problem.Notices;
import dev.fiesta.progress.Timing;
import dev.fiesta.step.GroupStep;
import dev.fiesta.store.Memory;
import dev.fiesta.value.Batch;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Takes in what workers bring and makes rows of it. */
interface Sink {
    /** What becomes of what is taken in. */
    enum Use {
        HERE,
        /** Somebody else goes on with it. */
        HANDED_OVER
    }

    /** What one worker hands its batches to. */
    interface Taker {
        /** Takes rows in. */
        void take(Batch rows);

        /** Fails as {@link #take} would, and keeps nothing. */
        default void attempt(Batch rows) {}
    }

    /** @param notices where the worker counts */
    Taker worker(Notices notices);

    /** How many rows more are wanted, of those that come in order; all where nobody counts them. */
    default long left() {
        return Long.MAX_VALUE;
    }

    /** Whether what several took in becomes less once it is in one. */
    default boolean reduces() {
        return false;
    }

    /** Whether nothing has come that tells the types of columns. */
    boolean isEmpty();

    /** All rows, once the workers are done. */
    Standing finish();

    /** Wants no more rows, where somebody counts them. */
    default void close() {}

    /** Writes all that was taken in, for a sink of the same kind elsewhere. */
    void write(DataOutput out) throws IOException;

    /** Takes in what another one wrote. */
    void read(DataInput in) throws IOException;

    /** The step that is left to go on with, where the rows have been through some by now; else -1. */
    default int resumesAt() {
        return -1;
    }

    /** What the steps did that the rows have been through. */
    default List<Timing> timings() {
        return List.of();
    }

    /** What failed in cells that no clause has asked for yet: that is told after all else. */
    default @Nullable RuntimeException deferred() {
        return null;
    }

    /** Groups: each worker has its own, they are merged at the end. */
    final class Groups implements Sink {
        private final GroupStep step;
        private final Notices notices;
        private final Memory memory;
        private final int threads;
        private final Use use;
        private final List<Grouping> workers = new ArrayList<>();
        /** Of those, what others have written goes into. */
        private final Deque<Grouping> idle = new ArrayDeque<>();

        /**
         * @param threads how many bring the workers' groups together
         * @param use of what is gathered
         */
        Groups(GroupStep step, Notices notices, Memory memory, int threads, Use use) {
            this.use = use;
            this.threads = threads;
            this.memory = memory;
            this.step = step;
            this.notices = notices;
        }

        @Override
        public synchronized Taker worker(Notices counted) {
            Grouping grouping = new Grouping(step, counted, memory, use == Use.HANDED_OVER);
            workers.add(grouping);
            return new Taker() {
                @Override
                public void take(Batch rows) {
                    grouping.add(rows);
                }

                @Override
                public void attempt(Batch rows) {
                    new Grouping(step, new Notices()).add(rows);
                }
            };
        }

        @Override
        public void write(DataOutput out) throws IOException {
            Grouping.write(workers, out);
        }

        @Override
        public void read(DataInput in) throws IOException {
            Grouping free = free();
            free.read(in);
            synchronized (this) {
                idle.push(free);
            }
        }

        /** One that nobody reads into. */
        private synchronized Grouping free() {
            if (!idle.isEmpty()) {
                return idle.pop();
            }
            Grouping fresh = new Grouping(step, new Notices(), memory, use == Use.HANDED_OVER);
            workers.add(fresh);
            return fresh;
        }

        @Override
        public boolean isEmpty() {
            return false;
        }

        @Override
        public boolean reduces() {
            return true;
        }

        @Override
        public Standing finish() {
            return Grouping.finish(workers, notices, threads);
        }
    }
}
