package dev.fiesta.cli;

import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Path;
import org.junit.jupiter.api.io.TempDir;

/** Commands run in a folder of their own; what the last one said stands in {@link #out} and {@link #err}. */
abstract class CommandTest {
    @TempDir
    Path folder;

    StringWriter out = new StringWriter();
    StringWriter err = new StringWriter();

    /** @return the status */
    final int fiesta(String... args) {
        out = new StringWriter();
        err = new StringWriter();
        return Main.run(new PrintWriter(out), new PrintWriter(err), args);
    }

    final String path(String name) {
        return folder.resolve(name).toString();
    }
}
