package dev.fiesta;

import dev.fiesta.problem.Interrupted;
import java.time.Duration;
import java.util.Locale;
import java.util.concurrent.Future;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * One run that somebody may stop: by an interrupt of the thread that runs it, which then ends it like any other. An interrupt that comes
 * when the run is through is taken back, so that it meets nobody else.
 */
final class Stopping {
    private final Thread thread = Thread.currentThread();
    private boolean over;
    private @Nullable String why;

    private Stopping() {}

    /** @param clock is asked for where there is a timeout */
    static <T> T run(RunOptions options, Supplier<ScheduledExecutorService> clock, Supplier<T> work) {
        Duration timeout = options.timeout();
        Cancellation cancellation = options.cancellation();
        if (timeout == null && cancellation == null) {
            return work.get();
        }
        Stopping run = new Stopping();
        Future<?> alarm = timeout == null
                ? null
                : clock.get()
                        .schedule(
                                () -> run.stop("it took longer than " + shown(timeout)),
                                nanos(timeout),
                                TimeUnit.NANOSECONDS);
        try {
            if (cancellation != null) {
                cancellation.begin(run);
            }
            return run.result(work);
        } finally {
            if (alarm != null) {
                alarm.cancel(false);
            }
            if (cancellation != null) {
                cancellation.end(run);
            }
        }
    }

    private static long nanos(Duration timeout) {
        try {
            return timeout.toNanos();
        } catch (ArithmeticException e) {
            return Long.MAX_VALUE / 2;
        }
    }

    private static String shown(Duration timeout) {
        return timeout.toString().substring(2).toLowerCase(Locale.ROOT).replaceAll("([hm])(?=.)", "$1 ");
    }

    private <T> T result(Supplier<T> work) {
        try {
            T result = work.get();
            end();
            return result;
        } catch (RuntimeException e) {
            String stopped = end();
            throw stopped == null ? e : new Interrupted("The run was stopped: " + stopped + ".");
        } catch (Error e) {
            end();
            throw e;
        }
    }

    synchronized void stop(String reason) {
        if (!over && why == null) {
            why = reason;
            thread.interrupt();
        }
    }

    /** Why it was stopped, if it was. */
    private synchronized @Nullable String end() {
        over = true;
        if (why != null) {
            Thread.interrupted();
        }
        return why;
    }
}
