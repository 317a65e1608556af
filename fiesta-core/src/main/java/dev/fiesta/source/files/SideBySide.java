package dev.fiesta.source.files;

import dev.fiesta.problem.Interrupted;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.CancellationException;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.function.Consumer;

/**
 * Work on files whose parts are done at the same time. Whoever fails or is interrupted interrupts the others: they may wait for a file for
 * long, unlike what engines calculate.
 */
public final class SideBySide {
    private SideBySide() {}

    /**
     * What comes of parts, in their order; of several that fail the first is told.
     *
     * @param threads that work on them
     * @param drop lets go of what came of a part where another fails
     */
    public static <T> List<T> of(List<? extends Callable<T>> parts, int threads, Consumer<T> drop) {
        List<T> all = new ArrayList<>();
        each(parts, threads, drop, all::add);
        return all;
    }

    /**
     * As {@link #of}.
     *
     * @param take gets what comes of each part, in their order; where it fails, nothing comes of those behind
     */
    static <T> void each(List<? extends Callable<T>> parts, int threads, Consumer<T> drop, Consumer<T> take) {
        ExecutorService workers = Executors.newFixedThreadPool(threads);
        List<Future<T>> running = new ArrayList<>();
        parts.forEach(part -> running.add(workers.submit(part)));
        boolean done = false;
        try {
            running.forEach(one -> take.accept(got(one)));
            done = true;
        } finally {
            workers.shutdownNow();
            if (!done) {
                running.forEach(one -> drop(one, drop));
            }
        }
    }

    private static <T> void drop(Future<T> one, Consumer<T> drop) {
        if (one.cancel(false)) {
            return;
        }
        try {
            drop.accept(one.get());
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } catch (ExecutionException | CancellationException e) {
            // It left nothing.
        }
    }

    private static <T> T got(Future<T> one) {
        try {
            return one.get();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new Interrupted();
        } catch (ExecutionException e) {
            if (e.getCause() instanceof RuntimeException failure) {
                throw failure;
            }
            if (e.getCause() instanceof Error error) {
                throw error;
            }
            throw new IllegalStateException(e.getCause());
        }
    }
}
