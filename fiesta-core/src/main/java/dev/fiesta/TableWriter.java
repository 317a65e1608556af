package dev.fiesta;

import java.io.IOException;
import java.io.OutputStream;

/**
 * Writes tables as data in a format that the core does not know. Whoever has one names it in {@code META-INF/services}, so that it is found where its
 * jar is there and missed by nobody where it is not.
 */
public interface TableWriter {
    /** {@return the name of the format, in small letters: {@code parquet}} */
    String format();

    /**
     * Writes the shown columns of a table; figures that are hidden are missing.
     *
     * @param result the table
     * @param out stays open
     * @throws IOException when the stream takes no more
     */
    void write(Result result, OutputStream out) throws IOException;
}
