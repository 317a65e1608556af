package dev.fiesta.output;

import java.io.IOException;

/** Takes text that is in UTF-8 already, behind what it was given as characters. */
public interface Utf8Out extends Appendable {
    /** Writes the first {@code size} bytes. */
    void write(byte[] utf8, int size) throws IOException;
}
