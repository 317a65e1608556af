package dev.fiesta.operate.join;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.Asking;
import dev.fiesta.Fiesta;
import dev.fiesta.Repeats;
import dev.fiesta.Result;
import dev.fiesta.Table;
import dev.fiesta.problem.DataException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.SplittableRandom;
import java.util.function.BiFunction;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;

/** Looking up a table that does not fit into memory gives the rows, notices and messages that looking up a small one does. */
class LargeLookUpTest {
    private static final long[] MEMORIES = {1, 60_000};

    @TempDir
    static Path folder;

    @BeforeAll
    static void data() throws IOException {
        SplittableRandom random = new SplittableRandom(7);
        StringBuilder sales = new StringBuilder("id,stall,fee,day\n");
        for (int i = 0; i < 1600; i++) {
            String stall = random.nextInt(30) == 0 ? "" : "stall " + random.nextInt(1500);
            sales.append(i).append(',').append(stall).append(',').append(random.nextInt(900));
            sales.append(",2026-0")
                    .append(5 + random.nextInt(4))
                    .append("-1")
                    .append(random.nextInt(10))
                    .append('\n');
        }
        StringBuilder stalls = new StringBuilder("stall,rent,kind,since\n");
        StringBuilder twice = new StringBuilder("stall,rent,kind,since\n");
        for (int i = 0; i < 1400; i++) {
            String line =
                    "stall " + i * 13 % 1400 + "," + i / 2 + ".50,kind " + i % 7 + ",2026-06-0" + (1 + i % 9) + "\n";
            stalls.append(line);
            twice.append(line).append(i % 40 == 3 ? line.replace("06-0", "07-0") : "");
        }
        Files.writeString(folder.resolve("sales.csv"), sales);
        Files.writeString(folder.resolve("stalls.csv"), stalls.append(",7.00,lost,2026-06-01\n"));
        Files.writeString(folder.resolve("twice.csv"), twice);
        StringBuilder often = new StringBuilder("stall,rent,kind,since\n");
        StringBuilder same = new StringBuilder("stall,rent,kind,since\n");
        for (int i = 0; i < 3000; i++) {
            String stall = i % 3 == 0 ? "stall " + i % 1400 : i % 7 == 1 ? "stall 3" : "stall 5";
            LocalDate since = LocalDate.of(2026, 8, 10).minusDays(i % 11 == 0 ? i % 60 : i);
            often.append(stall + "," + i + ",kind " + i % 7 + "," + (i % 50 == 9 ? "" : since) + "\n");
            same.append(stall + "," + i + ",kind " + i % 7 + "," + since.minusDays(i == 2800 ? 14 : 0) + "\n");
        }
        Files.writeString(folder.resolve("often.csv"), often);
        Files.writeString(folder.resolve("same.csv"), same);
    }

    @Test
    void wantedValuesComeOnceEach() {
        Result filled =
                run((s, f) -> s.per("stall").give("n = count()").gapless(stalls(f), "stall", "with 0"), 60_000, 2);
        Result sold = run((s, f) -> s.per("stall").give("n = count()"), 1L << 30, 1);
        Result known = run((s, f) -> stalls(f).distinct("stall"), 1L << 30, 1);
        Set<Object> all = new HashSet<>();
        sold.forEach(row -> all.add(row.get("stall")));
        known.forEach(row -> all.add(row.get("stall")));
        assertThat(filled.rows()).isEqualTo(all.size());
        List<Object> found = new ArrayList<>();
        filled.forEach(row -> found.add(row.get("stall")));
        assertThat(found).containsExactlyInAnyOrderElementsOf(all);
    }

    private static Result run(BiFunction<Table, Fiesta, Table> question, long memory, int threads) {
        try (Fiesta fiesta = Fiesta.with().memory(memory).threads(threads).open()) {
            return question.apply(fiesta.read(folder.resolve("sales.csv")), fiesta)
                    .run();
        }
    }

    private static Table stalls(Fiesta fiesta) {
        return fiesta.read(folder.resolve("stalls.csv"));
    }

    private static Table twice(Fiesta fiesta) {
        return fiesta.read(folder.resolve("twice.csv"));
    }

    private static Table often(Fiesta fiesta) {
        return fiesta.read(folder.resolve("often.csv"));
    }

    private static Arguments named(String name, BiFunction<Table, Fiesta, Table> question) {
        return Arguments.of(name, question);
    }

    static Stream<Arguments> questions() {
        return Stream.of(
                named("kept", (s, f) -> s.match(stalls(f), "on stall bring rent, kind")),
                named(
                        "matched only",
                        (s, f) -> s.match(stalls(f), "on stall bring kind matched only")
                                .per("kind")
                                .give("n = count()", "f = sum(fee)")),
                named("unmatched only", (s, f) -> s.match(stalls(f), "on stall unmatched only")),
                named("also unmatched", (s, f) -> s.match(stalls(f), "on stall bring rent also unmatched")),
                named(
                        "also unmatched, sorted rows",
                        (s, f) ->
                                s.sort("fee desc", "id").match(stalls(f), "on stall bring rent, since also unmatched")),
                named("each", (s, f) -> s.matchEach(twice(f), "on stall bring since matched only")),
                named("each, kept", (s, f) -> s.matchEach(twice(f), "on stall bring since, kind")),
                named("latest", (s, f) -> s.match(twice(f), "on stall, latest since <= day bring since, rent")),
                named(
                        "values of another table",
                        (s, f) -> s.per("stall")
                                .give("n = count()", "f = max(fee)")
                                .gapless(stalls(f), "stall", "with 0")),
                named(
                        "values of another table within a key",
                        (s, f) -> s.per("day", "stall")
                                .give("n = count()")
                                .sort("n")
                                .gapless(often(f), "stall", "within day with 0")
                                .per("day")
                                .give("stalls = count()", "n = sum(n)", "last = max(stall)")),
                named(
                        "numbers of another table",
                        (s, f) -> s.per("fee").give("n = count()").gapless(s.add("fee = fee + 450"), "fee", "")),
                named("one key often, each", (s, f) -> s.matchEach(often(f), "on stall bring rent")),
                named(
                        "one key often, each also unmatched",
                        (s, f) -> s.sort("fee").first(900).matchEach(often(f), "on stall bring rent also unmatched")),
                named("one key often, matched only", (s, f) -> s.match(often(f), "on stall matched only")),
                named("one key often, unmatched only", (s, f) -> s.match(often(f), "on stall unmatched only")),
                named(
                        "one key often, latest",
                        (s, f) -> s.match(
                                often(f).per("stall", "since").give("rent = max(rent)"),
                                "on stall, latest since <= day bring since, rent")),
                named(
                        "one key often, latest also unmatched",
                        (s, f) -> s.match(
                                often(f).per("stall", "since").give("rent = max(rent)"),
                                "on stall, latest since <= day bring rent also unmatched")),
                named(
                        "numbers of two types",
                        (s, f) -> s.match(stalls(f).per("rent").give("last = max(stall)"), "on fee = rent bring last")),
                named(
                        "itself",
                        (s, f) -> s.match(s.per("stall").give("all_fees = sum(fee)"), "on stall bring all_fees")
                                .add("part = fee / all_fees")),
                named(
                        "two, one behind the other",
                        (s, f) -> s.match(stalls(f), "on stall bring kind")
                                .match(stalls(f).per("kind").give("rent = max(rent)"), "on kind bring rent")
                                .add("n = row_number(within kind along fee, id)")));
    }

    @ParameterizedTest(name = "{0}")
    @MethodSource("questions")
    void rowsAndNoticesAreTheSame(String name, BiFunction<Table, Fiesta, Table> question) {
        Result plenty = run(question, 1L << 30, 2);
        List<String> expected = Asking.lines(plenty);
        assertThat(expected).hasSizeGreaterThan(5);
        for (long memory : Repeats.of(MEMORIES, name.length())) {
            Result scarce = run(question, memory, memory == 1 ? 1 : 2);
            assertThat(Asking.lines(scarce)).as("memory %s", memory).isEqualTo(expected);
            assertThat(scarce.notices().list()).isEqualTo(plenty.notices().list());
        }
    }

    private static void failsAlike(BiFunction<Table, Fiesta, Table> question, String message) {
        for (long memory : new long[] {1L << 30, 1, 60_000}) {
            assertThatThrownBy(() -> run(question, memory, 2))
                    .as("memory %s", memory)
                    .isInstanceOf(DataException.class)
                    .hasMessageStartingWith(message);
        }
    }

    @Test
    void theSameRowsAreRefusedWithTheSameWords() {
        BiFunction<Table, Fiesta, Table> required = (s, f) -> s.match(stalls(f), "on stall bring kind required");
        String first = catchMessage(required);
        assertThat(first).contains("has no match in").contains(" rows have none");
        failsAlike(required, first);
        BiFunction<Table, Fiesta, Table> repeated = (s, f) -> s.match(twice(f), "on stall bring kind");
        String second = catchMessage(repeated);
        assertThat(second).contains("stands twice in");
        failsAlike(repeated, second);
        BiFunction<Table, Fiesta, Table> unused =
                (s, f) -> s.only("stall is missing").match(twice(f), "on stall bring kind");
        assertThat(Asking.lines(run(unused, 1, 2)))
                .hasSizeGreaterThan(5)
                .isEqualTo(Asking.lines(run(unused, 1L << 30, 2)));
        for (String stall : List.of("stall 3", "stall 5")) {
            BiFunction<Table, Fiesta, Table> often =
                    (s, f) -> s.only("stall = '" + stall + "'").match(often(f), "on stall bring kind");
            failsAlike(often, catchMessage(often));
        }
        BiFunction<Table, Fiesta, Table> sameDate =
                (s, f) -> s.match(f.read(folder.resolve("same.csv")), "on stall, latest since <= day bring rent");
        String fourth = catchMessage(sameDate);
        assertThat(fourth).contains("with the same date");
        failsAlike(sameDate, fourth);
    }

    private static String catchMessage(BiFunction<Table, Fiesta, Table> question) {
        try {
            run(question, 1L << 30, 1);
        } catch (DataException e) {
            return e.getMessage();
        }
        throw new AssertionError("nothing was refused");
    }
}
