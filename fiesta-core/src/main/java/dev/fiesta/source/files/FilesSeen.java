package dev.fiesta.source.files;

import dev.fiesta.problem.DataException;
import dev.fiesta.problem.MachineException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.nio.file.attribute.FileTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/** What tells whether the files of an input are the ones that were looked at: their names, sizes, times and identities. */
public final class FilesSeen {
    private record Stamp(
            String name, long size, FileTime time, @Nullable Object key) {
        boolean isSame(Stamp other) {
            return name.equals(other.name)
                    && size == other.size
                    && time.equals(other.time)
                    && Objects.equals(key, other.key);
        }
    }

    private final List<Stamp> stamps;

    private FilesSeen(List<Stamp> stamps) {
        this.stamps = List.copyOf(stamps);
    }

    /**
     * Looks at the files of paths and globs as they are now; pipes and standard input are not looked at, they come but once.
     *
     * @param folder where relative paths start
     * @throws DataException when one is not there any more
     */
    public static FilesSeen of(Path folder, List<String> paths) {
        List<Stamp> stamps = new ArrayList<>();
        for (String path : paths) {
            if (!Paths.isOnceOnly(folder, path)) {
                Paths.find(folder, path).forEach(f -> stamps.add(stamp(f)));
            }
        }
        return new FilesSeen(stamps);
    }

    /** Of what does not come from files. */
    public static FilesSeen none() {
        return new FilesSeen(List.of());
    }

    /** Files as they are now. */
    public static FilesSeen of(List<Paths.Named> files) {
        return new FilesSeen(files.stream().map(FilesSeen::stamp).toList());
    }

    private static Stamp stamp(Paths.Named file) {
        try {
            BasicFileAttributes now = Files.readAttributes(file.path(), BasicFileAttributes.class);
            return new Stamp(file.name(), now.size(), now.lastModifiedTime(), now.fileKey());
        } catch (IOException e) {
            throw new MachineException("'" + file.name() + "' cannot be read", e);
        }
    }

    /** Whether nothing has changed since others were seen. */
    public boolean isSame(FilesSeen before) {
        return stamps.size() == before.stamps.size()
                && IntStream.range(0, stamps.size()).allMatch(i -> stamps.get(i).isSame(before.stamps.get(i)));
    }

    /**
     * Refuses what was read from files that changed meanwhile.
     *
     * @throws DataException when something is not as it was when these were seen
     */
    public void refuseChange(FilesSeen now) {
        for (Stamp stamp : stamps) {
            if (now.stamps.stream().noneMatch(stamp::isSame)) {
                throw new DataException(
                        "'" + stamp.name + "' was changed while it was read. Run again when it is whole.",
                        stamp.name,
                        0,
                        null,
                        null);
            }
        }
    }
}
