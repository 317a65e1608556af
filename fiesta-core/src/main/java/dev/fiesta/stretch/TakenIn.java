package dev.fiesta.stretch;

import dev.fiesta.crew.GivenTask;
import dev.fiesta.problem.Interrupted;
import java.io.IOException;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.FutureTask;
import java.util.concurrent.TimeUnit;

/** What members of a crew have found is taken in by several threads; in which order it goes in decides nothing. */
final class TakenIn implements AutoCloseable {
    private final int threads;
    private final ExecutorService workers;
    private final Runnable told;
    private final Deque<Future<?>> open = new ArrayDeque<>();

    /** @param told is run once there may be room again */
    TakenIn(int threads, Runnable told) {
        this.threads = threads;
        this.told = told;
        this.workers = Executors.newFixedThreadPool(threads, job -> {
            Thread thread = new Thread(job, "fiesta-worker-crew");
            thread.setDaemon(true);
            return thread;
        });
    }

    /** Takes one in. */
    @FunctionalInterface
    interface Taking {
        void run() throws IOException;
    }

    /** Whether a thread is free. */
    boolean hasRoom() {
        open.removeIf(one -> {
            boolean done = one.isDone();
            if (done) {
                settle(one);
            }
            return done;
        });
        return open.size() < threads;
    }

    /** Takes one more in, once a thread is free. */
    void add(Taking one) {
        FutureTask<Void> task =
                new FutureTask<>(() -> {
                    one.run();
                    return null;
                }) {
                    @Override
                    protected void done() {
                        told.run();
                    }
                };
        open.add(task);
        workers.execute(task);
    }

    /** Waits until all are in. */
    void await() {
        while (!open.isEmpty()) {
            settle(open.remove());
        }
    }

    private static void settle(Future<?> one) {
        try {
            one.get();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new Interrupted();
        } catch (ExecutionException e) {
            if (e.getCause() instanceof IOException failed) {
                throw GivenTask.unreadable(failed);
            }
            if (e.getCause() instanceof Error error) {
                throw error;
            }
            throw (RuntimeException) e.getCause();
        }
    }

    /** Lets none go on. */
    @Override
    public void close() {
        workers.shutdownNow();
        boolean interrupted = Thread.interrupted();
        try {
            while (!workers.awaitTermination(1, TimeUnit.MINUTES)) {
                continue; // what they take in would be given back under their hands
            }
        } catch (InterruptedException e) {
            interrupted = true;
        }
        if (interrupted) {
            Thread.currentThread().interrupt();
        }
    }
}
