package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.problem.DataException;
import dev.fiesta.problem.RequestException;
import java.io.IOException;
import java.net.URI;
import java.nio.file.FileSystem;
import java.nio.file.FileSystems;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Which files are read: this very one, those of a pattern, those of another file system, and none outside the folders that may be. */
class ReachTest {
    @TempDir
    private Path base;

    private Path open;

    @BeforeEach
    void files() throws IOException {
        open = Files.createDirectories(base.resolve("open"));
        Files.createDirectories(base.resolve("secret"));
        Files.writeString(open.resolve("sales.csv"), "n\n1\n");
        Files.writeString(open.resolve("a[1].csv"), "n\n5\n");
        Files.writeString(open.resolve("a1.csv"), "n\n6\n");
        Files.writeString(base.resolve("secret/sales.csv"), "word\nhidden treasure\n");
        Files.writeString(base.resolve("secret/other.brief"), "hidden treasure");
        Files.createSymbolicLink(open.resolve("link.csv"), base.resolve("secret/sales.csv"));
        Files.createSymbolicLink(open.resolve("way"), base.resolve("secret"));
    }

    private Fiesta fiesta() {
        return Fiesta.with().mayRead(open).open();
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "../secret/sales.csv",
                "link.csv",
                "way/sales.csv",
                "../secret/*.csv",
                "*/../../secret/*.csv",
                "way/*.csv",
                "link*",
                "../secret/no-such-file.csv",
                "-",
                "/etc/hostname"
            })
    void nothingOutsideIsReadOrTold(String path) {
        try (Fiesta fiesta = fiesta()) {
            Brief brief = fiesta.brief("t.brief", "input s from '" + path + "' table t from s", open);
            assertThatThrownBy(() -> brief.run(fiesta))
                    .isInstanceOfAny(RequestException.class, DataException.class)
                    .message()
                    .doesNotContain("treasure")
                    .containsAnyOf("may not be read here", "No file fits");
        }
    }

    @Test
    void neitherAreBriefsThatAreUsedNorQueries() {
        try (Fiesta fiesta = fiesta()) {
            assertThatThrownBy(() -> fiesta.brief("t.brief", "use '../secret/other.brief'", open))
                    .isInstanceOf(RequestException.class)
                    .hasMessage(
                            "'../secret/other.brief' may not be read here: it lies outside the folders that may be.");
            assertThatThrownBy(() -> fiesta.brief(base.resolve("secret/other.brief")))
                    .isInstanceOf(RequestException.class)
                    .hasMessageContaining("may not be read here");
            Brief query = fiesta.brief(
                    "t.brief",
                    "input s from database 'ribera' query from '../secret/other.brief' table t from s",
                    open);
            assertThatThrownBy(() -> query.run(fiesta)).hasMessageContaining("may not be read here");
            assertThatThrownBy(
                            () -> fiesta.read(base.resolve("secret/sales.csv")).schema())
                    .isInstanceOf(RequestException.class);
            assertThatThrownBy(() -> fiesta.readAll(base + "/secret/*.csv").schema())
                    .isInstanceOf(RequestException.class);
            assertThat(fiesta.read(open.resolve("sales.csv")).run().rows()).isEqualTo(1);
            assertThat(fiesta.readAll(open + "/s*.csv").run().rows()).isEqualTo(1);
        }
        assertThatThrownBy(() -> Fiesta.with().mayRead(open.resolve("gone")))
                .isInstanceOf(RequestException.class)
                .hasMessageContaining("is no folder that can be read");
    }

    @Test
    void aPathIsThisFileAndAPatternIsAPattern() {
        try (Fiesta fiesta = Fiesta.open()) {
            assertThat(fiesta.read(open.resolve("a[1].csv")).run().longs("n")).containsExactly(5);
            assertThat(fiesta.readAll(open + "/a?.csv").run().longs("n")).containsExactly(6);
            assertThat(fiesta.readAll(open + "/a*.csv").run().longs("n")).containsExactly(6, 5);
            assertThatThrownBy(() -> fiesta.read(open.resolve("a*.csv")).schema())
                    .isInstanceOf(DataException.class)
                    .hasMessageContaining("There is no file");
            assertThatThrownBy(() -> fiesta.read(open).schema()).hasMessageContaining("is a folder, not a file");
            assertThatThrownBy(() -> fiesta.read(List.of())).isInstanceOf(RequestException.class);
            assertThatThrownBy(() -> fiesta.read(List.of(open.resolve("sales.csv")), "table x from y"))
                    .isInstanceOf(RequestException.class)
                    .hasMessageContaining("Only options of an input can be told here");
            assertThatThrownBy(() -> fiesta.read(List.of(open.resolve("sales.csv")), "parameter p integer"))
                    .isInstanceOf(RequestException.class);
        }
    }

    @Test
    void filesOfOtherFileSystemsAreRead() throws IOException {
        Path archive = base.resolve("sales.zip");
        try (FileSystem inside =
                        FileSystems.newFileSystem(URI.create("jar:" + archive.toUri()), Map.of("create", "true"));
                Fiesta fiesta = Fiesta.open()) {
            Path file = inside.getPath("/sales.csv");
            Files.writeString(file, "site,n\nQuay,1\nMeadow,2\n");
            assertThat(Asking.lines(fiesta.read(file).sort("site").run()))
                    .containsExactly("site,n", "Meadow,2", "Quay,1");
            Files.writeString(inside.getPath("/t.brief"), "input s from '*.csv' table t from s per site");
            assertThat(Brief.read(inside.getPath("/t.brief"))
                            .run(fiesta)
                            .get("t")
                            .rows())
                    .isEqualTo(2);
        }
    }
}
