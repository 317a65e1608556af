package dev.fiesta.cli;

import java.io.IOException;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** Where lines of sessions are kept, for the next: only their owner can read them. */
final class History {
    private History() {}

    /** The file, or null where none can be made: then lines are kept for the session only. */
    static @Nullable Path file() {
        Path state = folder(System.getenv("XDG_STATE_HOME"));
        Path home = folder(System.getProperty("user.home"));
        if (state == null && home == null) {
            return null;
        }
        Path folder = state != null ? state : Objects.requireNonNull(home).resolve(".local/state");
        try {
            Path own = Files.createDirectories(folder.resolve("fiesta"));
            Path file = own.resolve("history");
            try {
                return own.getFileSystem().supportedFileAttributeViews().contains("posix")
                        ? Files.createFile(
                                file,
                                PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")))
                        : Files.createFile(file);
            } catch (FileAlreadyExistsException there) {
                return Files.isWritable(file) ? file : null;
            }
        } catch (IOException | SecurityException e) {
            return null;
        }
    }

    /** An absolute folder that is named; the standard wants relative ones passed over. */
    private static @Nullable Path folder(@Nullable String named) {
        return named != null && Path.of(named).isAbsolute() ? Path.of(named) : null;
    }
}
