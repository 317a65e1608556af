package dev.fiesta.engine;

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
import java.util.List;
import java.util.SplittableRandom;
import java.util.function.UnaryOperator;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;

/** Steps over so many rows in memory that several threads share them: the same rows, figures, notices and messages. */
class KeptRowsTest {
    private static final int ROWS = 150_000;

    @TempDir
    static Path folder;

    @BeforeAll
    static void data() throws IOException {
        SplittableRandom random = new SplittableRandom(9);
        StringBuilder sales = new StringBuilder("id,site,stall,amount,paid\n");
        for (int i = 0; i < ROWS; i++) {
            sales.append(i)
                    .append(random.nextInt(40) == 0 ? "," : ",site " + random.nextInt(6))
                    .append(",")
                    .append(random.nextInt(30_000))
                    .append(random.nextInt(25) == 0 ? "," : "," + random.nextInt(-500, 9000) + ".5")
                    .append(random.nextBoolean() ? ",true\n" : ",false\n");
        }
        StringBuilder stalls = new StringBuilder("number,kind,rent\n");
        for (int i = 0; i < 29_000; i++) {
            stalls.append(i * 7 % 29_000)
                    .append(",kind ")
                    .append(i % 11)
                    .append(',')
                    .append(i % 900)
                    .append('\n');
        }
        Files.writeString(folder.resolve("sales.csv"), sales);
        Files.writeString(folder.resolve("stalls.csv"), stalls);
    }

    private static Arguments named(String name, UnaryOperator<Table> question) {
        return Arguments.of(name, question);
    }

    static Stream<Arguments> questions() {
        return Stream.of(
                named(
                        "groups",
                        t -> t.then(
                                "sort amount desc, id per site, m = stall % 7 give n = count(), "
                                        + "s = sum(amount), mean = mean(amount), sd = stddev(amount), f = first(id), l = last(id only paid), "
                                        + "at = at_max(id, amount), d = count_distinct(stall), q = median(amount), top = first(id along amount desc, id)")),
                named(
                        "many groups",
                        t -> t.then("sort id desc per stall give s = sum(amount), f = first(id) sort s, stall")),
                named(
                        "groups of groups",
                        t -> t.then("sort id per stall give s = sum(amount) per b = band(s, 1000) give n = count()")),
                named("distinct", t -> t.then("sort amount, id distinct stall, paid")),
                named("distinct, few", t -> t.then("sort amount, id distinct site")),
                named(
                        "walks",
                        t -> t.then(
                                "add r = rank(within site along amount desc), s = sum(amount within paid along id running), "
                                        + "m = mean(amount within site, paid along amount, id last 7) only id % 97 = 0")));
    }

    private static Result run(UnaryOperator<Table> question, int threads) {
        try (Fiesta fiesta = Fiesta.with().threads(threads).open()) {
            return question.apply(fiesta.read(folder.resolve("sales.csv"))).run();
        }
    }

    @ParameterizedTest(name = "{0}")
    @MethodSource("questions")
    void threadsMakeNoDifference(String name, UnaryOperator<Table> question) {
        Result one = run(question, 1);
        List<String> expected = Asking.lines(one);
        assertThat(expected).hasSizeGreaterThan(5);
        for (int threads = Repeats.of(3, 2); threads <= 3; threads++) {
            Result several = run(question, threads);
            assertThat(Asking.lines(several)).isEqualTo(expected);
            assertThat(several.notices().list()).isEqualTo(one.notices().list());
        }
    }

    private static Result matched(String how, int threads) {
        try (Fiesta fiesta = Fiesta.with().threads(threads).open()) {
            Table stalls = fiesta.read(folder.resolve("stalls.csv"));
            return fiesta.read(folder.resolve("sales.csv"))
                    .sort("amount", "id")
                    .match(stalls, how)
                    .run();
        }
    }

    @Test
    void lookUpsAreSharedToo() {
        for (String how : List.of(
                "on stall = number bring kind, rent",
                "on stall = number bring kind matched only",
                "on stall = number unmatched only",
                "on stall = number bring rent also unmatched")) {
            Result one = matched(how, 1);
            Result three = matched(how, 3);
            assertThat(Asking.lines(three)).as(how).isEqualTo(Asking.lines(one));
            assertThat(three.notices().list()).isEqualTo(one.notices().list());
        }
        for (int threads = 1; threads <= 3; threads++) {
            int several = threads;
            assertThatThrownBy(() -> matched("on stall = number bring kind required", several))
                    .isInstanceOf(DataException.class)
                    .hasMessageContaining("has no match in 'records'")
                    .hasMessageContaining(" rows have none");
        }
    }
}
