package dev.fiesta.brief;

import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.RequestException;
import dev.fiesta.source.files.Paths;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.List;

/** The folders where files may be read; nothing outside is looked at, wherever links lead. */
final class Reach {
    private final List<Path> folders;

    /** @param folders as {@link #folder} gives them */
    Reach(List<Path> folders) {
        this.folders = List.copyOf(folders);
    }

    /** @throws RequestException when it is none */
    static Path folder(Path folder) {
        try {
            Path real = folder.toRealPath();
            if (Files.isDirectory(real)) {
                return real;
            }
        } catch (IOException e) {
            throw new RequestException("'" + folder + "' is no folder that can be read", e);
        }
        throw new RequestException("'" + folder + "' is no folder");
    }

    /** Refuses a path or pattern as it is written. */
    void refuse(Path folder, String text) {
        try {
            String fixed = Paths.fixed(text);
            Path path = folder.resolve(fixed).toAbsolutePath().normalize();
            boolean above = text.substring(fixed.length()).contains("..");
            if (text.equals("-") || above || !isInside(path)) {
                throw refused(text);
            }
        } catch (InvalidPathException e) {
            throw refused(text);
        }
    }

    /** Refuses a file that was found. */
    void refuse(Paths.Named file) {
        if (!isInside(file.path().toAbsolutePath().normalize())) {
            throw refused(file.name());
        }
    }

    /** Whether the nearest of its folders that is there lies inside one that may be read. */
    private boolean isInside(Path path) {
        Path there = path;
        while (there != null && !Files.exists(there)) {
            there = there.getParent();
        }
        try {
            Path real = there == null ? path : there.toRealPath().resolve(there.relativize(path));
            return folders.stream().anyMatch(f -> f.getFileSystem().equals(real.getFileSystem()) && real.startsWith(f));
        } catch (IOException e) {
            throw new MachineException("'" + path.getFileName() + "' cannot be looked at", e);
        }
    }

    private static RequestException refused(String name) {
        return new RequestException("'" + name + "' may not be read here: it lies outside the folders that may be.");
    }
}
