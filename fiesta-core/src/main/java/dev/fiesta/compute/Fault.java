package dev.fiesta.compute;

import org.jspecify.annotations.Nullable;

/** A value for which an expression fails; whoever knows the text and the rows turns it into a failure. */
public final class Fault extends RuntimeException {
    private static final long serialVersionUID = 1L;

    private final @Nullable String value;
    private final @Nullable String wayOut;

    /**
     * @param message what is wrong with the value
     * @param value the value as text, or null
     */
    public Fault(String message, @Nullable String value, @Nullable String wayOut) {
        super(message, null, false, false);
        this.value = value;
        this.wayOut = wayOut;
    }

    public String sentence() {
        return java.util.Objects.requireNonNull(getMessage());
    }

    public @Nullable String value() {
        return value;
    }

    public @Nullable String wayOut() {
        return wayOut;
    }
}
