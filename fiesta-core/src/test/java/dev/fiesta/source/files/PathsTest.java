package dev.fiesta.source.files;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.problem.DataException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.atomic.AtomicBoolean;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class PathsTest {
    @TempDir
    Path folder;

    private void file(String name) throws IOException {
        Path file = folder.resolve(name);
        Files.createDirectories(file.getParent());
        Files.writeString(file, "site\nQuay\n");
    }

    private List<String> found(String pattern) {
        return Paths.find(folder, pattern).stream().map(Paths.Named::name).toList();
    }

    @Test
    void patternsLookIntoFolders() throws IOException {
        for (String name : List.of(
                "a.csv",
                "b.txt",
                "year=2025/a.csv",
                "year=2026/a.csv",
                "year=2026/b.csv",
                "year=2026/x/a.csv",
                "old/a.csv")) {
            file(name);
        }
        assertThat(found("*.csv")).containsExactly("a.csv");
        assertThat(found("year=*/a.csv")).containsExactly("year=2025/a.csv", "year=2026/a.csv");
        assertThat(found("year=2026/*.csv")).containsExactly("year=2026/a.csv", "year=2026/b.csv");
        assertThat(found("*/*/*.csv")).containsExactly("year=2026/x/a.csv");
        assertThat(found("{old,year=2025}/*.csv")).containsExactly("old/a.csv", "year=2025/a.csv");
        assertThat(found("**.csv"))
                .containsExactly(
                        "a.csv",
                        "old/a.csv",
                        "year=2025/a.csv",
                        "year=2026/a.csv",
                        "year=2026/b.csv",
                        "year=2026/x/a.csv");
    }

    @Test
    void bracesAndBracketsThatAreNoPattern() throws IOException {
        file("sales-[2026.csv");
        file("sales-{a}.csv");
        file("sales-1.csv");
        file("sales-2.csv");
        assertThat(found("sales-[2026.csv")).containsExactly("sales-[2026.csv");
        assertThat(found("sales-{a}.csv")).containsExactly("sales-{a}.csv");
        assertThat(found("sales-{1,2,3}.csv")).containsExactly("sales-1.csv", "sales-2.csv");
        assertThat(found("sales-[0-1].csv")).containsExactly("sales-1.csv");
        for (String odd : List.of("sales-[20.csv", "sales-{1,2.csv", "*{a,{b}}.csv", "[9-1].csv")) {
            assertThatThrownBy(() -> found(odd))
                    .isInstanceOf(DataException.class)
                    .hasMessage("There is no file '" + odd + "', and its brackets or braces make no pattern of files.");
        }
        assertThatThrownBy(() -> found("sales-{3,4}.csv")).hasMessage("No file fits 'sales-{3,4}.csv'.");
    }

    @Test
    void whatGoesMeanwhileIsNotThere() throws Exception {
        file("year=2026/a.csv");
        AtomicBoolean done = new AtomicBoolean();
        CompletableFuture<Void> others = CompletableFuture.runAsync(() -> {
            try {
                for (int i = 0; !done.get(); i++) {
                    Path fleeting = Files.createDirectories(folder.resolve("fleeting-" + i % 50));
                    Files.delete(fleeting);
                }
            } catch (IOException e) {
                throw new IllegalStateException(e);
            }
        });
        try {
            for (int i = 0; i < 2_000; i++) {
                assertThat(found("**/*.csv")).containsExactly("year=2026/a.csv");
                assertThat(found("*/*.csv")).containsExactly("year=2026/a.csv");
            }
        } finally {
            done.set(true);
            others.join();
        }
    }
}
