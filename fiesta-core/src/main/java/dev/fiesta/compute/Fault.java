package dev.fiesta.compute;

import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** A value for which an expression fails; whoever knows the text and the rows turns it into a failure. */
public final class Fault extends RuntimeException {
    private static final long serialVersionUID = 1L;

    private final @Nullable String value;
    private final @Nullable String suggestion;
    private int row = -1;

    /**
     * @param message what is wrong with the value
     * @param value the value as text, or null
     */
    public Fault(String message, @Nullable String value, @Nullable String suggestion) {
        super(message, null, false, false);
        this.value = value;
        this.suggestion = suggestion;
    }

    /** This fault, said to be that of a row, unless a row is known already. */
    Fault at(int number) {
        row = row < 0 ? number : row;
        return this;
    }

    /** The row of the batch, or -1 where it is not known. */
    public int row() {
        return row;
    }

    /** What is wrong, and what to do about it on a line below. */
    public String text() {
        return text(null);
    }

    /** @param whence the file and line of the row, or null */
    String text(@Nullable String whence) {
        String sentence = whence == null ? sentence() : sentence().replaceFirst("\\.$", "") + " (" + whence + ").";
        return sentence + (suggestion == null ? "" : "\n  " + suggestion);
    }

    private String sentence() {
        return Objects.requireNonNull(getMessage());
    }

    public @Nullable String value() {
        return value;
    }

    @Nullable
    String suggestion() {
        return suggestion;
    }
}
