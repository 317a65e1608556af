package dev.fiesta.output;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.problem.MachineException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

/** The files of a run appear together or not at all. */
@Timeout(60)
class OutputFolderTest {
    @TempDir
    Path temp;

    private Path folder;

    @BeforeEach
    void earlierRun() {
        folder = temp.resolve("out");
        try (OutputFolder out = OutputFolder.open(folder)) {
            out.write("a.csv", to -> to.append("old a"));
            out.write("run/t.csv", to -> to.append("old t"));
            out.finish();
        }
    }

    private List<String> files() throws IOException {
        List<String> files = new ArrayList<>();
        try (Stream<Path> all = Files.walk(folder)) {
            for (Path file : all.filter(Files::isRegularFile).sorted().toList()) {
                files.add(folder.relativize(file) + ": " + Files.readString(file));
            }
        }
        return files;
    }

    @Test
    void nothingAppearsBeforeAllIsThere() throws IOException {
        try (OutputFolder out = OutputFolder.open(folder)) {
            out.write("a.csv", to -> to.append("new a"));
            out.write("b.csv", to -> to.append("new b"));
            assertThat(Files.readString(folder.resolve("a.csv"))).isEqualTo("old a");
            assertThat(folder.resolve("b.csv")).doesNotExist();
            assertThat(Files.readString(out.gathered("b.csv"))).isEqualTo("new b");
            out.finish();
            assertThat(out.names()).containsExactly("a.csv", "b.csv");
        }
        assertThat(files()).containsExactly("a.csv: new a", "b.csv: new b", "run/t.csv: old t");
    }

    @Test
    void whatIsNotFinishedLeavesNothing() throws IOException {
        assertThatThrownBy(() -> {
                    try (OutputFolder out = OutputFolder.open(folder)) {
                        out.write("a.csv", to -> to.append("new a"));
                        out.write("c.csv", to -> {
                            throw new IOException("the disk is full");
                        });
                    }
                })
                .isInstanceOf(MachineException.class)
                .hasMessageContaining("'c.csv' cannot be written")
                .hasMessageContaining("the disk is full");
        assertThat(files()).containsExactly("a.csv: old a", "run/t.csv: old t");
    }

    @Test
    void aFolderInTheWayOfOneKeepsAllFromMoving() throws IOException {
        Files.createDirectory(folder.resolve("b.csv"));
        assertThatThrownBy(() -> {
                    try (OutputFolder out = OutputFolder.open(folder)) {
                        out.write("a.csv", to -> to.append("new a"));
                        out.write("b.csv", to -> to.append("new b"));
                        out.finish();
                    }
                })
                .isInstanceOf(MachineException.class)
                .hasMessageContaining("a folder stands in the way of b.csv");
        assertThat(files()).containsExactly("a.csv: old a", "run/t.csv: old t");
        assertThatThrownBy(() -> OutputFile.write(folder.resolve("b.csv"), to -> to.append("x")))
                .isInstanceOf(MachineException.class)
                .hasMessageContaining("a folder stands there");
    }

    /** As a process leaves it that was killed while it moved its files: one is in its place, one still beside. */
    @Test
    void whoeverComesNextEndsWhatAKilledRunBegan() throws IOException {
        Path gathered = Files.createDirectories(folder.resolve(".fiesta-999999999-1.part"));
        Files.createDirectories(gathered.resolve("run"));
        Files.writeString(folder.resolve("a.csv"), "new a");
        Files.writeString(gathered.resolve("run/t.csv"), "new t");
        Files.writeString(folder.resolve(".fiesta-list"), ".fiesta-999999999-1.part\na.csv\nrun/t.csv\n/end\n");
        OutputFolder.settle(folder);
        assertThat(files()).containsExactly("a.csv: new a", "run/t.csv: new t");
        assertThat(folder.resolve(".fiesta-list")).doesNotExist();
        assertThat(gathered).doesNotExist();
    }

    /** A list that was cut off was never acted upon, and nobody is led out of the folder by one. */
    @Test
    void aListThatIsNoneIsDropped() throws IOException {
        Path outside = Files.writeString(temp.resolve("outside.txt"), "mine");
        for (String list : List.of(
                ".fiesta-999999999-1.part\na.csv\n",
                "",
                "/end\n",
                "../elsewhere\na.csv\n/end\n",
                ".fiesta-999999999-1.part\n../../outside.txt\n/end\n")) {
            Path gathered = Files.createDirectories(folder.resolve(".fiesta-999999999-1.part"));
            Files.writeString(gathered.resolve("a.csv"), "new a");
            Files.writeString(folder.resolve(".fiesta-list"), list);
            OutputFolder.open(folder).close();
            assertThat(files()).as(list).containsExactly("a.csv: old a", "run/t.csv: old t");
            assertThat(Files.readString(outside)).isEqualTo("mine");
        }
    }

    @Test
    void runsIntoOneFolderWaitForEachOther() throws Exception {
        CountDownLatch open = new CountDownLatch(1);
        ExecutorService pool = Executors.newFixedThreadPool(1);
        try {
            Future<?> second;
            try (OutputFolder first = OutputFolder.open(folder)) {
                second = pool.submit(() -> {
                    open.countDown();
                    try (OutputFolder out = OutputFolder.open(folder)) {
                        out.write("a.csv", to -> to.append("second"));
                        out.finish();
                    }
                });
                assertThat(open.await(30, TimeUnit.SECONDS)).isTrue();
                first.write("a.csv", to -> to.append("first"));
                first.finish();
                assertThat(second.isDone()).isFalse();
            }
            second.get(30, TimeUnit.SECONDS);
        } finally {
            pool.shutdownNow();
        }
        assertThat(files()).containsExactly("a.csv: second", "run/t.csv: old t");
    }

    @Test
    void aLinkStaysOneAndPermissionsStay() throws IOException {
        Path real = Files.writeString(temp.resolve("real.csv"), "old");
        Files.setPosixFilePermissions(real, java.nio.file.attribute.PosixFilePermissions.fromString("rw-rw----"));
        Files.createSymbolicLink(folder.resolve("link.csv"), real);
        try (OutputFolder out = OutputFolder.open(folder)) {
            out.write("link.csv", to -> to.append("new"));
            out.finish();
        }
        assertThat(Files.isSymbolicLink(folder.resolve("link.csv"))).isTrue();
        assertThat(Files.readString(real)).isEqualTo("new");
        assertThat(java.nio.file.attribute.PosixFilePermissions.toString(Files.getPosixFilePermissions(real)))
                .isEqualTo("rw-rw----");
    }
}
