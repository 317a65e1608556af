package dev.fiesta.cli.options;

import dev.fiesta.output.Utf8Out;
import dev.fiesta.output.Utf8Writer;
import java.io.IOException;
import java.io.OutputStream;
import java.io.PrintWriter;

/** Prints in UTF-8, and text that is in UTF-8 already as it is. */
public final class Utf8Printer extends PrintWriter implements Utf8Out {
    private final Utf8Writer writer;

    public Utf8Printer(OutputStream out) {
        this(new Utf8Writer(out));
    }

    private Utf8Printer(Utf8Writer writer) {
        super(writer);
        this.writer = writer;
    }

    @Override
    public void write(byte[] utf8, int size) throws IOException {
        synchronized (lock) {
            writer.write(utf8, size);
        }
    }
}
