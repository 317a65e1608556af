package dev.fiesta.compute;

import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** An argument that does not fit its function; whoever knows the text turns it into a problem. */
public final class Misuse extends RuntimeException {
    private static final long serialVersionUID = 1L;

    private final int argument;
    private final @Nullable String suggestion;

    /**
     * @param argument which argument, from 0; -1 for the call as a whole
     * @param message a sentence in which {@code {}} stands for the argument as written
     */
    public Misuse(int argument, String message, @Nullable String suggestion) {
        super(message, null, false, false);
        this.argument = argument;
        this.suggestion = suggestion;
    }

    public int argument() {
        return argument;
    }

    public String sentence() {
        return Objects.requireNonNull(getMessage());
    }

    public @Nullable String suggestion() {
        return suggestion;
    }
}
