package dev.fiesta.work;

import dev.fiesta.problem.Interrupted;
import java.util.Arrays;

/** Lets workers who take pieces in ascending order come forward with them in that order, where it is asked for. */
public final class InTurn {
    private final boolean wanted;
    /** For each worker the least piece that it may come with next. */
    private final long[] least;

    /** @param wanted whether the order matters; otherwise nobody waits */
    public InTurn(int workers, boolean wanted) {
        this.wanted = wanted;
        this.least = new long[workers];
    }

    /** Waits until no other worker can come with a piece before this one. */
    public synchronized void await(int worker, long sequence) {
        at(worker, sequence);
        while (wanted && !isFirst(worker, sequence)) {
            try {
                wait();
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                throw new Interrupted();
            }
        }
    }

    private boolean isFirst(int worker, long sequence) {
        for (int other = 0; other < least.length; other++) {
            if (other != worker && least[other] < sequence) {
                return false;
            }
        }
        return true;
    }

    /** A worker holds this piece, or comes with none before it. */
    public synchronized void at(int worker, long sequence) {
        least[worker] = sequence;
        notifyAll();
    }

    /** A worker comes no more. */
    public void end(int worker) {
        at(worker, Long.MAX_VALUE);
    }

    /** Nobody need wait any more. */
    public synchronized void stop() {
        Arrays.fill(least, Long.MAX_VALUE);
        notifyAll();
    }
}
