package dev.fiesta.source.files;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.Remedy;
import java.io.EOFException;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.stream.Stream;
import java.util.zip.GZIPOutputStream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Temporary files are their owner's, and those of processes that were killed are removed by the next. */
class TemporaryFilesTest {
    @TempDir
    Path folder;

    @Test
    void onlyTheirOwnerMayLook() throws IOException {
        Path file = TemporaryFiles.create(".test");
        assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(file.getParent())))
                .isEqualTo("rwx------");
        Files.delete(file);
    }

    @Test
    void foldersOfTheDeadAreRemoved() throws IOException {
        Path dead = Files.createDirectory(folder.resolve("fiesta-run-1"));
        Files.writeString(dead.resolve("lock"), "");
        Files.writeString(dead.resolve("a.spill"), "left");
        Path living = Files.createDirectory(folder.resolve("fiesta-run-2"));
        Path made = Files.createDirectory(folder.resolve("fiesta-run-3"));
        Path others = Files.createDirectory(folder.resolve("accounts"));
        try (FileChannel lock =
                FileChannel.open(living.resolve("lock"), StandardOpenOption.CREATE, StandardOpenOption.WRITE)) {
            lock.lock();
            TemporaryFiles.removeDead(folder);
        }
        assertThat(dead).doesNotExist();
        assertThat(living).exists();
        assertThat(made).exists();
        assertThat(others).exists();
    }

    /** As processes do that begin together; each of them used to fail where another one was quicker. */
    @Test
    void severalRemoveThemAtOnce() throws Exception {
        List<Callable<Void>> all = new ArrayList<>();
        for (int i = 0; i < 8; i++) {
            all.add(() -> {
                TemporaryFiles.removeDead(folder);
                return null;
            });
        }
        ExecutorService threads = Executors.newFixedThreadPool(all.size());
        try {
            for (int round = 0; round < 50; round++) {
                for (int i = 0; i < 20; i++) {
                    Path dead = Files.createDirectory(folder.resolve("fiesta-run-999999999" + i + "-"));
                    if (i % 2 == 0) {
                        Files.writeString(dead.resolve("lock"), "");
                    }
                }
                for (Future<Void> one : threads.invokeAll(all)) {
                    one.get();
                }
                assertThat(folder.toFile().list()).isEmpty();
            }
        } finally {
            threads.shutdownNow();
        }
        TemporaryFiles.removeDead(folder.resolve("nowhere"));
    }

    @Test
    void goWhenNobodyHoldsThem() throws Exception {
        Path packed = folder.resolve("sales.csv.gz");
        try (OutputStream out = new GZIPOutputStream(Files.newOutputStream(packed))) {
            out.write("site,amount\nQuay,3.10\n".getBytes(StandardCharsets.UTF_8));
        }
        Path zip = folder.resolve("sales.zip");
        try (ZipOutputStream out = new ZipOutputStream(Files.newOutputStream(zip))) {
            out.putNextEntry(new ZipEntry("sales.csv"));
            out.write("site,amount\nQuay,3.10\n".getBytes(StandardCharsets.UTF_8));
        }
        Path wide = Files.writeString(folder.resolve("wide.csv"), "site,amount\nQuay,3.10\n", StandardCharsets.UTF_16);
        Path probe = TemporaryFiles.create(".probe");
        Path ours = probe.getParent();
        TemporaryFiles.drop(probe);
        long before = plain(ours);
        try (Fiesta fiesta = Fiesta.open()) {
            for (Path file : List.of(packed, zip, wide)) {
                for (int time = 0; time < 5; time++) {
                    try (Result result =
                            fiesta.read(file).per("site").give("c = count()").run()) {
                        assertThat(result.rows()).isEqualTo(1);
                    }
                }
            }
            for (int time = 0; time < 100 && plain(ours) > before; time++) {
                System.gc();
                Thread.sleep(20);
            }
            assertThat(plain(ours)).isLessThanOrEqualTo(before);
        }
    }

    private static long plain(Path folder) throws IOException {
        try (Stream<Path> files = Files.list(folder)) {
            return files.filter(f -> f.toString().endsWith(".plain")).count();
        }
    }

    @Test
    void whatCannotBeFilledGoesAtOnce() {
        Path[] file = {null};
        assertThatThrownBy(() -> TemporaryFiles.filled("What arrives", out -> {
                    out.write(new byte[10]);
                    file[0] = newest(TemporaryFiles.create(".probe").getParent());
                    throw new EOFException("cut off");
                }))
                .isInstanceOf(EOFException.class);
        assertThat(file[0]).isNotNull().doesNotExist();
    }

    private static Path newest(Path folder) throws IOException {
        try (Stream<Path> files = Files.list(folder)) {
            return files.filter(f -> f.toString().endsWith(".plain"))
                    .max(Comparator.comparingLong(f -> f.toFile().lastModified()))
                    .orElseThrow();
        }
    }

    @Test
    void whereTheyCannotBeWrittenIsTold() {
        MachineException full = TemporaryFiles.unwritable("What arrives", new IOException("No space left on device"));
        assertThat(full)
                .hasMessage("What arrives cannot be written to the temporary folder '"
                        + System.getProperty("java.io.tmpdir")
                        + "'; -Djava.io.tmpdir names another (No space left on device)");
        assertThat(full.remedies()).containsExactly(new Remedy(Remedy.Kind.TEMPORARY_FOLDER, ""));
    }
}
