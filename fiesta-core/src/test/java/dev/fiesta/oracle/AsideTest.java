package dev.fiesta.oracle;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Asking;
import dev.fiesta.Fiesta;
import dev.fiesta.FiestaBuilder;
import dev.fiesta.Repeats;
import dev.fiesta.Result;
import dev.fiesta.problem.FiestaException;
import dev.fiesta.source.Aside;
import dev.fiesta.source.TinyPieces;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Records that cannot be read are set aside: whatever is asked, the answer is that over a file without them, however the file is
 * cut into pieces, however many threads there are and however little memory; and what is set aside are their lines.
 */
class AsideTest {
    private static final int QUESTIONS = Repeats.of(80, 2500);
    private static final List<String> FIELDS = List.of("site", "item", "day", "quantity", "amount", "score");

    @TempDir
    Path folder;

    /** Lines of a file, and which of them cannot be read. */
    private record Dirty(List<String> all, List<String> sound, List<String> bad) {}

    @Test
    void answersAreThoseOverTheFileWithoutThem() throws IOException {
        int aside = 0;
        for (long seed = 0; seed < QUESTIONS; seed++) {
            SplittableRandom random = new SplittableRandom(seed);
            RandomQuestions questions = new RandomQuestions(seed);
            Dirty lines = dirty(questions.table(), random);
            String clauses = questions.clauses();
            Path dirty = file("dirty.csv", lines.all());
            String expected = outcome(file("sound.csv", lines.sound()), clauses, null, 1 << 20, 1, 1 << 30, -1);
            for (int way = 0; way < 4; way++) {
                Aside records = new Aside("sales", BigDecimal.valueOf(100), true);
                int piece = way == 0 ? 1 << 20 : 30 + random.nextInt(200);
                long crew = seed * 4 + way;
                String outcome = outcome(dirty, clauses, records, piece, 1 + way % 3, way == 3 ? 1 : 1 << 30, crew);
                String what = "seed " + seed + ", way " + way + ":\n" + clauses + "\n" + String.join("\n", lines.all());
                assertThat(outcome).as(what).isEqualTo(expected);
                if (!clauses.contains("first")) { // which may end the reading before all are judged
                    assertThat(records.count()).as(what).isEqualTo(lines.bad().size());
                    assertThat(written(records)).as(what).isEqualTo(lines.bad());
                }
                aside += records.count();
            }
        }
        assertThat(aside).isGreaterThan(QUESTIONS);
    }

    /** A quote that opens and never closes, or only where another line opens one, costs its own line and no other. */
    @Test
    void strayQuotesCostTheirOwnLines() throws IOException {
        for (long seed = 0; seed < 60; seed++) {
            SplittableRandom random = new SplittableRandom(seed);
            Dirty lines = new Dirty(new ArrayList<>(), new ArrayList<>(), new ArrayList<>());
            int rows = 5 + random.nextInt(60);
            for (int i = 0; i < rows; i++) {
                boolean bad = random.nextInt(6) == 0;
                String site = bad ? "\"Quay" : random.nextInt(4) == 0 ? "\"Old Town\"" : "Meadow";
                String line = (random.nextBoolean() || !bad ? site + ",lemonade" : "Quay,\"lemonade") + ",2026-05-01,"
                        + i + ",1.50,2.5";
                lines.all().add(line);
                (bad ? lines.bad() : lines.sound()).add(line);
            }
            Path dirty = file("dirty.csv", lines.all());
            String expected = outcome(file("sound.csv", lines.sound()), "sort quantity", null, 1 << 20, 1, 1 << 30, -1);
            for (int piece : new int[] {1 << 20, 31, 64, 200}) {
                Aside records = new Aside("sales", BigDecimal.valueOf(100), true);
                String outcome = outcome(dirty, "sort quantity", records, piece, 2, 1 << 30, seed + piece);
                assertThat(outcome).as("seed " + seed + " " + piece).isEqualTo(expected);
                assertThat(written(records)).isEqualTo(lines.bad());
            }
        }
    }

    /** Where a sort is shared, some pieces are looked at before; one may seem to begin within a quoted cell. */
    @Test
    void whatIsLookedAtBeforeIsNotSetAside() throws IOException {
        for (long seed = 0; seed < 60; seed++) {
            SplittableRandom random = new SplittableRandom(seed);
            List<String> lines = new ArrayList<>();
            int bad = 0;
            for (int i = 0; i < 40; i++) {
                boolean odd = random.nextInt(9) == 0;
                bad += odd ? 1 : 0;
                String site = random.nextInt(3) > 0 ? "Quay" : "\"" + "x,y\n".repeat(1 + random.nextInt(40)) + "\"";
                lines.add(site + ",lemonade,2026-05-01," + i + (odd ? ",none" : ",1.50") + ",2.5");
            }
            Path dirty = file("dirty.csv", lines);
            Aside alone = new Aside("sales", BigDecimal.valueOf(100), true);
            String expected = outcome(dirty, "sort quantity desc", alone, 1 << 20, 1, 1 << 30, -1);
            assertThat(alone.count()).isEqualTo(bad);
            for (int way = 0; way < 3; way++) {
                Aside records = new Aside("sales", BigDecimal.valueOf(100), true);
                int piece = 20 + random.nextInt(100);
                String outcome = outcome(dirty, "sort quantity desc", records, piece, 2, 1 << 30, seed * 3 + way);
                assertThat(outcome).as("seed %s, way %s", seed, way).isEqualTo(expected);
                assertThat(written(records)).as("seed %s, way %s", seed, way).isEqualTo(written(alone));
            }
        }
    }

    private Path file(String name, List<String> lines) throws IOException {
        return Repeats.write(folder.resolve(name), String.join(",", FIELDS) + "\n" + String.join("\n", lines) + "\n");
    }

    private static Dirty dirty(List<Map<String, Object>> table, SplittableRandom random) {
        Dirty lines = new Dirty(new ArrayList<>(), new ArrayList<>(), new ArrayList<>());
        for (Map<String, Object> row : table) {
            boolean bad = random.nextInt(7) == 0;
            List<String> cells = new ArrayList<>();
            for (String field : FIELDS) {
                Object value = row.get(field);
                cells.add(value == null ? "" : '"' + value.toString().replace("\"", "\"\"") + '"');
            }
            if (bad) {
                switch (random.nextInt(4)) {
                    case 0 -> cells.set(2 + random.nextInt(4), "oops");
                    case 1 -> cells.remove(5);
                    case 2 -> cells.add("surplus");
                    default -> cells.set(4, "31/05/2026");
                }
            }
            String line = String.join(",", cells);
            lines.all().add(line);
            (bad ? lines.bad() : lines.sound()).add(line);
        }
        return lines;
    }

    private static List<String> written(Aside records) throws IOException {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        for (Aside.Content content : records.files().values()) {
            content.write(bytes);
        }
        List<String> lines = bytes.toString(StandardCharsets.UTF_8).lines().toList();
        return lines.isEmpty() ? lines : lines.subList(1, lines.size());
    }

    /** @param crew a number that tells whether others read too; -1 for none */
    private static String outcome(
            Path file, String clauses, Aside aside, int piece, int threads, long memory, long crew) {
        FiestaBuilder settings = Fiesta.with().threads(threads).memory(memory);
        try (SmallCrew small = SmallCrew.of(settings, crew)) {
            Fiesta fiesta = small.fiesta();
            Result result = (aside == null
                            ? TinyPieces.read(fiesta, file, piece)
                            : TinyPieces.settingAside(fiesta, file, piece, aside))
                    .then(clauses)
                    .run();
            return String.join("\n", Asking.lines(result))
                    + result.notices().list().stream()
                            .map(n -> n.text().replaceAll("\\(\\w+\\.csv, line \\d+\\)", "(its line)"))
                            .collect(Collectors.joining("\n", "\n", ""));
        } catch (FiestaException e) {
            return "failed: " + e.getMessage().replaceAll("\\w+\\.csv, line \\d+", "its line");
        }
    }
}
