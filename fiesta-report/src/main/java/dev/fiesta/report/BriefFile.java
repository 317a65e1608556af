package dev.fiesta.report;

import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.RequestException;
import java.io.IOException;
import java.nio.charset.MalformedInputException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;

/** Reads briefs from files. */
public final class BriefFile {
    private BriefFile() {}

    /**
     * A whole file.
     *
     * @throws RequestException when there is no such file
     * @throws MachineException when it cannot be read
     */
    public static String read(Path file) {
        try {
            return Files.readString(file);
        } catch (NoSuchFileException e) {
            throw new RequestException("There is no brief '" + file + "'.");
        } catch (MalformedInputException e) {
            throw new MachineException("'" + file + "' is not UTF-8", null);
        } catch (IOException e) {
            throw new MachineException("'" + file + "' cannot be read", e);
        }
    }
}
