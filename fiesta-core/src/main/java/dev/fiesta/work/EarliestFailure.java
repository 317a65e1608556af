package dev.fiesta.work;

import org.jspecify.annotations.Nullable;

/** Of the failures of several workers the one of the least place, so that it does not matter who was faster. */
public final class EarliestFailure {
    private @Nullable RuntimeException failure;
    private @Nullable Error exhausted;
    private long sequence = Long.MAX_VALUE;
    private int row = Integer.MAX_VALUE;
    private int order = Integer.MAX_VALUE;

    /** None yet. */
    public EarliestFailure() {}

    /** @param at the piece of the input in which it happened */
    public void met(long at, RuntimeException e) {
        met(at, 0, 0, e);
    }

    /**
     * @param atRow its row in the piece
     * @param by whose failure is told where several have one at the same row: the least number
     */
    public synchronized void met(long at, int atRow, int by, RuntimeException e) {
        boolean before =
                at < sequence || (at == sequence && (atRow < row || (atRow == row && by < order))) || failure == null;
        if (before) {
            failure = e;
            sequence = at;
            row = atRow;
            order = by;
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

    /** The failure of the least place, if there is one. */
    public synchronized @Nullable RuntimeException first() {
        return failure;
    }

    /** The piece in which it happened. */
    public synchronized long sequence() {
        return sequence;
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
