package dev.fiesta.source;

import dev.fiesta.problem.MachineException;
import java.io.IOException;
import java.lang.ref.Cleaner;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.channels.OverlappingFileLockException;
import java.nio.file.DirectoryStream;
import java.nio.file.FileSystems;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.FileAttribute;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/**
 * The folder of this process for files that nobody shall keep: only its owner may look into it, it goes when the process ends,
 * and those of processes that were killed go when the next one makes its own. A lock, which the system takes from a process
 * that dies, tells the living from the dead.
 */
public final class TemporaryFiles {
    private static final String PREFIX = "fiesta-run-";
    private static final Pattern NAME = Pattern.compile(PREFIX + "(\\d{1,18})-.*");
    private static final String LOCK = "lock";
    private static final long YOUNG_MILLIS = 60_000;

    private static final Cleaner CLEANER = Cleaner.create();

    private static @Nullable TemporaryFiles own;

    private final Path folder;
    private final FileChannel channel;

    private TemporaryFiles(Path folder, FileChannel channel) {
        this.folder = folder;
        this.channel = channel;
    }

    /**
     * A new, empty file.
     *
     * @param ending of its name
     * @throws MachineException when none can be made
     */
    public static Path create(String ending) {
        try {
            return Files.createTempFile(own().folder, "", ending);
        } catch (IOException e) {
            throw new MachineException("No temporary file can be made", e);
        }
    }

    /** Removes a file once nobody holds its owner any more, so that a process that lives long does not gather them. */
    static void removeWith(Object owner, Path file) {
        CLEANER.register(owner, () -> drop(file));
    }

    /** Removes a file; where that fails, it goes with the folder. */
    static void drop(Path file) {
        try {
            Files.deleteIfExists(file);
        } catch (IOException e) {
            file.toFile().deleteOnExit();
        }
    }

    private static synchronized TemporaryFiles own() throws IOException {
        if (own == null || !Files.isDirectory(own.folder)) {
            Path parent = Path.of(System.getProperty("java.io.tmpdir"));
            removeDead(parent);
            boolean posix =
                    FileSystems.getDefault().supportedFileAttributeViews().contains("posix");
            FileAttribute<?>[] ownerOnly = posix
                    ? new FileAttribute<?>[] {
                        PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rwx------"))
                    }
                    : new FileAttribute<?>[0];
            String name = PREFIX + ProcessHandle.current().pid() + "-";
            Path folder = Files.createTempDirectory(parent, name, ownerOnly);
            FileChannel channel =
                    FileChannel.open(folder.resolve(LOCK), StandardOpenOption.CREATE, StandardOpenOption.WRITE);
            channel.lock();
            TemporaryFiles made = new TemporaryFiles(folder, channel);
            Runtime.getRuntime().addShutdownHook(new Thread(made::remove, "fiesta-clean-up"));
            own = made;
        }
        return own;
    }

    private void remove() {
        try {
            channel.close();
        } catch (IOException e) {
            // It is removed all the same.
        }
        remove(folder);
    }

    /** Removes the folders of processes that ended without doing so. */
    static void removeDead(Path parent) throws IOException {
        try (DirectoryStream<Path> folders = Files.newDirectoryStream(parent, PREFIX + "*")) {
            for (Path folder : folders) {
                if (isDead(folder)) {
                    remove(folder);
                }
            }
        }
    }

    private static boolean isDead(Path folder) throws IOException {
        Path file = folder.resolve(LOCK);
        if (!Files.exists(file)) {
            // Its process ended before it came to lock it, or is just about to.
            boolean young = Files.getLastModifiedTime(folder).toMillis() > System.currentTimeMillis() - YOUNG_MILLIS;
            return !young || !isAlive(folder.getFileName().toString());
        }
        try (FileChannel lock = FileChannel.open(folder.resolve(LOCK), StandardOpenOption.WRITE);
                FileLock held = lock.tryLock()) {
            return held != null;
        } catch (OverlappingFileLockException | IOException e) {
            return false; // our own, somebody else's, or one being made
        }
    }

    /** Whether the process that a folder is named after still runs. */
    private static boolean isAlive(String name) {
        Matcher matcher = NAME.matcher(name);
        return !matcher.matches()
                || ProcessHandle.of(Long.parseLong(matcher.group(1))).isPresent();
    }

    private static void remove(Path folder) {
        try (DirectoryStream<Path> files = Files.newDirectoryStream(folder)) {
            for (Path file : files) {
                Files.deleteIfExists(file);
            }
            Files.deleteIfExists(folder);
        } catch (IOException e) {
            // The next process tries again.
        }
    }
}
