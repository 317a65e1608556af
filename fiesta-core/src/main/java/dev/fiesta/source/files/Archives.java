package dev.fiesta.source.files;

import dev.fiesta.problem.DataException;
import dev.fiesta.problem.MachineException;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.zip.CRC32;
import java.util.zip.CheckedInputStream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipException;
import java.util.zip.ZipFile;

/** Files that stand in archives ({@code .zip}), as if these were folders. */
public final class Archives {
    private static final String ENDING = ".zip";
    /** What some programs put beside the files. */
    private static final String NOBODYS = "__MACOSX/";

    private Archives() {}

    /** What is made of a file in an archive. */
    @FunctionalInterface
    private interface Taken {
        Path of(ZipFile archive, ZipEntry entry) throws IOException;
    }

    /**
     * The files, with those in an archive in its place, in code-point order; their paths lead to the archive.
     *
     * @throws DataException when an archive cannot be read, or holds none or another archive
     */
    public static List<Paths.Named> listed(List<Paths.Named> files) {
        List<Paths.Named> all = new ArrayList<>();
        for (Paths.Named file : files) {
            all.addAll(isArchive(file.name()) ? in(file, (archive, entry) -> file.path()) : List.of(file));
        }
        return all;
    }

    /** As {@link #listed}, those in archives unpacked into temporary files. */
    public static List<Paths.Named> unpacked(List<Paths.Named> files) {
        List<Paths.Named> all = new ArrayList<>();
        for (Paths.Named file : files) {
            all.addAll(isArchive(file.name()) ? in(file, Archives::unpacked) : List.of(file));
        }
        return all;
    }

    private static boolean isArchive(String name) {
        return name.toLowerCase(Locale.ROOT).endsWith(ENDING);
    }

    private static List<Paths.Named> in(Paths.Named file, Taken taken) {
        try (ZipFile archive = new ZipFile(file.path().toFile())) {
            List<ZipEntry> entries = archive.stream()
                    .filter(e -> !e.isDirectory() && !isNobodys(e.getName()))
                    .map(e -> (ZipEntry) e)
                    .sorted(Comparator.comparing(ZipEntry::getName, Paths.BY_CODE_POINT))
                    .toList();
            if (entries.isEmpty()) {
                throw problem(file.name(), "'" + file.name() + "' holds no file.");
            }
            List<Paths.Named> found = new ArrayList<>();
            for (ZipEntry entry : entries) {
                String name = file.name() + "/" + entry.getName();
                if (isArchive(name)) {
                    throw problem(
                            name,
                            "'" + file.name() + "' holds another archive, '" + entry.getName()
                                    + "'. Take that one out of it.");
                }
                found.add(new Paths.Named(name, taken.of(archive, entry)));
            }
            return found;
        } catch (ZipException e) {
            throw problem(
                    file.name(),
                    "'" + file.name() + "' cannot be read as an archive: it is damaged, or locked by a password.");
        } catch (IOException e) {
            throw new MachineException("'" + file.name() + "' cannot be read", e);
        }
    }

    private static boolean isNobodys(String name) {
        return name.startsWith(NOBODYS)
                || name.substring(name.lastIndexOf('/') + 1).startsWith(".");
    }

    private static DataException problem(String file, String message) {
        return new DataException(message, file, 0, null, null);
    }

    private static Path unpacked(ZipFile archive, ZipEntry entry) throws IOException {
        CRC32 sum = new CRC32();
        try (InputStream in = new CheckedInputStream(archive.getInputStream(entry), sum)) {
            return TemporaryFiles.filled("What is in an archive", out -> {
                in.transferTo(out);
                if (sum.getValue() != entry.getCrc()) {
                    throw new ZipException("its bytes are not those that were packed");
                }
            });
        }
    }
}
