package dev.fiesta.engine;

import org.jspecify.annotations.Nullable;

/** Of the failures of several workers the one earliest in the input, so that it does not matter who was faster. */
public final class EarliestFailure {
    private @Nullable RuntimeException failure;
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
        met(
                0,
                e instanceof OutOfMemoryError exhausted
                        ? Memory.exhausted(exhausted)
                        : new IllegalStateException("a worker failed", e));
    }

    /** Throws it, if there is one. */
    public synchronized void rethrow() {
        if (failure != null) {
            throw failure;
        }
    }
}
