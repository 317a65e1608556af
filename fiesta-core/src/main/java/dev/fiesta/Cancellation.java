package dev.fiesta;

import java.util.HashSet;
import java.util.Set;

/** Stops runs from another thread: those that go on now, and those that are begun with it later. */
public final class Cancellation {
    private final Set<Stopping> running = new HashSet<>();
    private boolean cancelled;

    /** With no run yet. */
    public Cancellation() {}

    /** Stops the runs; each ends with an {@link dev.fiesta.problem.Interrupted} as soon as it notices. */
    public synchronized void cancel() {
        cancelled = true;
        running.forEach(r -> r.stop("it was cancelled"));
    }

    /** {@return whether {@link #cancel} was called} */
    public synchronized boolean isCancelled() {
        return cancelled;
    }

    synchronized void begin(Stopping run) {
        running.add(run);
        if (cancelled) {
            run.stop("it was cancelled");
        }
    }

    synchronized void end(Stopping run) {
        running.remove(run);
    }
}
