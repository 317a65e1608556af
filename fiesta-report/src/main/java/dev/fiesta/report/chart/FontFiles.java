package dev.fiesta.report.chart;

import dev.fiesta.problem.MachineException;
import dev.fiesta.source.files.TemporaryFiles;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.Map;
import java.util.Objects;

/**
 * The bundled fonts as files among the temporary ones of this process. Given a stream, the JDK makes a file of its own for each
 * font, which stays when the process is killed.
 */
public final class FontFiles {
    private static final Map<String, Path> WRITTEN = new HashMap<>();

    private FontFiles() {}

    public static synchronized Path of(String name) {
        Path known = WRITTEN.get(name);
        if (known == null || !Files.exists(known)) {
            known = TemporaryFiles.create(".ttf");
            try (InputStream in =
                    Objects.requireNonNull(FontFiles.class.getResourceAsStream("/dev/fiesta/report/" + name))) {
                Files.write(known, in.readAllBytes());
            } catch (IOException e) {
                throw new MachineException(
                        "The font for charts and pages cannot be written to the temporary folder", e);
            }
            WRITTEN.put(name, known);
        }
        return known;
    }
}
