package dev.fiesta;

import dev.fiesta.problem.MachineException;
import java.io.IOException;
import java.io.Writer;
import java.nio.charset.StandardCharsets;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Files that are written beside their place and then moved there, so that nobody ever sees half of one. */
public final class OutputFile {
    /** What a file holds. */
    @FunctionalInterface
    public interface Content {
        void writeTo(Appendable out) throws IOException;
    }

    private static final String PREFIX = ".fiesta-";
    private static final String PART = ".part";
    /** Holds the number of the process; files that are named otherwise belong to nobody. */
    private static final Pattern NAME = Pattern.compile("\\.fiesta-(\\d{1,18})-.*");
    /** Files being written, which an interrupted process takes away with it. */
    private static final Set<Path> OPEN = ConcurrentHashMap.newKeySet();

    static {
        Runtime.getRuntime().addShutdownHook(new Thread(() -> OPEN.forEach(OutputFile::remove), "fiesta-parts"));
    }

    private OutputFile() {}

    /** Removes what killed processes left half-written. */
    private static void removeDead(Path folder) throws IOException {
        try (DirectoryStream<Path> parts = Files.newDirectoryStream(folder, PREFIX + "*" + PART)) {
            for (Path part : parts) {
                Matcher name = NAME.matcher(part.getFileName().toString());
                boolean lives = name.matches()
                        && ProcessHandle.of(Long.parseLong(name.group(1))).isPresent();
                if (!lives) {
                    remove(part);
                }
            }
        }
    }

    private static void remove(Path part) {
        try {
            Files.deleteIfExists(part);
        } catch (IOException e) {
            // The next process that writes here tries again.
        }
    }

    /**
     * Writes a file in UTF-8; its folder is made when it is not there.
     *
     * @throws MachineException when it cannot be written; what stood there before is left as it was
     */
    public static void write(Path file, Content content) {
        place(file, beside -> {
            try (Writer out = Files.newBufferedWriter(beside, StandardCharsets.UTF_8)) {
                content.writeTo(out);
            }
        });
    }

    /**
     * Writes a file of bytes; otherwise as {@link #write}.
     *
     * @throws MachineException when it cannot be written; what stood there before is left as it was
     */
    public static void writeBytes(Path file, byte[] bytes) {
        place(file, beside -> Files.write(beside, bytes));
    }

    private interface Filling {
        void fill(Path beside) throws IOException;
    }

    private static void place(Path file, Filling filling) {
        Path folder = file.toAbsolutePath().getParent();
        try {
            Files.createDirectories(folder);
            removeDead(folder);
            Path beside = Files.createTempFile(
                    folder, PREFIX + ProcessHandle.current().pid() + "-", PART);
            OPEN.add(beside);
            try {
                filling.fill(beside);
                makeOrdinary(beside);
                Files.move(beside, file, StandardCopyOption.REPLACE_EXISTING);
            } finally {
                Files.deleteIfExists(beside);
                OPEN.remove(beside);
            }
        } catch (IOException e) {
            throw new MachineException("'" + file.getFileName() + "' cannot be written", e);
        }
    }

    /** Temporary files are for their owner only; a result is an ordinary file. */
    private static void makeOrdinary(Path file) throws IOException {
        if (file.getFileSystem().supportedFileAttributeViews().contains("posix")) {
            Files.setPosixFilePermissions(file, PosixFilePermissions.fromString("rw-r--r--"));
        }
    }
}
