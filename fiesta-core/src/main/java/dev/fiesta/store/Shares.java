package dev.fiesta.store;

import dev.fiesta.progress.Watch;
import java.util.concurrent.atomic.AtomicInteger;

/**
 * What all runs of a program share: threads and memory. A run begins with the threads that are free, one at least, and may hold an equal
 * part of the memory; when others begin its part gets smaller, and what no longer fits goes to its file.
 */
public final class Shares {
    private final int threads;
    private final long memory;
    private final AtomicInteger running = new AtomicInteger();
    private final AtomicInteger busy = new AtomicInteger();

    /**
     * @param threads of all runs together, but for one that each has
     * @param memory in bytes, of all runs together
     */
    public Shares(int threads, long memory) {
        this.threads = threads;
        this.memory = memory;
    }

    /** What one run has until it is closed. */
    public final class Share implements AutoCloseable {
        private final int taken;

        private Share() {
            running.incrementAndGet();
            int before = busy.getAndUpdate(b -> b + Math.max(1, threads - b));
            taken = Math.max(1, threads - before);
        }

        /**
         * @param most the most that it may hold, in bytes, whatever its part
         */
        public Resources resources(long most, Watch watch) {
            return new Resources(taken, new Memory(Math.min(most, part()), this::part), watch);
        }

        private long part() {
            return Math.max(1, memory / Math.max(1, running.get()));
        }

        @Override
        public void close() {
            busy.addAndGet(-taken);
            running.decrementAndGet();
        }
    }

    /** Begins a run. */
    public Share begin() {
        return new Share();
    }
}
