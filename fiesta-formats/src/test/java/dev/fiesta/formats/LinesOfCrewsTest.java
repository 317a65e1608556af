package dev.fiesta.formats;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.FiestaBuilder;
import dev.fiesta.Result;
import dev.fiesta.crew.Crew;
import dev.fiesta.member.LocalCrew;
import dev.fiesta.problem.FiestaException;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Objects;
import java.util.SplittableRandom;
import java.util.stream.Collectors;
import java.util.zip.GZIPOutputStream;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Lines that name their fields, or whose fields stand at fixed characters, are read by members of a crew as by one machine. */
class LinesOfCrewsTest {
    private static final int RECORDS = 60_000;

    /** Fields that the first records lack come behind this one. */
    private static final int LATE = 31_000;

    @TempDir
    static Path folder;

    @BeforeAll
    static void sales() throws IOException {
        SplittableRandom random = new SplittableRandom(11);
        StringBuilder whole = new StringBuilder("\uFEFF");
        StringBuilder odd = new StringBuilder();
        StringBuilder fixed = new StringBuilder();
        for (int i = 0; i < RECORDS; i++) {
            String site = List.of("Quay", "Meadow", "Hilltop", "Old Town").get(random.nextInt(4));
            String amount = random.nextInt(500) + "." + (10 + random.nextInt(90)) + (i == LATE + 9000 ? "25" : "");
            String late = i > LATE && random.nextInt(5) == 0 ? ",\"tip\":" + random.nextInt(20) : "";
            String later = i > LATE + 12_000 && random.nextInt(3) == 0 ? ",\"zone\":{\"row\":\"" + i % 7 + "\"}" : "";
            String line = "{\"sale\":" + i + ",\"site\":\"" + site + "\",\"amount\":" + amount + late + later
                    + ",\"note\":\"a cup of lemonade, cold\"}";
            whole.append(line).append(i % 9 == 0 ? "\r\n" : "\n").append(i % 5000 == 0 ? "\n" : "");
            odd.append(i % 17_000 == 16_000 ? "{\"sale\":" : line).append('\n');
            fixed.append(String.format(
                    "%6d%-10s%8s%n", i, site, i % 20_000 == 15_000 ? "much" : random.nextInt(900) + ".5"));
        }
        try (OutputStream packed = new GZIPOutputStream(Files.newOutputStream(folder.resolve("packed.jsonl.gz")))) {
            packed.write(odd.toString().getBytes(StandardCharsets.UTF_8));
        }
        Files.writeString(
                folder.resolve("document.json"),
                fixed.toString()
                        .lines()
                        .limit(20_000)
                        .map(l -> "{\"sale\": " + l.substring(0, 6).strip() + ", \"site\": \""
                                + l.substring(6, 16).strip() + "\", \"amount\": \""
                                + l.substring(16).strip() + "\"}")
                        .collect(Collectors.joining(",\n", "{\"sales\": [", "]}")));
        int half = whole.indexOf("\n", whole.length() / 2) + 1;
        Files.writeString(folder.resolve("sales-1.jsonl"), whole.substring(0, half));
        Files.writeString(folder.resolve("sales-2.jsonl"), whole.substring(half));
        Files.writeString(folder.resolve("odd.jsonl"), odd);
        Files.writeString(folder.resolve("fixed.txt"), fixed);
    }

    private static FiestaBuilder settings() {
        return Fiesta.with().threads(2).reads(JsonLines.FORMAT).reads(JsonDocuments.FORMAT);
    }

    private static Object outcome(String brief, @Nullable Crew crew) {
        try (Fiesta fiesta =
                crew == null ? settings().open() : settings().crew(crew).open()) {
            Result t = Objects.requireNonNull(
                    Brief.of("t", brief, folder).run(fiesta).get("t"));
            return List.of(
                    t.schema().toString(),
                    t.stream()
                            .map(r -> t.schema().names().stream()
                                    .map(n -> String.valueOf(r.get(n)))
                                    .toList())
                            .toList(),
                    t.totals().toString(),
                    t.notices().list().stream().map(n -> n.text()).toList());
        } catch (FiestaException e) {
            return e.getMessage();
        }
    }

    /** @param fails whether it ends with a message */
    private static void same(String brief, boolean fails) {
        Object alone = outcome(brief, null);
        assertThat(alone).isInstanceOf(fails ? String.class : List.class);
        assertThat(alone.toString()).doesNotContain("is expected");
        try (LocalCrew crew = new LocalCrew(settings().member(), 3, 1 << 20, 0, 2)) {
            assertThat(outcome(brief, crew)).isEqualTo(alone);
        }
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "per site give n = count(), s = sum(amount), m = median(amount), tips = sum(tip) totals",
                "only sale % 1000 = 7 or tip > 18",
                "add r = rank(within site along amount desc) only r <= 3",
                "sort amount desc, sale first 20",
                "distinct site, tip",
                "add s = sum(amount within site along sale running) only s > 3700000",
                "add x = 1 / (sale - 52321)",
                "only sale > 59990"
            })
    void linesOfJson(String clauses) {
        same("input s from 'sales-*.jsonl' fields amount decimal(4)\ntable t from s " + clauses, false);
        same("input s from 'sales-*.jsonl'\ntable t from s " + clauses, false);
    }

    @ParameterizedTest
    @ValueSource(strings = {"", "unreadable aside", "unreadable aside at most 2"})
    void linesThatAreNone(String how) {
        same(
                "input s from 'odd.jsonl' fields amount decimal(2) " + how
                        + "\ntable t from s per site give n = count(), s = sum(amount)",
                !how.endsWith("aside"));
    }

    @ParameterizedTest
    @ValueSource(strings = {"", "bad as missing", "unreadable aside"})
    void linesOfFixedWidth(String how) {
        same(
                "input s from 'fixed.txt' as fixed sale 1 to 6, site 7 to 16, amount 17 to 24"
                        + " fields amount decimal(1) " + (how.startsWith("bad") ? how : "")
                        + (how.startsWith("un") ? " " + how : "")
                        + "\ntable t from s per site give n = count(), s = sum(amount)",
                how.isEmpty());
    }

    /** What one process only sees, or reads as a whole, is placed as lines for the others. */
    @ParameterizedTest
    @ValueSource(
            strings = {
                "'packed.jsonl.gz' fields amount decimal(2), sale integer, site text unreadable aside",
                "'document.json' items 'sales' fields amount decimal(1) bad as missing"
            })
    void whatIsPlacedForMembers(String input) {
        same("input s from " + input + "\ntable t from s per site give n = count(), s = sum(amount)", false);
        same(
                "input s from " + input + "\ntable t from s sort site, sale desc first 7 columns site, sale, amount",
                false);
    }

    @Test
    void aCrewSurveysThem() {
        try (LocalCrew crew = new LocalCrew(settings().member(), 3, 1 << 20, 0, 2);
                Fiesta together = settings().crew(crew).open();
                Fiesta alone = settings().open()) {
            Path file = folder.resolve("sales-2.jsonl");
            assertThat(together.read(file).survey())
                    .usingRecursiveComparison()
                    .isEqualTo(alone.read(file).survey());
        }
    }

    @Test
    void aMemberSaysWhatItDoesNotRead() {
        try (LocalCrew crew = new LocalCrew(Fiesta.with().member(), 1, 1 << 20, 0, 2)) {
            assertThat(outcome("input s from 'odd.jsonl'\ntable t from s per site give n = count()", crew))
                    .isEqualTo("This member does not read inputs 'as jsonl'");
        }
    }
}
