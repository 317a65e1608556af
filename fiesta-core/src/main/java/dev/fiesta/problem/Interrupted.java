package dev.fiesta.problem;

import java.nio.channels.ClosedChannelException;

/** The run was interrupted, and the mark of the thread stays set; or it was stopped by a timeout or a cancellation, which sets none. */
public final class Interrupted extends FiestaException {
    private static final long serialVersionUID = 1L;

    /** Without a cause: nothing went wrong. */
    public Interrupted() {
        super("The run was interrupted.", null);
    }

    /** @param message who stopped it */
    public Interrupted(String message) {
        super(message, null);
    }

    /**
     * {@return an interrupt, if that is what is behind a failure, or the failure itself: a file that an interrupt has closed under the hands of the workers is an interrupt}
     *
     * @param failure what failed
     */
    public static RuntimeException orItself(RuntimeException failure) {
        boolean closed = failure.getCause() instanceof ClosedChannelException;
        return closed && Thread.currentThread().isInterrupted() ? new Interrupted() : failure;
    }
}
