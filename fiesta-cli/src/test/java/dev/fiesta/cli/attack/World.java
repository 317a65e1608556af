package dev.fiesta.cli.attack;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.TreeMap;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;

/**
 * A folder with a brief over two states of its data, an earlier and a later one, and what a run gives for each. A run over the later
 * data into the folder of the earlier one may be disturbed in any way: the folder then holds all of one of the two.
 */
final class World {
    private static final String RECORD = "run.json";

    private final Path folder;
    private final List<String> options;
    final Path temporary;
    final Path out;
    private final Path earlier;
    private final Path later;
    private final Map<String, String> earlierFiles;
    private final Map<String, String> laterFiles;

    World(Path folder, String... options) throws IOException, InterruptedException {
        this.folder = folder;
        this.options = List.of(options);
        temporary = Files.createDirectories(folder.resolve("tmp"));
        out = folder.resolve("out");
        earlier = data("earlier", 1);
        later = data("later", 2);
        undisturbed(earlier, folder.resolve("whole-earlier"), "earlier");
        undisturbed(later, folder.resolve("whole-later"), "later");
        earlierFiles = files(folder.resolve("whole-earlier"));
        laterFiles = files(folder.resolve("whole-later"));
        assertThat(earlierFiles.keySet()).isEqualTo(laterFiles.keySet());
        assertThat(earlierFiles).isNotEqualTo(laterFiles);
        undisturbed(earlier, out, "earlier");
    }

    private Path data(String name, int times) throws IOException {
        Path data = Files.createDirectories(folder.resolve(name));
        StringBuilder sales = new StringBuilder("site,item,amount\n");
        for (int i = 0; i < 4000; i++) {
            sales.append("site ")
                    .append(i % 7)
                    .append(",item ")
                    .append(i % 999)
                    .append(',')
                    .append(i % 90 * times)
                    .append(".50\n");
        }
        Files.writeString(data.resolve("sales.csv"), sales);
        Files.writeString(data.resolve("t.brief"), """
                input sales from 'sales.csv'
                table t from sales
                  sort amount desc
                  per site, item give takings = sum(amount)
                  first 400
                """);
        return data;
    }

    /** Starts the run over the later data into the folder of the earlier. */
    Process disturbed(Map<String, String> environment) throws IOException {
        return start(later, out, environment);
    }

    /**
     * Kills runs at random moments, half of them where files appear, and asserts after each that nothing is lost or half-written.
     *
     * @return how many did not end before they were killed
     */
    int kill(int times, long seed) throws IOException, InterruptedException {
        long begun = System.nanoTime();
        assertThat(disturbed(Map.of()).waitFor()).as(message()).isZero();
        long length = System.nanoTime() - begun;
        SplittableRandom random = new SplittableRandom(seed);
        int died = 0;
        for (int kill = 0; kill < times; kill++) {
            Process process = disturbed(Map.of());
            long wait = kill % 2 == 0 ? random.nextLong(length) : length * 3 / 4 + random.nextLong(length / 2);
            if (!process.waitFor(wait, TimeUnit.NANOSECONDS)) {
                died++;
                if (kill % 4 == 0) {
                    process.destroy();
                } else {
                    process.destroyForcibly();
                }
            }
            process.waitFor();
            settled("kill " + kill);
            if (kill % 5 == 4 || kill == times - 1) {
                restore("after kill " + kill);
            }
        }
        return died;
    }

    private void undisturbed(Path data, Path into, String why) throws IOException, InterruptedException {
        int status = start(data, into, Map.of()).waitFor();
        assertThat(status).as(why + ": " + message()).isZero();
    }

    private Process start(Path data, Path into, Map<String, String> environment) throws IOException {
        List<String> command = new ArrayList<>(List.of(
                Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                "-XX:-UsePerfData",
                "-XX:TieredStopAtLevel=1",
                "-Djava.awt.headless=true",
                "-Djava.io.tmpdir=" + temporary,
                "-cp",
                System.getProperty("java.class.path"),
                "dev.fiesta.cli.Main",
                "run",
                data.resolve("t.brief").toString(),
                "--out",
                into.toString()));
        command.addAll(options);
        ProcessBuilder builder = new ProcessBuilder(command)
                .redirectError(said().toFile())
                .redirectOutput(ProcessBuilder.Redirect.DISCARD);
        builder.environment().putAll(environment);
        return builder.start();
    }

    /** Where a run writes what it says: beside the world, which may be full. */
    private Path said() {
        return folder.resolveSibling(folder.getFileName() + ".said");
    }

    String message() throws IOException {
        return Files.readString(said());
    }

    /**
     * Has the next command end what the disturbed one began, and asserts that the folder holds one of the two runs whole.
     *
     * @return whether it is the later one
     */
    boolean settled(String why) throws IOException {
        dev.fiesta.output.OutputFolder.open(out).close();
        Map<String, String> now = files(out);
        if (!now.equals(laterFiles)) {
            assertThat(now).as(why).isEqualTo(earlierFiles);
            return false;
        }
        return true;
    }

    /** Makes the folder anew, by a run that nothing disturbs, and asserts that nothing is left of those before. */
    void restore(String why) throws IOException, InterruptedException {
        undisturbed(earlier, out, why);
        assertThat(files(out)).as(why).isEqualTo(earlierFiles);
        try (Stream<Path> left = Files.list(temporary)) {
            assertThat(left).as(why).isEmpty();
        }
    }

    /** What is in a folder, by name. The clock in the record is left out. */
    private static Map<String, String> files(Path folder) throws IOException {
        Map<String, String> files = new TreeMap<>();
        List<Path> all;
        try (Stream<Path> found = Files.walk(folder)) {
            all = found.filter(Files::isRegularFile).toList();
        }
        for (Path file : all) {
            String text = new String(Files.readAllBytes(file), java.nio.charset.StandardCharsets.ISO_8859_1);
            String name = folder.relativize(file).toString();
            files.put(name, name.equals(RECORD) ? text.substring(0, text.indexOf("\"when\"")) : text);
        }
        return files;
    }
}
