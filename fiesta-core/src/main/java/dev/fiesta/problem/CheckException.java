package dev.fiesta.problem;

/** A check of a brief that does not hold. */
public final class CheckException extends FiestaException {
    private static final long serialVersionUID = 1L;

    private final Notices.Check check;

    /**
     * @param message which check, in which table, and the first offending rows
     * @param check the check itself
     */
    public CheckException(String message, Notices.Check check) {
        super(message, null);
        this.check = check;
    }

    /** {@return the check that does not hold} */
    public Notices.Check check() {
        return check;
    }
}
