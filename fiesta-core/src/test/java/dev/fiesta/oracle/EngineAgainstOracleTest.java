package dev.fiesta.oracle;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.fail;

import dev.fiesta.Fiesta;
import dev.fiesta.FiestaBuilder;
import dev.fiesta.Repeats;
import dev.fiesta.Result;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.Parser;
import dev.fiesta.source.TinyPieces;
import dev.fiesta.value.Texts;
import java.io.IOException;
import java.math.BigDecimal;
import java.nio.file.Path;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Random questions to random tables: the engine gives what the naive interpreter gives, to the last bit. */
class EngineAgainstOracleTest {
    private static final int QUESTIONS = Integer.getInteger("fiesta.questions", 500);
    private static final int FIRST = Integer.getInteger("fiesta.first", 0);
    private static final int[] THREADS = {1, 2, 8};
    private static final List<String> FIELDS = List.of("site", "item", "day", "quantity", "amount", "score");

    @TempDir
    Path folder;

    @Test
    void answersEqual() throws IOException {
        Path file = folder.resolve("sales.csv");
        int answered = 0;
        for (long seed = FIRST; seed < FIRST + QUESTIONS; seed++) {
            RandomQuestions questions = new RandomQuestions(seed);
            List<Map<String, Object>> table = questions.table();
            String clauses = questions.clauses();
            Repeats.write(file, csv(table));
            List<Map<String, Object>> expected = Naive.run(table, Parser.clauses(new BriefText("question", clauses)));
            long memory = seed % 4 != 1 ? 1 << 30 : 1 + seed % 5 * 700; // what does not fit goes to a file
            FiestaBuilder settings =
                    Fiesta.with().threads(THREADS[(int) (seed / 3 % 3)]).memory(memory);
            try (SmallCrew crew = SmallCrew.of(settings, seed)) {
                Fiesta fiesta = crew.fiesta();
                Result result = TinyPieces.read(fiesta, file, 16 + (int) (seed % 7) * 40)
                        .then(clauses)
                        .run();
                compare("seed " + seed + ":\n" + clauses, expected, result);
            } catch (RuntimeException e) {
                fail("seed " + seed + ":\n" + clauses + e.getMessage(), e);
            }
            answered += expected.isEmpty() ? 0 : 1;
        }
        assertThat(answered).as("questions with rows in the answer").isGreaterThan(QUESTIONS / 2);
    }

    static String csv(List<Map<String, Object>> table) {
        StringBuilder text = new StringBuilder(String.join(",", FIELDS)).append('\n');
        for (Map<String, Object> row : table) {
            for (String field : FIELDS) {
                Object value = row.get(field);
                text.append(field.equals("site") ? "" : ",");
                if (value instanceof String cell) {
                    text.append('"').append(cell.replace("\"", "\"\"")).append('"');
                } else if (value != null) {
                    text.append(Texts.of(value));
                }
            }
            text.append('\n');
        }
        return text.toString();
    }

    static void compare(String question, List<Map<String, Object>> expected, Result result) {
        assertThat(result.rows()).as(question).isEqualTo(expected.size());
        for (int row = 0; row < expected.size(); row++) {
            Map<String, Object> wanted = expected.get(row);
            assertThat(new LinkedHashSet<>(result.schema().names()))
                    .as(question)
                    .isEqualTo(wanted.keySet());
            for (String field : wanted.keySet()) {
                Object found = result.row(row).get(field);
                assertThat(normal(found))
                        .as("%s row %s, field %s", question, row, field)
                        .isEqualTo(normal(meeting(wanted.get(field), found)));
            }
        }
    }

    /** Where exact values and numbers meet in one column, the exact ones have become the nearest numbers. */
    static Object meeting(Object wanted, Object found) {
        return wanted instanceof BigDecimal exact && found instanceof Double ? (Object) exact.doubleValue() : wanted;
    }

    /** Exact values without trailing zeros, so that only their worth is compared. */
    static Object normal(Object value) {
        Object exact = value instanceof Long n ? BigDecimal.valueOf(n) : value;
        return exact instanceof BigDecimal d ? d.stripTrailingZeros() : exact;
    }
}
