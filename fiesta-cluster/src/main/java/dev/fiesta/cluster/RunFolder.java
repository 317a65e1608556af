package dev.fiesta.cluster;

import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.RequestException;
import java.io.IOException;
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
import java.time.Duration;
import java.time.Instant;
import java.util.HexFormat;
import java.util.SplittableRandom;
import java.util.concurrent.locks.LockSupport;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/**
 * Where the files of one run lie, for all members: only its owner may look into it. It goes at the end of the run. Of a run whose
 * machine was lost it stays for a while, so that the run may go on; then the next run removes it.
 */
final class RunFolder implements AutoCloseable {
    private static final Pattern NAME = Pattern.compile("[a-z0-9-]{1,80}");
    private static final String PREFIX = "run-";
    private static final String LOCK = "lock";
    private static final int ATTEMPTS = 50;
    private static final long PAUSE_NANOS = 20_000_000;
    private static final Duration KEPT = Duration.ofDays(2);

    private final String name;
    private final Path path;
    private final FileChannel lock;

    private RunFolder(String name, Path path, FileChannel lock) {
        this.name = name;
        this.path = path;
        this.lock = lock;
    }

    /**
     * @param folder where those of runs stand
     * @param resumed the run that is to go on, or null for a new one
     */
    static RunFolder open(Path folder, @Nullable String resumed) {
        String name = resumed == null ? newName() : named(resumed);
        Path path = folder.resolve(name);
        if (resumed != null && !Files.isDirectory(path)) {
            throw new RequestException("There is no run '" + resumed + "' to go on with in '" + folder + "'.");
        }
        try {
            removeOld(ofAll(folder));
            if (resumed == null) {
                Files.createDirectory(path, ownerOnly());
            }
            FileChannel lock =
                    FileChannel.open(path.resolve(LOCK), StandardOpenOption.CREATE, StandardOpenOption.WRITE);
            if (!isOurs(lock)) {
                lock.close();
                throw new RequestException("The run '" + resumed + "' still goes on.");
            }
            return new RunFolder(name, path, lock);
        } catch (IOException e) {
            throw unwritable(folder, e);
        }
    }

    /** Where those of runs stand, which is made where it is not there. */
    static Path ofAll(Path folder) {
        try {
            return Files.createDirectories(folder);
        } catch (IOException e) {
            throw unwritable(folder, e);
        }
    }

    private static MachineException unwritable(Path folder, IOException why) {
        return new MachineException("The folder of the crew, '" + folder + "', cannot be written", why);
    }

    private static boolean isOurs(FileChannel lock) throws IOException {
        try {
            return lock.tryLock() != null;
        } catch (OverlappingFileLockException e) {
            return false; // another run of this process
        }
    }

    private static String newName() {
        return PREFIX + HexFormat.of().toHexDigits((int) (System.nanoTime() ^ new SplittableRandom().nextLong()));
    }

    private static FileAttribute<?>[] ownerOnly() {
        return FileSystems.getDefault().supportedFileAttributeViews().contains("posix")
                ? new FileAttribute<?>[] {
                    PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rwx------"))
                }
                : new FileAttribute<?>[0];
    }

    /** A name that somebody else told, which leads nowhere else. */
    static String named(String text) {
        if (!NAME.matcher(text).matches()) {
            throw new RequestException("'" + text + "' is no name of a run or of its files.");
        }
        return text;
    }

    String name() {
        return name;
    }

    Path file(String of) {
        return path.resolve(named(of));
    }

    private static void removeOld(Path folder) throws IOException {
        try (DirectoryStream<Path> runs = Files.newDirectoryStream(folder, PREFIX + "*")) {
            for (Path run : runs) {
                removeIfOld(run);
            }
        }
    }

    private static void removeIfOld(Path run) {
        Path lock = run.resolve(LOCK);
        try {
            boolean old = Files.exists(lock)
                    && Files.getLastModifiedTime(lock)
                            .toInstant()
                            .isBefore(Instant.now().minus(KEPT));
            if (old && isDead(lock)) {
                remove(run);
            }
        } catch (IOException e) {
            // Another run that begins removes it too, or it is not ours to remove.
        }
    }

    private static boolean isDead(Path lock) {
        try (FileChannel channel = FileChannel.open(lock, StandardOpenOption.WRITE);
                FileLock held = channel.tryLock()) {
            return held != null;
        } catch (IOException | OverlappingFileLockException e) {
            return false;
        }
    }

    private static void remove(Path run) throws IOException {
        try (DirectoryStream<Path> files = Files.newDirectoryStream(run)) {
            for (Path file : files) {
                Files.deleteIfExists(file);
            }
        }
        Files.deleteIfExists(run);
    }

    @Override
    public void close() {
        try {
            lock.close();
            for (int attempt = 0; Files.exists(path); attempt++) { // a member may still write what nobody needs
                try {
                    remove(path);
                } catch (IOException e) {
                    if (attempt > ATTEMPTS) {
                        throw e;
                    }
                    LockSupport.parkNanos(PAUSE_NANOS);
                }
            }
        } catch (IOException e) {
            throw new MachineException("'" + path + "' cannot be removed", e);
        }
    }
}
