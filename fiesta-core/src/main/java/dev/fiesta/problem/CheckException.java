package dev.fiesta.problem;

/** Something that a brief says must hold does not. */
public final class CheckException extends FiestaException {
    private static final long serialVersionUID = 1L;

    /** @param message which check, in which table, and the first offending rows */
    public CheckException(String message) {
        super(message, null);
    }
}
