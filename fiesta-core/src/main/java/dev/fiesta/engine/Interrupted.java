package dev.fiesta.engine;

/** The run was interrupted. */
public final class Interrupted extends RuntimeException {
    private static final long serialVersionUID = 1L;

    public Interrupted() {
        super("interrupted", null, false, false);
    }
}
