package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/** What holds for the sources of all modules: one idea in a file, one name for an idea. */
class SourcesTest {
    private static final int LONGEST = 400;

    private static List<Path> sources() throws IOException {
        List<Path> all = new ArrayList<>();
        try (Stream<Path> modules = Files.list(Path.of(".."))) {
            for (Path module : modules.map(m -> m.resolve("src/main/java"))
                    .filter(Files::isDirectory)
                    .toList()) {
                try (Stream<Path> files = Files.walk(module)) {
                    files.filter(f -> f.toString().endsWith(".java")).forEach(all::add);
                }
            }
        }
        assertThat(all).hasSizeGreaterThan(600);
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
