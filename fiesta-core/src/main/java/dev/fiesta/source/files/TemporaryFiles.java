package dev.fiesta.source.files;

import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.Remedy;
import java.io.FilterOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.lang.ref.Cleaner;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.channels.OverlappingFileLockException;
import java.nio.file.DirectoryIteratorException;
import java.nio.file.DirectoryStream;
import java.nio.file.FileSystems;
import java.nio.file.Files;
import java.nio.file.LinkOption;
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
     * A new, empty file. It goes once nobody holds this path any more, so that a process that lives long does not gather them.
     *
     * @param ending of its name
     * @throws MachineException when none can be made
     */
    public static Path create(String ending) {
        try {
            Path file = Files.createTempFile(own().folder, "", ending);
            Path same = Path.of(file.toString()); // what removes must not hold what is watched
            CLEANER.register(file, () -> drop(same));
            return file;
        } catch (IOException e) {
            throw unwritable("A temporary file", e);
        }
    }

    /** Whether a file stands among them. */
    public static synchronized boolean holds(Path file) {
        return own != null && file.startsWith(own.folder);
    }

    /**
     * A new, empty folder, which goes with its content when the process ends.
     *
     * @throws MachineException when none can be made
     */
    public static Path createFolder() {
        try {
            return Files.createTempDirectory(own().folder, "");
        } catch (IOException e) {
            throw unwritable("A temporary file", e);
        }
    }

    /**
     * A failure of writing a temporary file, which tells where they stand.
     *
     * @param what is written, as a sentence begins
     */
    public static MachineException unwritable(String what, IOException why) {
        return Remedy.offered(
                new MachineException(
                        what + " cannot be written to the temporary folder '" + System.getProperty("java.io.tmpdir")
                                + "'; -Djava.io.tmpdir names another",
                        why),
                Remedy.Kind.TEMPORARY_FOLDER,
                "");
    }

    /** Writes what a file shall hold. */
    @FunctionalInterface
    interface Filling {
        void to(OutputStream out) throws IOException;
    }

    /**
     * A new file of plain content; where that fails, it goes at once.
     *
     * @param what is written, as a sentence begins
     * @throws MachineException when it cannot be written
     * @throws IOException when what it shall hold cannot be read
     */
    static Path filled(String what, Filling filling) throws IOException {
        Path file = create(".plain");
        boolean whole = false;
        try (OutputStream out = new Telling(Files.newOutputStream(file), what)) {
            filling.to(out);
            whole = true;
        } finally {
            if (!whole) {
                drop(file);
            }
        }
        return file;
    }

    /** Tells failures of writing apart from those of reading what is written. */
    private static final class Telling extends FilterOutputStream {
        private final String what;

        Telling(OutputStream out, String what) {
            super(out);
            this.what = what;
        }

        @Override
        public void write(byte[] bytes, int offset, int length) {
            try {
                out.write(bytes, offset, length);
            } catch (IOException e) {
                throw unwritable(what, e);
            }
        }
    }

    /** Removes a file; where that fails, it goes with the folder. */
    public static void drop(Path file) {
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

    /** Removes the folders of processes that ended without doing so; several that begin may do so at once. */
    static void removeDead(Path parent) {
        try (DirectoryStream<Path> folders = Files.newDirectoryStream(parent, PREFIX + "*")) {
            for (Path folder : folders) {
                if (isDead(folder)) {
                    remove(folder);
                }
            }
        } catch (IOException | DirectoryIteratorException e) {
            // Where nobody may look, what is left stays.
        }
    }

    private static boolean isDead(Path folder) {
        Path file = folder.resolve(LOCK);
        if (!Files.exists(file)) {
            return !isYoung(folder) || !isAlive(folder.getFileName().toString());
        }
        try (FileChannel lock = FileChannel.open(folder.resolve(LOCK), StandardOpenOption.WRITE);
                FileLock held = lock.tryLock()) {
            return held != null;
        } catch (OverlappingFileLockException | IOException e) {
            return false; // our own, somebody else's, or one being made
        }
    }

    /** Whether its process may be just about to lock it; if it did not come to that, it ended before. */
    private static boolean isYoung(Path folder) {
        try {
            return Files.getLastModifiedTime(folder).toMillis() > System.currentTimeMillis() - YOUNG_MILLIS;
        } catch (IOException e) {
            return false; // somebody else has just removed it
        }
    }

    /** Whether the process that a folder is named after still runs. */
    private static boolean isAlive(String name) {
        Matcher matcher = NAME.matcher(name);
        return !matcher.matches()
                || ProcessHandle.of(Long.parseLong(matcher.group(1))).isPresent();
    }

    /** Removes a folder with all that is in it. */
    public static void remove(Path folder) {
        try (DirectoryStream<Path> files = Files.newDirectoryStream(folder)) {
            for (Path file : files) {
                if (Files.isDirectory(file, LinkOption.NOFOLLOW_LINKS)) {
                    remove(file);
                } else {
                    Files.deleteIfExists(file);
                }
            }
            Files.deleteIfExists(folder);
        } catch (IOException e) {
            // The next process tries again.
        }
    }
}
