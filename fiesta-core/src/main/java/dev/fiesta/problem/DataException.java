package dev.fiesta.problem;

import java.io.IOException;
import java.io.ObjectOutputStream;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** The data is wrong: a value, a row, a key, or no data at all. */
public final class DataException extends FiestaException {
    private static final long serialVersionUID = 1L;

    private final @Nullable String file;
    private final long line;
    private final @Nullable String field;
    private final @Nullable String value;
    private final transient @Nullable Supplier<String> told;
    private @Nullable String sentence;

    /**
     * A failure that no single cell of a file is to blame for.
     *
     * @param message what is wrong, in a sentence
     */
    public DataException(String message) {
        this(message, null, 0, null, null);
    }

    /**
     * @param message what is wrong, in a sentence
     * @param file the file as the brief names it, or null
     * @param line the line in the file, from 1, or 0
     * @param field the field, or null
     * @param value the value as found, or null
     */
    public DataException(
            String message, @Nullable String file, long line, @Nullable String field, @Nullable String value) {
        super(message, null);
        this.file = file;
        this.line = line;
        this.field = field;
        this.value = value;
        this.told = null;
    }

    /**
     * A failure that is told only where somebody asks: of many that are met, one is told, and lines are counted to say where.
     *
     * @param value the value as found, or null
     * @param told what is wrong, in a sentence
     */
    public DataException(@Nullable String value, Supplier<String> told) {
        super(null, null);
        this.file = null;
        this.line = 0;
        this.field = null;
        this.value = value;
        this.told = told;
    }

    @Override
    public String getMessage() {
        tell();
        return sentence == null ? super.getMessage() : sentence;
    }

    /** Finds out now what is to be said. */
    public synchronized void tell() {
        if (sentence == null && told != null) {
            sentence = told.get();
        }
    }

    private void writeObject(ObjectOutputStream out) throws IOException {
        tell();
        out.defaultWriteObject();
    }

    /** {@return the file as the brief names it, or null} */
    public @Nullable String file() {
        return file;
    }

    /** {@return the line in the file, from 1; 0 when no line is to blame} */
    public long line() {
        return line;
    }

    /** {@return the field to blame, or null} */
    public @Nullable String field() {
        return field;
    }

    /** {@return the value as found, or null} */
    public @Nullable String value() {
        return value;
    }
}
