package dev.fiesta.cli;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.examples.Ribera;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** The same bytes whatever the locale, the zone, the threads and the memory; only {@code when} knows the clock. */
class SamenessTest {
    @TempDir
    Path folder;

    @ParameterizedTest
    @ValueSource(strings = {"season", "takings"})
    void theMachineChangesNoByte(String brief) throws IOException, InterruptedException {
        Ribera.unpack(folder.resolve("ribera"));
        Process one = run(brief, "a", List.of(), List.of("--threads", "2"));
        Process other = run(
                brief,
                "b",
                List.of(
                        "-Duser.language=ar",
                        "-Duser.country=EG",
                        "-Duser.timezone=Asia/Tokyo",
                        "-Dfile.encoding=ISO-8859-1"),
                List.of("--threads", "1", "--memory", "64k"));
        assertThat(one.waitFor()).isZero();
        assertThat(other.waitFor()).isZero();
        List<String> names = new ArrayList<>();
        try (Stream<Path> files = Files.walk(folder.resolve("a"))) {
            files.filter(Files::isRegularFile)
                    .forEach(f -> names.add(folder.resolve("a").relativize(f).toString()));
        }
        assertThat(names).hasSizeGreaterThan(20);
        for (String name : names) {
            if (!name.equals("run.json")) {
                assertThat(folder.resolve("b").resolve(name))
                        .as(name)
                        .hasSameBinaryContentAs(folder.resolve("a").resolve(name));
            }
        }
        assertThat(withoutClock("b")).isEqualTo(withoutClock("a"));
    }

    private String withoutClock(String run) throws IOException {
        String record = Files.readString(folder.resolve(run).resolve("run.json"));
        return record.substring(0, record.indexOf("\"when\""));
    }

    private Process run(String brief, String out, List<String> machine, List<String> options) throws IOException {
        List<String> command = new ArrayList<>();
        command.add(Path.of(System.getProperty("java.home"), "bin", "java").toString());
        command.addAll(List.of("-XX:TieredStopAtLevel=1", "-XX:+UseSerialGC"));
        command.addAll(machine);
        command.addAll(List.of("-cp", System.getProperty("java.class.path"), "dev.fiesta.cli.Main", "run"));
        command.addAll(List.of(folder.resolve("ribera/" + brief + ".brief").toString(), "--quiet", "--out"));
        command.addAll(
                List.of(folder.resolve(out).toString(), "--as", "html,pdf,xlsx,markdown,csv,tsv,json,jsonl,svg,png"));
        command.addAll(options);
        return new ProcessBuilder(command).inheritIO().start();
    }
}
