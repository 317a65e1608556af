package dev.fiesta.output;

import java.io.IOException;
import java.io.OutputStream;
import java.io.OutputStreamWriter;
import java.nio.charset.StandardCharsets;

/** Writes characters in UTF-8, and text that is in UTF-8 already as it is. */
public final class Utf8Writer extends OutputStreamWriter implements Utf8Out {
    private final OutputStream out;

    public Utf8Writer(OutputStream out) {
        super(out, StandardCharsets.UTF_8);
        this.out = out;
    }

    @Override
    public void write(byte[] utf8, int size) throws IOException {
        flush();
        out.write(utf8, 0, size);
    }
}
