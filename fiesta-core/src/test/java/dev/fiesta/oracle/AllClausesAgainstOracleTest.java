package dev.fiesta.oracle;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.fail;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.FiestaBuilder;
import dev.fiesta.Repeats;
import dev.fiesta.Result;
import dev.fiesta.TotalRow;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Parser;
import dev.fiesta.source.TinyPieces;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Random questions of all clauses, one behind the other: rows, their order and total rows are those of the naive interpreter. */
class AllClausesAgainstOracleTest {
    private static final int QUESTIONS = Integer.getInteger("fiesta.questions", 2_000);
    private static final int FIRST = Integer.getInteger("fiesta.first", 0);
    private static final int[] THREADS = {1, 2, 8};
    private static final String OTHERS =
            "table prices from sales per item give p = max(amount), q = count(), since = min(day)\n"
                    + "table sites from sales per site give p = sum(quantity)\n"
                    + "table courses from sales per item, since = day give p = max(amount)\n";

    @TempDir
    Path folder;

    @Test
    void answersEqual() throws IOException {
        Path file = folder.resolve("sales.csv");
        int answered = 0;
        int totalled = 0;
        int hidden = 0;
        List<String> differing = new ArrayList<>();
        for (long seed = FIRST; seed < FIRST + QUESTIONS; seed++) {
            RandomQuestions questions = new RandomQuestions(seed + 1_000_000);
            List<Map<String, Object>> table = questions.table();
            String clauses = questions.allClauses();
            Repeats.write(file, EngineAgainstOracleTest.csv(table));
            String alphabet = seed % 6 == 0 ? "pt" : null;
            Naive.Answer expected;
            Naive.collate(alphabet);
            try {
                expected = naive(table, clauses);
            } catch (Naive.Unanswered e) {
                continue;
            } finally {
                Naive.collate(null);
            }
            answered += expected.rows().isEmpty() ? 0 : 1;
            totalled += expected.totals().isEmpty() ? 0 : 1;
            hidden += expected.hidden().isEmpty() ? 0 : 1;
            long memory = seed % 4 != 1 ? 1 << 30 : 1 + seed % 5 * 700; // what does not fit goes to a file
            String question = "seed " + seed + ":\n" + clauses;
            FiestaBuilder settings =
                    Fiesta.with().threads(THREADS[(int) (seed / 3 % 3)]).memory(memory);
            try (SmallCrew crew = SmallCrew.of(settings, seed)) {
                Fiesta fiesta = crew.fiesta();
                Brief brief = Brief.of("question", brief(clauses, alphabet, seed), folder)
                        .input("sales", TinyPieces.read(fiesta, file, 16 + (int) (seed % 7) * 40));
                List<String> wanted = seed % 5 == 0 ? List.of("t", "first") : List.of("t");
                Result result = brief.tables(fiesta).run(wanted).get("t");
                EngineAgainstOracleTest.compare(question, withoutHidden(expected), result);
                compareTotals(question, expected.totals(), result.totals());
                compareShown(question, expected, result);
            } catch (RuntimeException | AssertionError e) {
                differing.add(question + e.getMessage());
                if (differing.size() > 5) {
                    break;
                }
            }
        }
        if (!differing.isEmpty()) {
            fail(String.join("\n\n", differing));
        }
        assertThat(answered).as("questions with rows in the answer").isGreaterThan(QUESTIONS / 2);
        assertThat(totalled).as("questions with totals").isGreaterThan(QUESTIONS / 4);
        assertThat(hidden).as("questions with hidden figures").isGreaterThan(QUESTIONS / 40);
    }

    /** The question as a brief: alone, or over a brief that it uses. */
    private String brief(String clauses, String alphabet, long seed) throws IOException {
        String settings = alphabet == null ? "" : "settings collate '" + alphabet + "'\n";
        String others = settings + "input sales from 'sales.csv'\n" + OTHERS;
        String tables = tables(clauses, seed);
        if (seed % 7 > 1) {
            return others + tables;
        }
        int cut = seed % 7 == 0 ? 0 : tables.indexOf("table t ");
        Repeats.write(folder.resolve("others.brief"), others + tables.substring(0, cut));
        return settings + "use 'others.brief'\n" + tables.substring(cut);
    }

    private static List<Map<String, Object>> withoutHidden(Naive.Answer answer) {
        answer.hidden()
                .forEach((field, places) ->
                        places.forEach(i -> answer.rows().get(i).put(field, null)));
        return answer.rows();
    }

    private static void compareShown(String question, Naive.Answer expected, Result result) {
        for (String field : result.schema().names()) {
            for (int row = 0; row < result.rows(); row++) {
                assertThat(result.isHidden(field, row))
                        .as("%s row %s, whether %s is hidden", question, row, field)
                        .isEqualTo(
                                expected.hidden().getOrDefault(field, Set.of()).contains(row));
            }
        }
        if (expected.shown() != null) {
            assertThat(result.view().stream().map(v -> v.field())).as(question).isEqualTo(expected.shown());
        }
    }

    /** The same question asked of one table, or of one over another, which has the first clauses over records. */
    private static String tables(String clauses, long seed) {
        List<String> lines = clauses.lines().toList();
        int records = (int) lines.stream().takeWhile(l -> !l.startsWith("per ")).count();
        int first = seed % 2 == 0 || records == 0 ? 0 : 1 + (int) (seed / 2 % records);
        return "table first from sales\n" + String.join("\n", lines.subList(0, first)) + "\ntable t from first\n"
                + String.join("\n", lines.subList(first, lines.size())) + "\n";
    }

    /** Cross-tabulations, with fixed columns and without, with rests, zeros and totals. */
    @Test
    void crossTabulationsEqual() throws IOException {
        Path file = folder.resolve("sales.csv");
        for (long seed = FIRST; seed < FIRST + QUESTIONS / 8; seed++) {
            RandomQuestions questions = new RandomQuestions(seed + 7_000_000);
            List<Map<String, Object>> table = questions.table();
            String before = questions.fewClauses();
            String per = questions.against();
            Repeats.write(file, EngineAgainstOracleTest.csv(table));
            String question = "seed " + seed + ":\n" + before + per;
            List<Map<String, Object>> records = Naive.run(table, clauses(before));
            Clause.Per clause = (Clause.Per) clauses(per).get(0);
            boolean totals = per.contains("totals");
            NaiveCross expected = new NaiveCross(clause, records);
            long memory = seed % 4 != 1 ? 1 << 30 : 1 + seed % 5 * 700;
            FiestaBuilder settings =
                    Fiesta.with().threads(THREADS[(int) (seed / 3 % 3)]).memory(memory);
            try (SmallCrew crew = SmallCrew.of(settings, seed)) {
                Fiesta fiesta = crew.fiesta();
                Result result = TinyPieces.read(fiesta, file, 16 + (int) (seed % 7) * 40)
                        .then(before + per)
                        .run();
                List<Map<String, Object>> rows = expected.rows(totals);
                EngineAgainstOracleTest.compare(question, rows, result);
                if (totals) {
                    compareTotals(question, List.of(new Naive.Total(rows.size(), expected.total())), result.totals());
                }
            }
        }
    }

    private static Naive.Answer naive(List<Map<String, Object>> table, String clauses) {
        List<Map<String, Object>> prices =
                Naive.run(table, clauses("per item give p = max(amount), q = count(), since = min(day)"));
        List<Map<String, Object>> sites = Naive.run(table, clauses("per site give p = sum(quantity)"));
        List<Map<String, Object>> courses = Naive.run(table, clauses("per item, since = day give p = max(amount)"));
        Map<String, List<Map<String, Object>>> others = Map.of("prices", prices, "sites", sites, "courses", courses);
        return Naive.answer(table, clauses(clauses), others::get);
    }

    private static List<Clause> clauses(String text) {
        return Parser.clauses(new BriefText("question", text));
    }

    private static void compareTotals(String question, List<Naive.Total> expected, List<TotalRow> found) {
        assertThat(found.stream().map(TotalRow::after))
                .as(question)
                .isEqualTo(expected.stream().map(Naive.Total::after).toList());
        for (int i = 0; i < expected.size(); i++) {
            Map<String, Object> wanted = expected.get(i).values();
            assertThat(found.get(i).values().keySet()).as(question).isEqualTo(wanted.keySet());
            for (String field : wanted.keySet()) {
                Object value = found.get(i).values().get(field);
                assertThat(EngineAgainstOracleTest.normal(value))
                        .as("%s total %s, field %s", question, i, field)
                        .isEqualTo(EngineAgainstOracleTest.normal(
                                EngineAgainstOracleTest.meeting(wanted.get(field), value)));
            }
        }
    }
}
