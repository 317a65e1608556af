package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/** What holds for the sources of all modules: one idea in a file, one name for an idea. */
class SourcesTest {
    private static final int LONGEST = 400;
    private static final int MOST_CLASSES = 25;

    private static List<Path> sources() throws IOException {
        List<Path> all = files("src/main/java", f -> f.toString().endsWith(".java"));
        assertThat(all).hasSizeGreaterThan(600);
        return all;
    }

    /** Files below a folder of each module. */
    private static List<Path> files(String folder, Predicate<Path> wanted) throws IOException {
        List<Path> all = new ArrayList<>();
        try (Stream<Path> modules = Files.list(Path.of(".."))) {
            for (Path module : modules.map(m -> m.resolve(folder))
                    .filter(Files::isDirectory)
                    .toList()) {
                try (Stream<Path> files = Files.walk(module)) {
                    files.filter(wanted).filter(Files::isRegularFile).forEach(all::add);
                }
            }
        }
        return all;
    }

    @Test
    void aLongFileSaysWhyItIs() throws IOException {
        List<String> tooLong = new ArrayList<>();
        for (Path file : sources()) {
            String text = Files.readString(file);
            String head = text.split("\\b(?:class|interface|record|enum) ", 2)[0].replaceAll("\\s*\\n \\* ", " ");
            if (text.lines().count() > LONGEST && !head.contains("It is long because ")) {
                tooLong.add(file.getFileName() + ": " + text.lines().count() + " lines");
            }
        }
        assertThat(tooLong).isEmpty();
    }

    /** No room has more classes than somebody can know, but where it says why. */
    @Test
    void aLargeRoomSaysWhyItIs() throws IOException {
        Map<Path, Long> classes = sources().stream()
                .filter(f -> !f.endsWith("package-info.java") && !f.endsWith("module-info.java"))
                .collect(Collectors.groupingBy(Path::getParent, TreeMap::new, Collectors.counting()));
        List<String> wrong = new ArrayList<>();
        for (Map.Entry<Path, Long> room : classes.entrySet()) {
            Path head = room.getKey().resolve("package-info.java");
            boolean says = Files.exists(head)
                    && Files.readString(head).replaceAll("\\s*\\n \\* ", " ").contains("It is large because ");
            if (says != room.getValue() > MOST_CLASSES) {
                wrong.add(room.getKey() + ": " + room.getValue() + (says ? " classes, and says why" : " classes"));
            }
        }
        assertThat(classes).hasSizeGreaterThan(30);
        assertThat(wrong).isEmpty();
    }

    /** What only a broken machine can bring about, and the attacks of the command do. */
    private static final Set<String> OF_THE_MACHINE = Set.of(
            "Copying.java",
            "PageServer.java",
            "RecordMapper.java",
            "Result.java",
            "Reach.java",
            "Copies.java",
            "SpillFile.java",
            "SpilledRows.java",
            "OutputFolder.java",
            "DelimitedScan.java",
            "LineScan.java",
            "LineSource.java",
            "Spool.java",
            "Surveyor.java",
            "Sessions.java",
            "ParquetFiles.java",
            "ParquetOpening.java",
            "PdfPages.java",
            "Crewed.java",
            "LocalCrew.java",
            "RunFolder.java");

    /** The beginning or the end of what is written out of each message stands in some test. */
    @Test
    void eachFailureIsToldInATest() throws IOException {
        StringBuilder tests = new StringBuilder();
        for (Path file : files("src/test", f -> f.toString().matches(".*\\.(java|txt|md|golden)"))) {
            tests.append(Files.readString(file).replaceAll("\"\\s*\\+\\s*\"", ""))
                    .append('\n');
        }
        String all = tests.toString();
        List<Path> modules = new ArrayList<>();
        try (Stream<Path> folders = Files.list(Path.of(".."))) {
            folders.filter(m -> !m.endsWith("fiesta-benchmarks"))
                    .map(m -> m.resolve("src/main/java"))
                    .filter(Files::isDirectory)
                    .forEach(modules::add);
        }
        List<SaidMessages.Failing> failures = SaidMessages.failures(modules);
        assertThat(failures).hasSizeGreaterThan(150);
        assertThat(failures.stream()
                        .filter(f -> !OF_THE_MACHINE.contains(f.at().split(":")[0]))
                        .filter(f -> f.texts().stream()
                                .noneMatch(t -> all.contains(t.substring(0, Math.min(20, t.length())))
                                        || all.contains(t.substring(Math.max(0, t.length() - 20))))))
                .isEmpty();
    }

    @Test
    void noTwoClassesShareAName() throws IOException {
        Map<String, List<Path>> byName = new TreeMap<>(sources().stream()
                .filter(f -> !f.getFileName().toString().contains("-info"))
                .collect(Collectors.groupingBy(f -> f.getFileName().toString())));
        byName.values().removeIf(files -> files.size() == 1);
        assertThat(byName).isEmpty();
    }

    @Test
    void eachPackageSaysWhatItIs() throws IOException {
        List<Path> without = sources().stream()
                .map(Path::getParent)
                .distinct()
                .filter(p -> !p.endsWith("java"))
                .filter(p -> !Files.exists(p.resolve("package-info.java")))
                .toList();
        assertThat(without).as("packages that do not say what they are").isEmpty();
    }
}
