package dev.fiesta.oracle;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Asking;
import dev.fiesta.Fiesta;
import dev.fiesta.FiestaBuilder;
import dev.fiesta.Repeats;
import dev.fiesta.Result;
import dev.fiesta.Table;
import dev.fiesta.TableAccess;
import dev.fiesta.copy.SmallCopies;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.Parser;
import dev.fiesta.member.LocalCrew;
import dev.fiesta.problem.FiestaException;
import dev.fiesta.progress.Timing;
import dev.fiesta.source.LeftBehind;
import dev.fiesta.source.TinyPieces;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Random questions over dirty tables: what comes of them, the rows or the failure, what is told beside it and how many rows each
 * step saw, is the same however many threads there are, wherever pieces end, however little memory there is, and from a copy.
 */
class OutcomesTest {
    private static final int QUESTIONS = Integer.getInteger("fiesta.outcomes", 100);
    private static final int FIRST = Integer.getInteger("fiesta.first", 0);
    private static final int TOGETHER = 10;
    private static final List<String> FIELDS = List.of("site", "item", "day", "quantity", "amount", "score");
    private static final String[] DIRTY = {
        "add z1 = integer(item)",
        "only integer(item) is missing",
        "sort integer(item), day",
        "add z2 = rank(within site along integer(item))",
        "add z3 = sum(integer(item) within site)",
        "first 3 along integer(item) desc",
        "first 2 within site along amount desc",
        "first 2 within item",
        "first 1 within site along amount desc, day",
        "first 1 within site along quantity, integer(item)",
        "add z6 = rank(within site along amount desc, day) only z6 <= 2",
        "add z7 = rank(within site along day desc) only z7 < 3 and integer(item) > 2 first 2",
        "add z8 = rank(along quantity) only integer(item) > 2 and z8 = 1",
        "add z4 = quantity * 5000000000000000000",
        "distinct site, quantity",
        "add z5 = amount * 2 first 5",
        "only score > 0 first 4",
        "check integer(item) > 0",
        "check amount < 20",
        "sample 5 within site",
        "sample 40 percent within site, item",
        "sort score desc first 3",
        "columns site, amount"
    };

    /** What makes groups and stands last. */
    private static final String[] GROUPED = {
        "per site give f = first(item along integer(item) desc), l = list(quantity along score, day), "
                + "a = at_max(day, score along integer(item))",
        "per site, day give s = sum(amount), n = count() totals by site",
        "per site, item give s = sum(amount), m = median(score) first 2 within site along s desc rest as 'Rest' totals by site",
        "per site, item give s = sum(amount * 5), d = count_distinct(day) sort s desc totals by site",
        "per site, item, day give s = sum(amount), p = share(amount within site, item), m = median(amount within site) sort p",
        "per item, site give n = count(), p = share(score within item), q = share(score within site) only n > 1",
        "per site, day give s = sum(quantity) gapless day every 1 month within site with 0",
        "per site, item give s = sum(integer(item)) add t = sqrt(s - 9) hide s where s < 3 totals by site",
        "turn quantity, amount into what, value per what, site give m = median(value), s = sum(1 / (value - value)) totals",
        "per site against quantity in (1, 2, 3) rest as 'others' give s = sum(amount) totals",
        "add v = first(score within site along integer(item)), w = count_distinct(item within site along day running)"
    };

    @TempDir
    Path folder;

    /** @param members of a crew that reads stretches of a few pieces; 0 for none */
    private record Way(int threads, int piece, long memory, boolean copied, int members) {
        Way(int threads, int piece, long memory, boolean copied) {
            this(threads, piece, memory, copied, 0);
        }
    }

    private static final Way[] WAYS = {
        new Way(1, 1 << 20, 1 << 30, false),
        new Way(1, 64, 1 << 30, false),
        new Way(2, 100, 1 << 30, false),
        new Way(8, 40, 1 << 30, false),
        new Way(1, 1 << 20, 1, false),
        new Way(3, 64, 1, false),
        new Way(2, 200, 2_000, false),
        new Way(1, 64, 1 << 30, true),
        new Way(2, 100, 1, true),
        new Way(2, 40, 1 << 30, false, 3),
        new Way(1, 100, 1, false, 7)
    };

    @Test
    void outcomesAreTheSame() throws IOException {
        Path file = folder.resolve("sales.csv");
        long before = LeftBehind.files();
        List<String> differing = new ArrayList<>();
        int failed = 0;
        for (long seed = FIRST; seed < FIRST + QUESTIONS; seed++) {
            SplittableRandom random = new SplittableRandom(seed * 31 + 7);
            RandomQuestions questions = new RandomQuestions(seed);
            String text = dirty(questions.table(), random);
            boolean asMissing = random.nextInt(2) == 0;
            String clauses = clauses(questions, random);
            Repeats.write(file, text);
            List<String> outcomes = new ArrayList<>();
            for (Way way : WAYS) {
                outcomes.add(outcome(file, clauses, asMissing, way));
            }
            failed += outcomes.get(0).startsWith("failed") ? 1 : 0;
            for (int w = 1; w < WAYS.length; w++) {
                if (!outcomes.get(w).equals(outcomes.get(0))) {
                    differing.add("seed " + seed + (asMissing ? ", bad as missing" : "") + ":\n" + clauses + "\n" + text
                            + outcomes.get(0) + "\nbut with " + WAYS[w] + "\n" + outcomes.get(w));
                    break;
                }
            }
        }
        assertThat(differing).isEmpty();
        assertThat(failed).isBetween(QUESTIONS / 20, QUESTIONS * 3 / 4);
        assertThat(LeftBehind.workers()).isZero();
        assertThat(LeftBehind.files()).as("files that no run needs any more").isLessThanOrEqualTo(before);
    }

    /** Several tables fed by one reading, some of which want only its first rows, come to what each comes to alone. */
    @Test
    void tablesTogetherComeToWhatEachComesToAlone() throws IOException {
        int failed = 0;
        for (long seed = 0; seed < TOGETHER; seed++) {
            SplittableRandom random = new SplittableRandom(seed * 17 + 3);
            Repeats.write(folder.resolve("sales.csv"), large(random));
            String fields = "fields quantity integer, amount decimal(2), score real, day date";
            String bad = random.nextBoolean() ? fields.replace(",", " bad as missing,") : fields;
            String input = "input sales from 'sales.csv' " + bad + "\n";
            List<String> tables = List.of(
                    "table t0 from sales " + DIRTY[random.nextInt(DIRTY.length)],
                    "table t1 from sales " + DIRTY[random.nextInt(DIRTY.length)],
                    "table t2 from t0 " + DIRTY[random.nextInt(DIRTY.length)],
                    "table t3 from sales per site give n = count(), q = sum(quantity)");
            List<String> alone = new ArrayList<>();
            for (int t = 0; t < tables.size(); t++) {
                String below = t == 2 ? tables.get(0) + "\n" : "";
                alone.add(together(input + below + tables.get(t), List.of("t" + t), 1));
            }
            boolean fails = alone.stream().anyMatch(a -> a.startsWith("failed"));
            failed += fails ? 1 : 0;
            for (int threads : new int[] {1, 2, 8}) {
                String all = together(input + String.join("\n", tables), List.of("t0", "t1", "t2", "t3"), threads);
                if (fails) {
                    assertThat(alone)
                            .as("seed " + seed + " " + tables + " " + bad)
                            .contains(all);
                } else {
                    assertThat(all)
                            .as("seed " + seed + " " + tables + " " + bad)
                            .isEqualTo(String.join("\n", alone));
                }
            }
        }
        assertThat(failed).isBetween(1, TOGETHER - 1);
    }

    /** Some pieces of a file of which few cells cannot be read. */
    private static String large(SplittableRandom random) {
        int rows = 30_000 + random.nextInt(30_000);
        int dirt = random.nextInt(3) == 0 ? 0 : 1 + random.nextInt(2 * rows);
        StringBuilder text = new StringBuilder(String.join(",", FIELDS)).append('\n');
        for (int i = 0; i < rows; i++) {
            boolean bad = dirt > 0 && random.nextInt(dirt) == 0;
            text.append(random.nextInt(5) == 0 ? "Quay" : "Meadow")
                    .append(",item ")
                    .append(random.nextInt(7))
                    .append(",2026-05-0")
                    .append(1 + random.nextInt(9))
                    .append(',')
                    .append(bad && random.nextBoolean() ? "oops" : random.nextInt(100))
                    .append(',')
                    .append(random.nextInt(90))
                    .append(".50,")
                    .append(bad ? "oops" : random.nextInt(1000) / 8.0)
                    .append('\n');
        }
        return text.toString();
    }

    private String together(String brief, List<String> wanted, int threads) {
        try (Fiesta fiesta = Fiesta.with().threads(threads).open()) {
            Map<String, Result> results = fiesta.tables(Parser.brief(new BriefText("brief", brief)), folder, Map.of())
                    .run(wanted);
            return wanted.stream()
                    .map(w -> String.join("\n", Asking.lines(results.get(w))))
                    .collect(Collectors.joining("\n"));
        } catch (FiestaException e) {
            return "failed: " + e.getMessage().replaceAll("brief:\\d+(:\\d+)?", "there");
        }
    }

    private static String clauses(RandomQuestions questions, SplittableRandom random) {
        String dirty = DIRTY[random.nextInt(DIRTY.length)];
        String grouped = GROUPED[random.nextInt(GROUPED.length)];
        return switch (random.nextInt(6)) {
            case 4 -> grouped;
            case 5 -> dirty.startsWith("columns") ? grouped : dirty + "\n" + grouped;
            case 0 -> dirty + "\n" + DIRTY[random.nextInt(DIRTY.length)];
            case 1 -> questions.clauses();
            default -> dirty + "\n" + questions.clauses();
        };
    }

    private static String dirty(List<Map<String, Object>> table, SplittableRandom random) {
        int dirt = random.nextInt(3) == 0 ? 0 : 4 + random.nextInt(80);
        StringBuilder text = new StringBuilder(String.join(",", FIELDS)).append('\n');
        for (Map<String, Object> row : table) {
            List<String> cells = new ArrayList<>();
            for (String field : FIELDS) {
                Object value = row.get(field);
                boolean bad = dirt > 0 && random.nextInt(dirt) == 0;
                cells.add(
                        bad && field.equals("item")
                                ? "" + random.nextInt(9)
                                : bad && !field.equals("site") ? "oops" : value == null ? "" : quoted(value));
            }
            text.append(String.join(",", cells)).append('\n');
            if (dirt > 0 && random.nextInt(200) == 0) {
                text.append("short\n");
            }
        }
        return text.toString();
    }

    private static String quoted(Object value) {
        return '"' + value.toString().replace("\"", "\"\"") + '"';
    }

    private String outcome(Path file, String clauses, boolean asMissing, Way way) {
        FiestaBuilder settings = Fiesta.with().threads(way.threads()).memory(way.memory());
        try (LocalCrew crew = new LocalCrew(settings.member(), Math.max(1, way.members()), 3L * way.piece(), 0, 3);
                Fiesta fiesta = way.members() == 0
                        ? settings.open()
                        : settings.crew(crew).open()) {
            Table sales = !way.copied()
                    ? TinyPieces.read(fiesta, file, way.piece(), asMissing)
                    : TableAccess.of(
                            fiesta,
                            () -> SmallCopies.of(
                                    folder.resolve("copies"),
                                    file,
                                    way.threads(),
                                    () -> TinyPieces.source(file, way.piece(), asMissing)));
            try (Result result = sales.then(clauses).run()) {
                return told(result);
            }
        } catch (FiestaException e) {
            return "failed: " + e.getMessage();
        } catch (RuntimeException e) {
            return "crashed: " + e + Arrays.toString(e.getStackTrace());
        }
    }

    private static String told(Result result) {
        return String.join("\n", Asking.lines(result)) + "\n" + result.totals() + "\n"
                + Asking.notices(result)
                + "\n" + result.notices().warnings() + "\n"
                + result.timings().stream().map(OutcomesTest::rows).collect(Collectors.joining(", "));
    }

    private static String rows(Timing step) {
        return step.step() + " " + step.rowsIn() + " to " + step.rowsOut();
    }
}
