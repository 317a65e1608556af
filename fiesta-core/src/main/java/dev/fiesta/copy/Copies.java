package dev.fiesta.copy;

import dev.fiesta.copy.CopyIndex.Seen;
import dev.fiesta.problem.FiestaException;
import dev.fiesta.problem.Interrupted;
import dev.fiesta.problem.MachineException;
import dev.fiesta.progress.Watch;
import dev.fiesta.source.Source;
import dev.fiesta.source.files.FileSum;
import dev.fiesta.source.files.Paths;
import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.channels.OverlappingFileLockException;
import java.nio.charset.StandardCharsets;
import java.nio.file.AtomicMoveNotSupportedException;
import java.nio.file.DirectoryStream;
import java.nio.file.FileSystemException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.BasicFileAttributes;
import java.nio.file.attribute.FileTime;
import java.nio.file.attribute.PosixFileAttributeView;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HexFormat;
import java.util.List;
import java.util.UUID;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * A folder of copies of inputs, in columns, which are read instead of the files while those are what they were. Figures, messages and
 * places are those of the files. Only its owner may look into the folder; where copies take more than they may, those that were not used
 * for the longest time go.
 *
 * <pre>{@code
 * Copies copies = Copies.in(folder, 10L << 30, System.err::println);
 * try (Fiesta fiesta = Fiesta.with().copies(copies).open()) { … }
 * }</pre>
 */
public final class Copies {
    private static final String ENDING = ".copy";
    private static final String UNFINISHED = ".making";
    /** What a file of this age looks like tells nothing: it may be changed again within the same tick of its clock. */
    private static final long YOUNG_NANOS = TimeUnit.SECONDS.toNanos(2);

    /** What was touched so lately may be somebody's who has not locked it yet. */
    private static final long YOUNG_MILLIS = 60_000;

    /** Files smaller than this, together, are read as quickly as a copy of them. */
    private static final long LEAST = 1 << 14;

    private final Path folder;
    private final long most;
    private final long least;
    private final Consumer<String> told;

    Copies(Path folder, long most, long least, Consumer<String> told) {
        this.folder = folder;
        this.most = most;
        this.least = least;
        this.told = told;
    }

    /**
     * Copies in a folder, which is made when the first one is.
     *
     * @param most the bytes that they may take together
     * @param told hears, a sentence each, why something was not copied or a copy not used
     */
    public static Copies in(Path folder, long most, Consumer<String> told) {
        return new Copies(folder, most, LEAST, told);
    }

    /**
     * A copy that is kept.
     *
     * @param files the names of the files that were copied
     * @param used when it was made or read last
     * @param bytes that it takes
     */
    public record Kept(List<String> files, long records, long bytes, Instant used) {}

    /**
     * The records of files, from a copy; where there is none yet, they are copied first, and where that cannot be, they come from the files.
     *
     * @param name of the input, as it is told of
     * @param how all that tells how the files are read
     * @param files that can be read more than once
     * @param open opens the files themselves
     * @param threads that copy
     * @param watch is told how far a copying is
     */
    public Source of(
            String name, String how, List<Paths.Named> files, Supplier<Source> open, int threads, Watch watch) {
        if (files.stream().mapToLong(f -> attributes(f).size()).sum() < least) {
            return open.get();
        }
        Path file = folder.resolve(key(how, files) + ENDING);
        Source known = found(name, file, files, open);
        return known != null ? known : copied(name, file, files, open, threads, watch);
    }

    private static String key(String how, List<Paths.Named> files) {
        StringBuilder all = new StringBuilder(how);
        files.forEach(f ->
                all.append('\n').append(f.name()).append('\n').append(f.path().toAbsolutePath()));
        try {
            byte[] digest =
                    MessageDigest.getInstance("SHA-256").digest(all.toString().getBytes(StandardCharsets.UTF_8));
            return HexFormat.of().formatHex(digest, 0, 16);
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }

    /** The copy in a file; null when there is none, or not of these files as they are now. */
    private @Nullable Source found(String name, Path file, List<Paths.Named> files, Supplier<Source> open) {
        try (CopyFile bytes = CopyFile.reading(file)) {
            CopyIndex index = bytes.index();
            if (!isOf(index, files)) {
                return null;
            }
            Files.setLastModifiedTime(file, FileTime.from(Instant.now()));
            return new CopySource(file, bytes.check(), index, damaged -> {
                if (damaged) {
                    damaged(name, file);
                }
                return open.get();
            });
        } catch (CopyFile.Damaged e) {
            damaged(name, file);
        } catch (NoSuchFileException e) {
            return null;
        } catch (IOException e) {
            told.accept("The copy of '" + name + "' cannot be read, so the files are: " + e.getMessage() + ".");
        }
        return null;
    }

    private void damaged(String name, Path file) {
        drop(file);
        told.accept("The copy of '" + name + "' is damaged: it was dropped, and the files are read.");
    }

    private static boolean isOf(CopyIndex index, List<Paths.Named> files) {
        for (int i = 0; i < files.size(); i++) {
            Seen then = index.files().get(i);
            BasicFileAttributes now = attributes(files.get(i));
            if (now.size() != then.size()) {
                return false;
            }
            long time = now.lastModifiedTime().to(TimeUnit.NANOSECONDS);
            boolean young = time > TimeUnit.MILLISECONDS.toNanos(index.made()) - YOUNG_NANOS;
            if ((time != then.time() || young)
                    && !FileSum.of(files.get(i).path(), then.name()).equals(then.sum())) {
                return false;
            }
        }
        return true;
    }

    private static BasicFileAttributes attributes(Paths.Named file) {
        try {
            return Files.readAttributes(file.path(), BasicFileAttributes.class);
        } catch (IOException e) {
            throw new MachineException("'" + file.name() + "' cannot be read", e);
        }
    }

    private Source copied(
            String name, Path file, List<Paths.Named> files, Supplier<Source> open, int threads, Watch watch) {
        Source source = open.get();
        try (Source.Numbering numbers = source.numbering()) {
            if (numbers != null) {
                make(name, source, numbers, file, files, threads, watch);
                Source copy = found(name, file, files, () -> source);
                return copy == null ? source : copy;
            }
        } catch (Interrupted e) {
            throw e;
        } catch (Source.Widened e) {
            Source.Widening field = e.fields().get(0);
            told.accept("No copy of '" + name + "' is kept: its field " + field.field() + " turns out to be "
                    + field.to().withArticle() + " only far behind its start. Tell its type: fields " + field.field()
                    + " " + field.to() + ".");
        } catch (FiestaException | IOException e) {
            String why = e instanceof FileSystemException
                    ? "its folder '" + folder + "' cannot be written."
                    : e instanceof IOException
                            ? e.getMessage() + "."
                            : String.valueOf(e.getMessage()).lines().findFirst().orElse("");
            told.accept("No copy of '" + name + "' is kept: " + why);
        }
        return source;
    }

    private void make(
            String name,
            Source source,
            Source.Numbering numbers,
            Path file,
            List<Paths.Named> files,
            int threads,
            Watch watch)
            throws IOException {
        makeFolder();
        dropUnfinished();
        long made = System.currentTimeMillis();
        List<Seen> seen = new ArrayList<>();
        for (Paths.Named one : files) {
            BasicFileAttributes then = attributes(one);
            seen.add(new Seen(
                    one.name(),
                    then.size(),
                    then.lastModifiedTime().to(TimeUnit.NANOSECONDS),
                    FileSum.of(one.path(), one.name())));
        }
        Path making = folder.resolve(UUID.randomUUID() + UNFINISHED);
        try (FileChannel channel = FileChannel.open(
                making, StandardOpenOption.CREATE_NEW, StandardOpenOption.READ, StandardOpenOption.WRITE)) {
            channel.lock(); // as long as it is open: what is not locked is left over
            new CopyMaking(source, CopyFile.writing(channel, most), watch).make(name, numbers, seen, made, threads);
            move(making, file);
        } finally {
            drop(making);
        }
        makeRoom(file);
    }

    private static void move(Path from, Path to) throws IOException {
        try {
            Files.move(from, to, StandardCopyOption.ATOMIC_MOVE);
        } catch (AtomicMoveNotSupportedException e) {
            Files.move(from, to, StandardCopyOption.REPLACE_EXISTING);
        }
    }

    /** Makes the folder its owner's alone, also one that is there already. */
    private void makeFolder() throws IOException {
        Files.createDirectories(folder);
        PosixFileAttributeView rights = Files.getFileAttributeView(folder, PosixFileAttributeView.class);
        if (rights != null) {
            rights.setPermissions(PosixFilePermissions.fromString("rwx------"));
        }
    }

    /** Removes what runs that were killed have left. */
    private void dropUnfinished() throws IOException {
        try (DirectoryStream<Path> left = Files.newDirectoryStream(folder, "*" + UNFINISHED)) {
            for (Path one : left) {
                if (used(one).toMillis() > System.currentTimeMillis() - YOUNG_MILLIS) {
                    continue; // somebody may be just about to lock it
                }
                try (FileChannel channel = FileChannel.open(one, StandardOpenOption.WRITE)) {
                    if (channel.tryLock() != null) {
                        drop(one);
                    }
                } catch (OverlappingFileLockException | NoSuchFileException e) {
                    continue; // somebody is making it, or has just made it
                }
            }
        }
    }

    private void makeRoom(Path newest) throws IOException {
        List<Path> all = new ArrayList<>(kept());
        all.sort(Comparator.comparing(Copies::used));
        long bytes = 0;
        for (Path one : all) {
            bytes += size(one);
        }
        for (Path one : all) {
            if (bytes > most && !one.equals(newest)) {
                bytes -= size(one);
                drop(one);
            }
        }
    }

    /** Somebody else may have removed it. */
    private static long size(Path copy) {
        return copy.toFile().length();
    }

    private static FileTime used(Path copy) {
        try {
            return Files.getLastModifiedTime(copy);
        } catch (IOException e) {
            return FileTime.fromMillis(0);
        }
    }

    private static void drop(Path file) {
        try {
            Files.deleteIfExists(file);
        } catch (IOException e) {
            return; // it is not read again: what it is of has changed, or it is damaged
        }
    }

    private List<Path> kept() throws IOException {
        if (!Files.isDirectory(folder)) {
            return List.of();
        }
        List<Path> all = new ArrayList<>();
        try (DirectoryStream<Path> files = Files.newDirectoryStream(folder, "*" + ENDING)) {
            files.forEach(all::add);
        }
        return all;
    }

    /** The folder. */
    public Path folder() {
        return folder;
    }

    /** The bytes that all copies together may take. */
    public long most() {
        return most;
    }

    /**
     * The copies that are kept, those used last first; damaged ones are left out.
     *
     * @throws MachineException when the folder cannot be read
     */
    public List<Kept> list() {
        List<Kept> list = new ArrayList<>();
        try {
            for (Path one : kept()) {
                try (CopyFile bytes = CopyFile.reading(one)) {
                    CopyIndex index = bytes.index();
                    list.add(new Kept(
                            index.files().stream().map(Seen::name).toList(),
                            index.records(),
                            Files.size(one),
                            used(one).toInstant()));
                } catch (CopyFile.Damaged | NoSuchFileException e) {
                    continue;
                }
            }
        } catch (IOException e) {
            throw new MachineException("The folder of copies '" + folder + "' cannot be read", e);
        }
        list.sort(Comparator.comparing(Kept::used).reversed());
        return list;
    }

    /**
     * Removes all copies.
     *
     * @return how many there were
     * @throws MachineException when one cannot be removed
     */
    public int clear() {
        try {
            List<Path> all = kept();
            for (Path one : all) {
                Files.deleteIfExists(one);
            }
            return all.size();
        } catch (IOException e) {
            throw new MachineException("Copies in '" + folder + "' cannot be removed", e);
        }
    }
}
