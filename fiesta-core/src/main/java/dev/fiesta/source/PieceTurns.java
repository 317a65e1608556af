package dev.fiesta.source;

import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.IntToLongFunction;

/** Gives pieces of a reading out to several workers, in their order, until somebody stops it. */
public final class PieceTurns {
    private final int pieces;
    private final IntToLongFunction sequence;
    private final AtomicInteger next = new AtomicInteger();
    private final AtomicLong stop = new AtomicLong(Long.MAX_VALUE);

    /** Of so many pieces whose sequences are their numbers. */
    public PieceTurns(int pieces) {
        this(pieces, piece -> piece);
    }

    /** @param sequence of a piece, which grows with its number */
    public PieceTurns(int pieces, IntToLongFunction sequence) {
        this.pieces = pieces;
        this.sequence = sequence;
    }

    /** The number of the next piece; -1 where there is none, or it stands behind the end. */
    public int claim() {
        int piece = next.getAndIncrement();
        return piece < pieces && !isStopped(sequence.applyAsLong(piece)) ? piece : -1;
    }

    /** Gives none out any more from a sequence on. */
    public void stop(long from) {
        stop.accumulateAndGet(from, Math::min);
    }

    /** Whether nobody wants a sequence any more. */
    public boolean isStopped(long of) {
        return of >= stop.get();
    }

    /** How much was given out, from 0 to 1. */
    public double share() {
        return pieces == 0 ? 1 : Math.min(1, (double) next.get() / pieces);
    }
}
