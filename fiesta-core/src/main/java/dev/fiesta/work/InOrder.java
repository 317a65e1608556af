package dev.fiesta.work;

import dev.fiesta.problem.Interrupted;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.Consumer;
import java.util.function.IntFunction;
import org.jspecify.annotations.Nullable;

/** Threads that make things side by side, a few ahead of the one that takes them in order. */
final class InOrder<T> {
    /** So many things are made by a thread before the first of them is taken. */
    private static final int AHEAD = 4;

    private final int threads;
    private final int count;
    private final IntFunction<T> make;
    private final Consumer<T> take;
    private final Map<Integer, T> made = new HashMap<>();
    private int claimed;
    private int taken;
    private boolean stopped;
    private int failed = Integer.MAX_VALUE;
    private @Nullable Throwable failure;

    InOrder(int threads, int count, IntFunction<T> make, Consumer<T> take) {
        this.threads = threads;
        this.count = count;
        this.make = make;
        this.take = take;
    }

    void run() {
        List<Thread> makers = Workers.start(Math.min(threads, count), this::work);
        try {
            for (T next = next(); next != null; next = next()) {
                take.accept(next);
            }
        } finally {
            stop();
            Workers.join(makers, () -> {});
        }
        Workers.stopIfInterrupted();
    }

    private void work() {
        for (int i = claim(); i >= 0; i = claim()) {
            try {
                put(i, make.apply(i));
            } catch (RuntimeException | Error e) {
                fail(i, e);
            }
        }
    }

    /** The next number to be made; -1 for none. */
    private synchronized int claim() {
        while (!stopped && claimed < Math.min(count, failed) && claimed >= taken + threads * AHEAD) {
            try {
                wait();
            } catch (InterruptedException e) {
                return -1;
            }
        }
        return stopped || claimed >= Math.min(count, failed) ? -1 : claimed++;
    }

    private synchronized void put(int number, T thing) {
        made.put(number, thing);
        notifyAll();
    }

    private synchronized void fail(int number, Throwable why) {
        if (number < failed) {
            failed = number;
            failure = why;
        }
        notifyAll();
    }

    private synchronized void stop() {
        stopped = true;
        notifyAll();
    }

    /** The next thing; null behind the last. */
    private synchronized @Nullable T next() {
        while (taken < count && taken != failed && !made.containsKey(taken)) {
            try {
                wait();
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                throw new Interrupted();
            }
        }
        if (taken == failed) {
            if (failure instanceof Error error) {
                throw error;
            }
            throw (RuntimeException) Objects.requireNonNull(failure);
        }
        T next = taken < count ? made.remove(taken++) : null;
        notifyAll();
        return next;
    }
}
