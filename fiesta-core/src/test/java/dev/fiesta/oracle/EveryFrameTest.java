package dev.fiesta.oracle;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Fiesta;
import dev.fiesta.FiestaBuilder;
import dev.fiesta.Repeats;
import dev.fiesta.Result;
import dev.fiesta.gather.GatherFunctions;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.Parser;
import dev.fiesta.member.LocalCrew;
import dev.fiesta.source.TinyPieces;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
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

    /** Calls that walk, up to how they do. */
    private static final List<String> WALKS = List.of(
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
            "ntile(3 ");

    @TempDir
    Path folder;

    private static List<String> gathering(String how) {
        List<String> calls = new ArrayList<>();
        for (var function : GatherFunctions.all()) {
            String args = CALLS.getOrDefault(function.name(), "amount");
            calls.add(function.name() + "(" + args + " " + how + ")");
        }
        calls.add("count(" + how + ")");
        return calls;
    }

    private static List<String> walking(String how) {
        return WALKS.stream().map(call -> call + how + ")").toList();
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
        compareToNaive(add(gathering(how)));
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
        compareToNaive(add(walking(how)));
    }

    private static String add(List<String> calls) {
        return IntStream.range(0, calls.size())
                .mapToObj(i -> "x" + i + " = " + calls.get(i))
                .collect(Collectors.joining(", ", "add ", "\n"));
    }

    /** Over all rows, of which members work on a range each, knowing little of the others. */
    @ParameterizedTest
    @ValueSource(
            strings = {
                "within all",
                "only score > 0 within all",
                "along day, amount, score running",
                "along day desc, amount, score running",
                "along day, amount, score from here to end",
                "only score > 0 along score, day from here to end",
                "along day, amount, score last 4",
                "along amount desc, day, score next 60",
                "along day, amount, score from 90 before to 100 after",
                "along item, day, amount, score from 1 after to 3 after full",
                "along item, day last 40",
                "along day desc, item last 5 at least 2",
                "only score > 0 along day, amount, score from 3 before to 1 before at least 2",
                "along day, amount, score from start to 2 before",
                "along score, site from start to end",
                "along day last 9 days",
                "along day",
                "along score desc",
                "only score > 0 along day, amount",
                "only amount > 100000000 along item desc",
            })
    void whatRangesComeToIsWhatAllRowsComeTo(String how) throws IOException {
        boolean walks = !how.endsWith("all") && !how.matches(".* (running|end|after|before|last|next|full).*");
        List<Map<String, Object>> table = new RandomQuestions(77).table();
        Path file = folder.resolve("sales.csv");
        Repeats.write(file, EngineAgainstOracleTest.csv(table));
        FiestaBuilder settings = Fiesta.with().threads(2);
        try (LocalCrew crew = new LocalCrew(settings.member(), 3, 150, 0, 3);
                Fiesta fiesta = settings.crew(crew).open()) {
            for (String call : walks ? walking(how) : gathering(how)) {
                String clauses = "add x = " + call + "\n";
                Result result = TinyPieces.read(fiesta, file, 64).then(clauses).run();
                EngineAgainstOracleTest.compare(
                        clauses, Naive.run(table, Parser.clauses(new BriefText("question", clauses))), result);
            }
        }
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
