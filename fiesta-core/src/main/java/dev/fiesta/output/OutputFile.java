package dev.fiesta.output;

import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.RequestException;
import java.io.IOException;
import java.io.OutputStream;
import java.io.Writer;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.file.DirectoryStream;
import java.nio.file.FileSystemException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Files that are written beside their place and then moved there in one step, so that nobody ever sees half of one, or none. */
public final class OutputFile {
    /** What a file holds, as text. */
    @FunctionalInterface
    public interface Content {
        /** Writes all of it. */
        void writeTo(Appendable out) throws IOException;
    }

    /** What a file holds, as bytes. */
    @FunctionalInterface
    public interface Bytes {
        /** Writes all of it. */
        void writeTo(OutputStream out) throws IOException;
    }

    static final String PREFIX = ".fiesta-";
    static final String PART = ".part";
    /** Holds the number of the process; files that are named otherwise belong to nobody. */
    private static final Pattern NAME = Pattern.compile("\\.fiesta-(\\d{1,18})-.*");
    /** Files being written, which an interrupted process takes away with it. */
    private static final Set<Path> OPEN = ConcurrentHashMap.newKeySet();

    private static final AtomicInteger NUMBER = new AtomicInteger();

    static {
        Runtime.getRuntime().addShutdownHook(new Thread(() -> OPEN.forEach(OutputFile::remove), "fiesta-parts"));
    }

    private OutputFile() {}

    /**
     * Writes a file in UTF-8; its folder is made when it is not there.
     *
     * @throws MachineException when it cannot be written; what stood there before is left as it was
     */
    public static void write(Path file, Content content) {
        place(file, text(content));
    }

    /**
     * Writes a file of bytes; otherwise as {@link #write}.
     *
     * @throws MachineException when it cannot be written; what stood there before is left as it was
     */
    public static void writeBytes(Path file, byte[] bytes) {
        place(file, out -> out.write(bytes));
    }

    /**
     * Writes a file of bytes as they come; otherwise as {@link #write}.
     *
     * @throws MachineException when it cannot be written; what stood there before is left as it was
     */
    public static void writeBytes(Path file, Bytes content) {
        place(file, content);
    }

    static Bytes text(Content content) {
        return out -> {
            Writer writer = new Utf8Writer(out);
            content.writeTo(writer);
            writer.flush();
        };
    }

    private static void place(Path wanted, Bytes content) {
        if (wanted.getFileName() == null) {
            throw new RequestException("'" + wanted + "' is a folder; a file is needed to write to");
        }
        try {
            Path file = target(wanted);
            Path folder = folder(file);
            makeFolders(folder);
            removeDead(folder);
            Path beside = beside(folder);
            try {
                fill(beside, content);
                replace(beside, file);
                flush(folder);
            } finally {
                forget(beside);
            }
        } catch (IOException e) {
            throw failure(wanted, e);
        }
    }

    static MachineException failure(Path file, IOException why) {
        return new MachineException("'" + file.getFileName() + "' cannot be written", why);
    }

    /** The file itself where its name is a link: what it points to is replaced, not the link. */
    static Path target(Path file) throws IOException {
        return Files.isSymbolicLink(file) && Files.exists(file) ? file.toRealPath() : file;
    }

    static Path folder(Path file) {
        return Objects.requireNonNull(file.toAbsolutePath().getParent());
    }

    /** A path of this process in a folder that nothing stands at, and that goes with the process. */
    static Path beside(Path folder) {
        String name = PREFIX + ProcessHandle.current().pid() + "-" + NUMBER.incrementAndGet() + PART;
        Path beside = folder.resolve(name);
        OPEN.add(beside);
        return beside;
    }

    static void forget(Path beside) {
        remove(beside);
        keep(beside);
    }

    /** Lets it outlive the process. */
    static void keep(Path beside) {
        OPEN.remove(beside);
    }

    static void makeFolders(Path folder) throws IOException {
        if (!Files.isDirectory(folder)) {
            Files.createDirectories(folder);
        }
    }

    /** Fills a new file; all its bytes are on the disk afterwards. */
    static void fill(Path file, Bytes content) throws IOException {
        try (FileChannel channel = FileChannel.open(file, StandardOpenOption.CREATE_NEW, StandardOpenOption.WRITE);
                OutputStream out = new java.io.BufferedOutputStream(Channels.newOutputStream(channel), 1 << 16)) {
            content.writeTo(out);
            out.flush();
            channel.force(true);
        }
    }

    /** Moves a file to its place in one step of the file system; the old one keeps its place until then, and its permissions. */
    static void replace(Path beside, Path file) throws IOException {
        if (Files.isDirectory(file)) {
            throw new FileSystemException("a folder stands there");
        }
        boolean posix = file.getFileSystem().supportedFileAttributeViews().contains("posix");
        if (posix && Files.exists(file)) {
            Files.setPosixFilePermissions(beside, Files.getPosixFilePermissions(file));
        }
        Files.move(beside, file, StandardCopyOption.ATOMIC_MOVE);
    }

    /** Lets the disk know the names in a folder. Systems that cannot do that for folders do it by themselves. */
    static void flush(Path folder) {
        try (FileChannel channel = FileChannel.open(folder, StandardOpenOption.READ)) {
            channel.force(true);
        } catch (IOException e) {
            // Not a folder that can be opened: nothing is lost but the promise against a loss of power.
        }
    }

    /** Removes what killed processes left half-written. */
    private static void removeDead(Path folder) throws IOException {
        try (DirectoryStream<Path> parts = Files.newDirectoryStream(folder, PREFIX + "*" + PART)) {
            for (Path part : parts) {
                if (!Files.isDirectory(part) && !lives(part)) {
                    remove(part);
                }
            }
        } catch (java.nio.file.AccessDeniedException e) {
            // A folder that may be written but not listed: what is left there stays.
        }
    }

    static boolean lives(Path part) {
        Matcher name = NAME.matcher(part.getFileName().toString());
        return name.matches() && ProcessHandle.of(Long.parseLong(name.group(1))).isPresent();
    }

    /** Removes a file, or a folder with what is in it. */
    static void remove(Path part) {
        try {
            if (Files.isDirectory(part, java.nio.file.LinkOption.NOFOLLOW_LINKS)) {
                try (DirectoryStream<Path> inside = Files.newDirectoryStream(part)) {
                    inside.forEach(OutputFile::remove);
                }
            }
            Files.deleteIfExists(part);
        } catch (IOException e) {
            // The next process that writes here tries again.
        }
    }

    /** The names in a folder; none where it is not there or may not be listed. */
    static List<String> names(Path folder) {
        List<String> names = new ArrayList<>();
        try (DirectoryStream<Path> inside = Files.newDirectoryStream(folder)) {
            inside.forEach(f -> names.add(f.getFileName().toString()));
        } catch (IOException e) {
            return List.of();
        }
        return names;
    }
}
