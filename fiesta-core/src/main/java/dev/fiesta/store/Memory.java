package dev.fiesta.store;

import dev.fiesta.problem.MachineException;
import java.util.Objects;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.LongSupplier;
import org.jspecify.annotations.Nullable;

/**
 * The memory that a run may hold for its state, and the file that takes what is beyond it. Whoever holds much asks; what does
 * not fit goes to the file. The file is made when first needed, and goes when nobody can reach it any more, or when the
 * process ends.
 */
public final class Memory {
    private static final long TIGHT = 1 << 20;
    private static final int TIGHT_PART = 8;
    private static final int PART_OF_HEAP = 4;
    /** What a run takes besides, whatever its budget: the program itself, pieces of files, what workers have in hand. */
    private static final long BESIDES = 24L << 20;

    private static final int LEAST_PART_OF_HEAP = 8;
    private static final int FEWEST_ROWS = 4;
    private static final int MOST_ROWS = 1 << 13;

    private final long limit;
    /** What all that is held may come to now, where that changes. */
    private final LongSupplier now;

    private final AtomicLong used = new AtomicLong();
    private final AtomicLong peak = new AtomicLong();
    private @Nullable SpillFile scratch;
    private int kept;

    /** @param limit in bytes */
    public Memory(long limit) {
        this(limit, () -> limit);
    }

    /**
     * @param limit in bytes, by which is settled how things are done
     * @param now the most that may be held while others run, asked whenever more is to be held
     */
    Memory(long limit, LongSupplier now) {
        this.limit = limit;
        this.now = now;
    }

    /** A quarter of what the virtual machine may take, a little less where that is little. */
    public static long usual() {
        long heap = Runtime.getRuntime().maxMemory();
        return Math.max(heap / LEAST_PART_OF_HEAP, (heap - BESIDES) / PART_OF_HEAP);
    }

    /**
     * How much is held where the machine had no more than some of it: of what stands beside it there may be much, but what is held in
     * very small pieces takes more to be found again than it saves.
     */
    public static long tight(long limit) {
        return Math.max(TIGHT, limit / TIGHT_PART);
    }

    public long limit() {
        return limit;
    }

    /** Rows of a block in the file: fewer where there is little memory. */
    public int blockRows() {
        return (int) Math.max(FEWEST_ROWS, Math.min(MOST_ROWS, limit >> 12));
    }

    /** Notes that so many bytes more, or fewer, are held; whether all that is held fits. */
    public boolean hold(long bytes) {
        long held = used.addAndGet(bytes);
        peak.accumulateAndGet(held, Math::max);
        return held <= limit && held <= now.getAsLong();
    }

    /** From now on the peak is what is held from now on. */
    public void startPeak() {
        peak.set(used.get());
    }

    /** The most that was held at once since {@link #startPeak}, in bytes. */
    public long peak() {
        return peak.get();
    }

    /** What was written to the file so far, in bytes. */
    public synchronized long spilled() {
        return scratch == null ? 0 : scratch.size();
    }

    public synchronized SpillFile scratch() {
        if (scratch == null) {
            scratch = SpillFile.create();
        }
        return scratch;
    }

    /** One table more has its rows in the file. */
    public synchronized void keep() {
        kept++;
    }

    /** A table with rows in the file is done with; the file goes with the last one. */
    public synchronized void release() {
        if (--kept == 0) {
            discard();
        }
    }

    /** The virtual machine has no memory left; held to less, the run may come through. */
    public static final class Exhausted extends RuntimeException {
        private static final long serialVersionUID = 1L;

        Exhausted(String message, OutOfMemoryError cause) {
            super(message, cause);
        }

        /** The failure that it is where nothing else helps. */
        public MachineException asFailure() {
            return new MachineException(Objects.requireNonNull(getMessage()), getCause());
        }
    }

    /** What is told when the virtual machine has no memory left. */
    public static Exhausted exhausted(OutOfMemoryError cause, String where) {
        return new Exhausted(MachineException.memory(where, "let fewer rows come so far"), cause);
    }

    /** Removes the file, when a run has failed or nothing of its results stands there. */
    public synchronized void discard() {
        if (scratch != null) {
            scratch.discard();
            scratch = null;
        }
        used.set(0);
    }
}
