package dev.fiesta.oracle;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Fiesta;
import dev.fiesta.Repeats;
import dev.fiesta.Result;
import dev.fiesta.gather.GatherFunctions;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.Parser;
import dev.fiesta.source.TinyPieces;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/**
 * Each gathering function over each sort of frame, and each walk along each sort of order: what moves with the row, in memory or piece by
 * piece, is what is gathered anew.
 */
class EveryFrameTest {
    private static final long[] MEMORIES = {1 << 28, 4_000, 1};
    /** How functions are called that take more, or something else, than one number. */
    private static final Map<String, String> CALLS = Map.of(
            "count_if", "quantity > 1",
            "any", "quantity > 1",
            "all", "quantity > 1",
            "at_max", "item, quantity",
            "at_min", "item, quantity",
            "weighted_mean", "amount, quantity",
            "correlation", "amount, score",
            "quantile", "amount, 0.25",
            "trimmed_mean", "amount, 0.2");

    @TempDir
    Path folder;

    private static String calls(String how) {
        List<String> fields = new ArrayList<>();
        for (var function : GatherFunctions.all()) {
            String args = CALLS.getOrDefault(function.name(), "amount");
            fields.add("x" + fields.size() + " = " + function.name() + "(" + args + " " + how + ")");
        }
        fields.add("n = count(" + how + ")");
        return fields.stream().collect(Collectors.joining(", ", "add ", "\n"));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "along day, amount, score running",
                "along day, amount, score running at least 3",
                "along day, amount, score running full",
                "within site along day desc, amount, score running",
                "along day, amount, score from here to end",
                "along day, amount, score from here to end at least 2",
                "within site along day, amount, score from 1 after to end",
                "along day, amount, score from start to 1 before",
                "within site along day, amount, score from start to 2 before at least 2",
                "along day, amount, score from start to 2 after",
                "along day, amount, score from 2 before to end",
                "along day, amount, score from start to end",
                "along day, amount, score from start to start",
                "along day, amount, score last 4",
                "along day, amount, score last 4 full",
                "within site along day, amount, score next 3 at least 2",
                "along day, amount, score from 3 before to 1 before",
                "along day, amount, score from 1 after to 3 after full",
                "along day last 9 days",
                "along day last 9 days full",
                "along day next 1 week",
                "within site along day next 5 days full",
                "only score > 0 along day, amount, score running",
                "only score > 0 within site along day, amount, score from here to end",
                "only score > 0 within site along day, amount, score from 1 after to end",
                "only score > 0 along day, amount, score from start to 2 before at least 2",
                "only score > 0 along day last 2 weeks at least 2",
            })
    void whatMovesIsWhatIsGatheredAnew(String how) throws IOException {
        compareToNaive(calls(how));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "along day",
                "along day desc",
                "along score",
                "along amount desc, day",
                "along item, site desc",
                "within site along day, amount, score",
                "within site, item along day",
                "within site along item desc, score",
                "only score > 0 along day",
                "only score > 0 within site along day desc, amount",
                "only quantity > 1 within item along score",
                "only amount > 100000000 along day",
            })
    void whatWalksIsWhatIsCountedByHand(String how) throws IOException {
        String calls = Stream.of(
                        "row_number(",
                        "nth_value(amount, 2 ",
                        "nth_value(item, 40 ",
                        "lag(amount ",
                        "lag(item, 3 ",
                        "lead(amount, 2, 0.00 ",
                        "lead(day, 0 ",
                        "lag(score, 60 ",
                        "change(quantity ",
                        "change(day ",
                        "relative_change(amount ",
                        "rank(",
                        "dense_rank(",
                        "percent_rank(",
                        "cume_dist(",
                        "ntile(3 ")
                .map(call -> call + how + ")")
                .collect(Collectors.joining(", "));
        compareToNaive(add(calls));
    }

    private static String add(String calls) {
        int[] fields = {0};
        return Arrays.stream(calls.split("(?<=\\)), "))
                .map(call -> "x" + fields[0]++ + " = " + call)
                .collect(Collectors.joining(", ", "add ", "\n"));
    }

    private void compareToNaive(String clauses) throws IOException {
        for (long seed = 1; seed <= Repeats.of(2, 10); seed++) {
            List<Map<String, Object>> table = new RandomQuestions(seed * 31).table();
            Path file = folder.resolve("sales.csv");
            Repeats.write(file, EngineAgainstOracleTest.csv(table));
            List<Map<String, Object>> expected = Naive.run(table, Parser.clauses(new BriefText("question", clauses)));
            for (long memory : MEMORIES) {
                try (Fiesta fiesta = Fiesta.with().threads(2).memory(memory).open()) {
                    Result result =
                            TinyPieces.read(fiesta, file, 64).then(clauses).run();
                    EngineAgainstOracleTest.compare(
                            "seed " + seed + ", memory " + memory + ":\n" + clauses, expected, result);
                }
            }
            assertThat(expected).as("seed " + seed).hasSameSizeAs(table);
        }
    }
}
