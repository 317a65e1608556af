package dev.fiesta.source;

import dev.fiesta.source.files.TemporaryFiles;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.stream.Stream;

/** What runs of this process have left. */
public final class LeftBehind {
    private LeftBehind() {}

    /** The files with rows that did not fit into memory. */
    public static long files() throws IOException {
        Path any = TemporaryFiles.create(".probe");
        Files.delete(any);
        try (Stream<Path> files = Files.list(any.getParent())) {
            return files.filter(f -> f.toString().endsWith(".rows")).count();
        }
    }

    /** The threads of workers. */
    public static long workers() {
        return Thread.getAllStackTraces().keySet().stream()
                .filter(t -> t.getName().startsWith("fiesta-worker"))
                .count();
    }
}
