package dev.fiesta.crew;

import java.io.IOException;
import java.io.OutputStream;

/** What is written in sections, the first of which begins at once; each may be read without the others. */
public abstract class Sections extends OutputStream {
    /** Nothing is written yet. */
    protected Sections() {}

    /**
     * Ends a section and begins the next.
     *
     * @throws IOException when what was written cannot be kept
     */
    public abstract void next() throws IOException;
}
