package dev.fiesta.problem;

import org.jspecify.annotations.Nullable;

/** The machine failed: a disk is full, a permission is missing, a file cannot be read. */
public final class MachineException extends FiestaException {
    private static final long serialVersionUID = 1L;

    /**
     * @param message what could not be done, with the file
     * @param cause what the machine said
     */
    public MachineException(String message, @Nullable Throwable cause) {
        super(cause == null ? message : message + " (" + cause.getMessage() + ")", cause);
    }
}
