package dev.fiesta.problem;

import org.jspecify.annotations.Nullable;

/** What was asked for is not there or cannot be: a name, a file, an option, a value handed in. Nothing was read for it. */
public final class RequestException extends FiestaException {
    private static final long serialVersionUID = 1L;

    /** @param message what was asked for, and what there is */
    public RequestException(String message) {
        this(message, null);
    }

    /**
     * @param message what is wrong, in a sentence
     * @param cause what was behind it
     */
    public RequestException(String message, @Nullable Throwable cause) {
        super(message, cause);
    }
}
