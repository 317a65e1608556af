package dev.fiesta.cli.attack;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatCode;

import dev.fiesta.cli.Main;
import dev.fiesta.examples.Ribera;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Briefs cut off anywhere, with a word missing, twice, or in another's place: a result or a message within seconds. */
class SpoiltBriefsAttack {
    private static final Pattern WORD =
            Pattern.compile("'(?:[^']|'')*'|\"[^\"]*\"|\\d[\\d.:-]*|\\w+|\\s+|.", Pattern.DOTALL);

    @TempDir
    Path folder;

    @BeforeEach
    void little() throws IOException {
        Ribera.unpack(folder);
        for (String name : Ribera.FILES) {
            Path file = folder.resolve(name);
            if (name.startsWith("sales")) {
                Files.write(file, Files.readAllLines(file).subList(0, 120));
            }
        }
    }

    @ParameterizedTest
    @ValueSource(strings = {"takings.brief", "season.brief"})
    void eachEndsWithAResultOrAMessage(String name) throws IOException {
        String brief = Files.readString(folder.resolve(name));
        Set<String> spoilt = new LinkedHashSet<>();
        for (int end = 0; end < brief.length(); end++) {
            spoilt.add(brief.substring(0, end));
        }
        List<String> words = new ArrayList<>();
        Matcher word = WORD.matcher(brief);
        while (word.find()) {
            words.add(word.group());
        }
        for (int i = 0; i < words.size(); i++) {
            if (!words.get(i).isBlank()) {
                spoilt.add(joined(words, i, ""));
                spoilt.add(joined(words, i, words.get(i) + " " + words.get(i)));
                spoilt.add(joined(words, i, words.get((i * 7 + 13) % words.size())));
            }
        }
        Map<Integer, Integer> statuses = new TreeMap<>();
        for (String each : spoilt) {
            statuses.merge(asked(each), 1, Integer::sum);
        }
        System.out.println(name + ": " + spoilt.size() + " briefs, status -> briefs " + statuses);
        assertThat(statuses.keySet()).isSubsetOf(0, 1, 2, 3);
        assertThat(statuses.get(2)).isGreaterThan(spoilt.size() / 2);
    }

    private static String joined(List<String> words, int at, String instead) {
        List<String> changed = new ArrayList<>(words);
        changed.set(at, instead);
        return String.join("", changed);
    }

    private int asked(String text) throws IOException {
        Path brief = folder.resolve("spoilt.brief");
        Files.writeString(brief, text);
        StringWriter said = new StringWriter();
        int[] status = {-1};
        long begun = System.nanoTime();
        assertThatCode(() -> status[0] = Main.run(
                        new PrintWriter(new StringWriter()),
                        new PrintWriter(said),
                        "run",
                        brief.toString(),
                        "--quiet",
                        "--rows",
                        "3"))
                .as(text)
                .doesNotThrowAnyException();
        assertThat(Duration.ofNanos(System.nanoTime() - begun)).as(text).isLessThan(Duration.ofSeconds(5));
        assertThat(said.toString()).as(text).doesNotContain("fault of fiesta", "\tat ");
        if (status[0] != 0) {
            assertThat(said.toString()).as(text).isNotBlank();
        }
        return status[0];
    }
}
