package dev.fiesta.engine;

import java.nio.channels.ClosedChannelException;

/** The run was interrupted; the mark of the thread stays set. */
public final class Interrupted extends RuntimeException {
    private static final long serialVersionUID = 1L;

    public Interrupted() {
        super("interrupted", null, false, false);
    }

    /** A failure as it is told: a file that an interrupt has closed under the hands of the workers is an interrupt. */
    public static RuntimeException told(RuntimeException failure) {
        boolean closed = failure.getCause() instanceof ClosedChannelException;
        return closed && Thread.currentThread().isInterrupted() ? new Interrupted() : failure;
    }
}
