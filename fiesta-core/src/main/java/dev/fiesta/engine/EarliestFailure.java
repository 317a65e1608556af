package dev.fiesta.engine;

import org.jspecify.annotations.Nullable;

/** Of the failures of several workers the one earliest in the input, so that it does not matter who was faster. */
public final class EarliestFailure {
    private @Nullable RuntimeException failure;
    private @Nullable Error exhausted;
    private long failedAt = Long.MAX_VALUE;

    /** None yet. */
    public EarliestFailure() {}

    /** @param sequence where in the input it happened */
    public synchronized void met(long sequence, RuntimeException e) {
        if (failure == null || sequence < failedAt) {
            failure = e;
            failedAt = sequence;
        }
    }

    /** An error of the machine or of the program, which has no place. */
    public void met(Error e) {
        if (e instanceof OutOfMemoryError) {
            outOfMemory(e);
        } else {
            met(0, new IllegalStateException("a worker failed", e));
        }
    }

    private synchronized void outOfMemory(Error e) {
        exhausted = exhausted == null ? e : exhausted;
    }

    /** Throws it, if there is one; that the memory has ended comes before all else. */
    public synchronized void rethrow() {
        if (exhausted != null) {
            throw exhausted;
        }
        if (failure != null) {
            throw failure;
        }
    }
}
