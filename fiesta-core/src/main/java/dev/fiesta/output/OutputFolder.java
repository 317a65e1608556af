package dev.fiesta.output;

import dev.fiesta.problem.MachineException;
import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.charset.StandardCharsets;
import java.nio.file.AtomicMoveNotSupportedException;
import java.nio.file.DirectoryStream;
import java.nio.file.FileSystemException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Semaphore;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;

/**
 * The files of one run, which appear in their folder together or not at all. They are gathered beside it; {@link #finish} writes
 * down which are to be moved, moves them, and strikes the list out. A process that dies in between leaves the list, and whoever opens
 * the folder next ends what it began. A lock keeps several runs into one folder apart.
 *
 * <pre>{@code
 * try (OutputFolder out = OutputFolder.open(folder)) {
 *     out.write("weekly.csv", to -> result.write(to, TextStyle.CSV));
 *     out.finish();
 * }
 * }</pre>
 */
public final class OutputFolder implements AutoCloseable {
    private static final String LOCK = OutputFile.PREFIX + "lock";
    private static final String LIST = OutputFile.PREFIX + "list";
    private static final String END = "/end";
    /** Folders locked by this process: the system's lock does not keep its own threads apart. */
    private static final Map<Path, Semaphore> OWN = new ConcurrentHashMap<>();

    private final Path folder;
    private final Semaphore own;
    private final FileChannel lock;
    private final Path gathered;
    private final Map<String, Predicate<String>> removed = new LinkedHashMap<>();
    private final Set<String> names = new LinkedHashSet<>();
    private boolean begun;
    private boolean closed;

    private OutputFolder(Path folder, Semaphore own, FileChannel lock) {
        this.folder = folder;
        this.own = own;
        this.lock = lock;
        this.gathered = OutputFile.beside(folder);
    }

    /**
     * Opens a folder for a run, made when it is not there; waits until no other run writes into it.
     *
     * @throws MachineException when it cannot be made or written
     */
    public static OutputFolder open(Path folder) {
        try {
            OutputFile.makeFolders(folder.toAbsolutePath());
            OutputFolder opened = locked(folder.toRealPath());
            try {
                opened.endWhatWasBegun();
                opened.removeDead();
            } catch (IOException | RuntimeException e) {
                opened.close();
                throw e;
            }
            return opened;
        } catch (IOException e) {
            throw new MachineException("The folder '" + folder + "' cannot be written", e);
        }
    }

    /**
     * Waits for a run that writes into a folder, and ends what a killed one began, so that the files in it belong together. A
     * folder that may not be written is left as it is.
     */
    public static void settle(Path folder) {
        if (Files.exists(folder.resolve(LOCK)) || Files.exists(folder.resolve(LIST))) {
            try {
                open(folder).close();
            } catch (MachineException e) {
                // Read as it stands: the record's checksums tell whether its parts belong together.
            }
        }
    }

    private static OutputFolder locked(Path folder) throws IOException {
        Semaphore own = OWN.computeIfAbsent(folder, f -> new Semaphore(1));
        try {
            own.acquire();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new java.io.InterruptedIOException("interrupted");
        }
        try {
            return new OutputFolder(folder, own, lock(folder.resolve(LOCK)));
        } catch (IOException | RuntimeException e) {
            own.release();
            throw e;
        }
    }

    /** Whoever lets go takes the file away, so a lock counts only when the file is still the one that stands there. */
    private static FileChannel lock(Path file) throws IOException {
        while (true) {
            FileChannel channel = FileChannel.open(file, StandardOpenOption.CREATE, StandardOpenOption.WRITE);
            try {
                Object key = key(file);
                FileLock held = channel.lock();
                if (held.isValid() && key != null && key.equals(key(file))) {
                    return channel;
                }
                channel.close();
            } catch (IOException | RuntimeException e) {
                channel.close();
                throw e;
            }
        }
    }

    /** What tells a file from another that later has its name; where the system has none, the name itself. */
    private static @Nullable Object key(Path file) throws IOException {
        try {
            Object key = Files.readAttributes(file, BasicFileAttributes.class).fileKey();
            return key == null ? file : key;
        } catch (java.nio.file.NoSuchFileException e) {
            return null;
        }
    }

    /** The folder. */
    public Path folder() {
        return folder;
    }

    /** Gathers a file in UTF-8 under a name relative to the folder, with {@code /} between parts. */
    public void write(String name, OutputFile.Content content) {
        gather(name, OutputFile.text(content));
    }

    /** Gathers a file of bytes. */
    public void writeBytes(String name, byte[] bytes) {
        gather(name, out -> out.write(bytes));
    }

    /** Gathers a file of bytes as they come. */
    public void writeBytes(String name, OutputFile.Bytes content) {
        gather(name, content);
    }

    /** Takes away, once all files are at their places, those of a folder in it that an earlier run left and this one has not. */
    public void removeOthers(String subfolder, Predicate<String> names) {
        removed.put(subfolder, names);
    }

    private void gather(String name, OutputFile.Bytes content) {
        Path file = gathered.resolve(name);
        try {
            OutputFile.makeFolders(OutputFile.folder(file));
            Files.deleteIfExists(file); // one written twice by one run counts as last written
            OutputFile.fill(file, content);
            names.add(name);
        } catch (IOException e) {
            throw OutputFile.failure(file, e);
        }
    }

    /** A file gathered, to be looked at before it is moved. */
    public Path gathered(String name) {
        return gathered.resolve(name);
    }

    /** The names of the files gathered, in the order in which they were first written. */
    public List<String> names() {
        return List.copyOf(names);
    }

    /** The places of the files gathered, in the order in which they were first written. */
    public List<Path> files() {
        return names.stream().map(folder::resolve).toList();
    }

    /**
     * Moves all files gathered to their places.
     *
     * @throws MachineException when that cannot be; a folder that stands in the way of one keeps all from moving
     */
    public void finish() {
        moveAll();
        removed.forEach((subfolder, wanted) -> {
            Path place = folder.resolve(subfolder);
            for (String name : OutputFile.names(place)) {
                if (wanted.test(name) && !names.contains(subfolder + "/" + name)) {
                    OutputFile.remove(place.resolve(name));
                }
            }
            if (Files.isDirectory(place) && OutputFile.names(place).isEmpty()) {
                OutputFile.remove(place);
            }
        });
    }

    private void moveAll() {
        if (names.isEmpty()) {
            return;
        }
        try {
            for (String name : names) {
                makeRoom(name);
            }
            StringBuilder list = new StringBuilder(gathered.getFileName().toString()).append('\n');
            names.forEach(n -> list.append(n).append('\n'));
            OutputFile.flush(gathered);
            begun = true;
            OutputFile.keep(gathered);
            OutputFile.write(
                    folder.resolve(LIST), out -> out.append(list).append(END).append('\n'));
            move(gathered, names);
        } catch (IOException e) {
            throw new MachineException("The files of the run cannot be moved to '" + folder + "'", e);
        }
    }

    private void makeRoom(String name) throws IOException {
        Path file = folder.resolve(name);
        if (Files.isDirectory(file)) {
            throw new FileSystemException("a folder stands in the way of " + name);
        }
        OutputFile.makeFolders(OutputFile.folder(file));
    }

    private void move(Path from, Iterable<String> files) throws IOException {
        Set<Path> folders = new LinkedHashSet<>();
        for (String name : files) {
            Path ready = from.resolve(name);
            if (Files.exists(ready, LinkOption.NOFOLLOW_LINKS)) {
                Path file = OutputFile.target(folder.resolve(name));
                replace(ready, file);
                folders.add(OutputFile.folder(file));
            }
        }
        folders.forEach(OutputFile::flush);
        Files.deleteIfExists(folder.resolve(LIST));
    }

    /** Where a link leads to another disk, a file cannot be moved there in one step. */
    private static void replace(Path ready, Path file) throws IOException {
        try {
            OutputFile.replace(ready, file);
        } catch (AtomicMoveNotSupportedException e) {
            OutputFile.writeBytes(file, (OutputFile.Bytes) to -> Files.copy(ready, to));
            Files.delete(ready);
        }
    }

    /** Ends the moves of a run that was killed while it made them. */
    private void endWhatWasBegun() throws IOException {
        Path list = folder.resolve(LIST);
        if (!Files.isRegularFile(list)) {
            return;
        }
        List<String> lines = Files.readAllLines(list, StandardCharsets.UTF_8);
        int end = lines.indexOf(END);
        Path from = end < 1 ? folder : folder.resolve(lines.get(0)).normalize();
        if (end < 1 || !Objects.equals(from.getParent(), folder)) {
            Files.deleteIfExists(list);
            return;
        }
        List<String> files = lines.subList(1, end);
        if (files.stream().anyMatch(f -> !folder.resolve(f).normalize().startsWith(folder))) {
            Files.deleteIfExists(list); // none of ours leads out of the folder
            return;
        }
        for (String name : files) {
            makeRoom(name);
        }
        move(from, files);
    }

    /** What killed runs gathered; only the one that holds the lock gathers. */
    private void removeDead() throws IOException {
        try (DirectoryStream<Path> parts =
                Files.newDirectoryStream(folder, OutputFile.PREFIX + "*" + OutputFile.PART)) {
            for (Path part : parts) {
                if (Files.isDirectory(part, LinkOption.NOFOLLOW_LINKS) || !OutputFile.lives(part)) {
                    OutputFile.remove(part);
                }
            }
        }
    }

    /** Lets go of the folder; what was gathered and not {@link #finish finished} is dropped. */
    @Override
    public void close() {
        if (closed) {
            return;
        }
        closed = true;
        boolean moving = begun && Files.exists(folder.resolve(LIST));
        if (!moving) {
            OutputFile.forget(gathered);
        }
        try {
            Files.deleteIfExists(folder.resolve(LOCK));
            lock.close();
        } catch (IOException e) {
            // The file stays, the lock goes with the process.
        } finally {
            own.release();
        }
    }
}
