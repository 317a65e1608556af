package dev.fiesta.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Runs killed at any moment leave whole files only, and what they leave besides goes with the next run. */
class KillsTest {
    private static final int KILLS = Integer.getInteger("fiesta.kills", 8);
    private static final long RUN_MILLIS = 1500;

    @TempDir
    Path folder;

    @Test
    void noFileIsHalfWritten() throws IOException, InterruptedException {
        StringBuilder sales = new StringBuilder("site,item,amount\n");
        for (int i = 0; i < 4000; i++) {
            sales.append("site ")
                    .append(i % 7)
                    .append(",item ")
                    .append(i % 999)
                    .append(',')
                    .append(i % 90)
                    .append(".50\n");
        }
        Files.writeString(folder.resolve("sales.csv"), sales);
        Files.writeString(folder.resolve("t.brief"), """
                input sales from 'sales.csv'
                table t from sales
                  sort amount desc
                  per site, item give takings = sum(amount)
                """);
        Files.createDirectories(folder.resolve("tmp"));
        assertThat(start("whole").waitFor()).isZero();
        Map<String, byte[]> whole = files("whole");
        SplittableRandom random = new SplittableRandom(1);
        for (int kill = 0; kill < KILLS; kill++) {
            Process process = start("out");
            Thread.sleep(random.nextLong(RUN_MILLIS));
            if (kill % 2 == 0) {
                process.destroyForcibly();
            } else {
                process.destroy();
            }
            process.waitFor();
            files("out").forEach((name, bytes) -> {
                if (!name.startsWith(".fiesta-") && !name.equals("run.json")) {
                    assertThat(bytes).as(name).isEqualTo(whole.get(name));
                }
            });
        }
        assertThat(start("out").waitFor()).isZero();
        assertThat(files("out").keySet()).isEqualTo(whole.keySet());
        try (Stream<Path> left = Files.list(folder.resolve("tmp"))) {
            assertThat(left.filter(f -> !f.getFileName().toString().startsWith("hsperf")))
                    .isEmpty();
        }
    }

    private Map<String, byte[]> files(String name) throws IOException {
        Map<String, byte[]> files = new HashMap<>();
        Path out = folder.resolve(name);
        if (Files.isDirectory(out)) {
            List<Path> all = new ArrayList<>();
            try (Stream<Path> found = Files.walk(out)) {
                found.filter(Files::isRegularFile).forEach(all::add);
            }
            for (Path file : all) {
                files.put(out.relativize(file).toString(), Files.readAllBytes(file));
            }
        }
        return files;
    }

    private Process start(String out) throws IOException {
        return new ProcessBuilder(
                        Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                        "-Djava.io.tmpdir=" + folder.resolve("tmp"),
                        "-cp",
                        System.getProperty("java.class.path"),
                        "dev.fiesta.cli.Main",
                        "run",
                        folder.resolve("t.brief").toString(),
                        "--memory",
                        "20k",
                        "--as",
                        "csv,html",
                        "--out",
                        folder.resolve(out).toString())
                .redirectError(ProcessBuilder.Redirect.DISCARD)
                .redirectOutput(ProcessBuilder.Redirect.DISCARD)
                .start();
    }
}
