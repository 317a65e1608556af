package dev.fiesta.work;

import dev.fiesta.problem.Interrupted;
import dev.fiesta.walk.Parts;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.Consumer;
import java.util.function.IntConsumer;
import java.util.function.IntFunction;
import org.jspecify.annotations.Nullable;

/** Several threads at the same job, the calling one among them. */
public final class Workers {
    /** Rows are handed from table to table, a few frames each; only what is used of a stack takes memory. */
    private static final long STACK = 64 << 20;

    private static final int WORTH_PARTS = 1 << 16;

    /** Fewer cells are done with before another thread has begun. */
    private static final int WORTH_COLUMNS = 1 << 13;

    private Workers() {}

    /** @throws Interrupted when somebody asked this thread to stop */
    public static void stopIfInterrupted() {
        if (Thread.currentThread().isInterrupted()) {
            throw new Interrupted();
        }
    }

    /**
     * Does something over some rows for each number from 0 to {@code count - 1}, on several threads where there are rows enough. Of
     * several failures that of the least number is thrown.
     */
    public static void each(int threads, int count, int rows, IntConsumer job) {
        each((long) count * rows < WORTH_COLUMNS ? 1 : threads, count, job);
    }

    /**
     * Does something for each number from 0 to {@code count - 1}, on several threads, this one among them. Of several failures that
     * of the least number is thrown.
     */
    public static void each(int threads, int count, IntConsumer job) {
        if (threads == 1 || count <= 1) {
            for (int i = 0; i < count; i++) {
                job.accept(i);
            }
            return;
        }
        AtomicInteger next = new AtomicInteger();
        @Nullable Throwable[] failures = new Throwable[count];
        Runnable worker = () -> {
            for (int i = next.getAndIncrement(); i < count; i = next.getAndIncrement()) {
                try {
                    stopIfInterrupted();
                    job.accept(i);
                } catch (RuntimeException | Error e) {
                    failures[i] = e;
                    next.set(count);
                }
            }
        };
        List<Thread> others = start(Math.min(threads, count) - 1, worker);
        worker.run();
        join(others, () -> next.set(count));
        for (Throwable failure : failures) {
            if (failure instanceof Error error) {
                throw error;
            }
            if (failure != null) {
                throw (RuntimeException) failure;
            }
        }
        stopIfInterrupted();
    }

    /**
     * Makes something for each number from 0 to {@code count - 1}, on several threads, while the calling thread takes what was made,
     * in the order of the numbers. Of several failures that of the least number is thrown, once what is before it was taken.
     */
    public static <T> void inOrder(int threads, int count, IntFunction<T> make, Consumer<T> take) {
        if (threads == 1 || count <= 1) {
            for (int i = 0; i < count; i++) {
                stopIfInterrupted();
                take.accept(make.apply(i));
            }
            return;
        }
        new InOrder<>(threads, count, make, take).run();
    }

    /** So many parts as threads, each worked on by one; a single part of what is soon done. */
    public static Parts parts(int threads, int rows) {
        return threads == 1 || rows < WORTH_PARTS
                ? Parts.ONE
                : new Parts() {
                    @Override
                    public int count() {
                        return threads;
                    }

                    @Override
                    public void each(IntConsumer job) {
                        Workers.each(threads, threads, job);
                    }
                };
    }

    /**
     * Runs a job on several threads and waits for all of them.
     *
     * @param job handles its own failures
     * @param interrupted is told, once, when the calling thread is interrupted while it waits; its mark stays set
     */
    public static void run(int count, Runnable job, Runnable interrupted) {
        join(start(count, job), interrupted);
    }

    static List<Thread> start(int count, Runnable job) {
        List<Thread> workers = new ArrayList<>();
        for (int i = 1; i <= count; i++) {
            Thread thread = new Thread(null, job, "fiesta-worker-" + i, STACK);
            thread.setDaemon(true);
            thread.start();
            workers.add(thread);
        }
        return workers;
    }

    /** Waits for threads, as {@link #run} does. */
    static void join(List<Thread> workers, Runnable interrupted) {
        boolean marked = false;
        for (Thread thread : workers) {
            while (thread.isAlive()) {
                try {
                    thread.join();
                } catch (InterruptedException e) {
                    marked = true;
                    interrupted.run();
                }
            }
        }
        if (marked) {
            Thread.currentThread().interrupt();
        }
    }
}
