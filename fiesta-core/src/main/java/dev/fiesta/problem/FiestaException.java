package dev.fiesta.problem;

import org.jspecify.annotations.Nullable;

/** The root of all failures that Fiesta tells. */
public abstract sealed class FiestaException extends RuntimeException
        permits BriefException, DataException, CheckException, MachineException, RequestException, Interrupted {
    private static final long serialVersionUID = 1L;

    FiestaException(String message, @Nullable Throwable cause) {
        super(message, cause);
    }
}
