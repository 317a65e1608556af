package dev.fiesta.store;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import dev.fiesta.Asking;
import dev.fiesta.Fiesta;
import dev.fiesta.Repeats;
import dev.fiesta.Result;
import dev.fiesta.Table;
import dev.fiesta.problem.CheckException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.SplittableRandom;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** What does not fit into memory goes to a file and comes out the same, to the last bit and in the same order. */
class SpillTest {
    private static final int ROWS = 1200;

    @TempDir
    static Path folder;

    private static Path sales;

    @BeforeAll
    static void data() throws IOException {
        SplittableRandom random = new SplittableRandom(5);
        StringBuilder text = new StringBuilder("id,site,item,day,amount,score,paid\n");
        for (int i = 0; i < ROWS; i++) {
            text.append(i).append(',');
            text.append(random.nextInt(20) == 0 ? "" : "site " + random.nextInt(4))
                    .append(',');
            text.append("item ")
                    .append(random.nextInt(700))
                    .append(",2026-0")
                    .append(5 + random.nextInt(3))
                    .append('-');
            text.append(10 + random.nextInt(18)).append(',');
            text.append(random.nextInt(15) == 0 ? "" : random.nextInt(-50, 900) + "." + random.nextInt(10))
                    .append(',');
            text.append(random.nextInt(9) == 0 ? "" : random.nextDouble() * 1e6 + "e0")
                    .append(',');
            text.append(random.nextBoolean()).append('\n');
        }
        sales = folder.resolve("sales.csv");
        Files.writeString(sales, text);
    }

    private static Result run(String clauses, long memory, int threads) {
        try (Fiesta fiesta = Fiesta.with().memory(memory).threads(threads).open()) {
            return fiesta.read(sales).then(clauses).run();
        }
    }

    static Stream<String> questions() {
        String figures = "n = count(), s = sum(amount), m = mean(score), md = median(amount), sd = stddev(score), "
                + "lo = min(item), hi = max(day), r = range(amount), f = first(item), l = last(paid), mo = mode(item), "
                + "d = count_distinct(item), li = list(id), at = at_max(item, amount), c = correlation(amount, score), "
                + "w = weighted_mean(score, amount), q = quantile(score, 0.9), y = any(paid), z = all(paid), "
                + "t = trimmed_mean(score, 0.1), md2 = mean_abs_deviation(amount), g = geometric_mean(score)";
        return Stream.of(
                "per item give " + figures,
                "per site, item, day give " + figures,
                "per day, paid give n = count_if(paid), s = sum(amount only paid) only n > 3 sort s desc",
                "per site, item give s = sum(amount), share = share(amount within site) totals by site",
                "per item give s = sum(amount) first 5 along s desc rest as 'Others'",
                "per all give d = count_distinct(item), e = count_distinct(id), f = count_distinct(score), n = count()",
                "per site give d = count_distinct(item), e = count_distinct(id only paid), f = count_distinct(day), g = count_distinct(paid)",
                "sort item, amount desc",
                "sort paid desc, score, site first 100",
                "sort length(item), month(day) desc add n = row_number(along id)",
                "distinct site, item",
                "distinct paid sort paid",
                "only amount > 100 add t = amount * 2, u = item || '!' drop score sort u, id desc",
                "add n = row_number(within site along amount), r = rank(within site along amount desc)",
                "add d = dense_rank(along day), r = rank(along day), n = row_number(along day)",
                "add p = percent_rank(along amount), c = cume_dist(along day), t = ntile(7 along score)",
                "add a = lag(amount along day), b = lead(item, 3 along day, id), c = lag(amount, 2, 0.5 along id)",
                "add a = lag(amount, 1 week along day), b = nth_value(item, 40 along id)",
                "add c = change(amount along day, id), rc = relative_change(amount within site along id)",
                "add m = mean(amount along day, id last 7), s = sum(score within site along id last 3 full)",
                "add m = median(amount along id last 5 at least 3), x = max(item along id next 4), f = first(site along id last 2)",
                "add s = sum(amount along day, id running), m = mean(score along id running), n = count(amount along id running)",
                "add s = stddev(score along id running), c = count_if(paid along id running), a = min(amount along id running)",
                "add w = sum(amount along day last 7 days), e = count(along id from here to end)",
                "add s = sum(amount within site), m = mean(score within all), sh = share(amount within day)",
                "add s = sum(amount only paid within site), r = rank(only amount > 50 within site along amount)",
                "add m = max(amount along id from 3 before to 2 after), k = count(along id from 3 before to 2 after full)",
                "turn amount, score into what, value sort value desc, id",
                "per site, day give s = sum(amount) gapless day every 1 day with 0",
                "per site against paid give s = sum(amount), n = count() totals",
                "first 3 within site along amount desc",
                "first 1237 add place = row_number(along amount)",
                "only paid first 701 sort amount, id",
                "first 20 along score",
                "first 2 within site, day along score desc",
                "first 1 within upper(item) along amount desc, id desc sort id",
                "distinct item sort item desc",
                "distinct site, day, paid columns id, item",
                "sample 10 percent within site",
                "sample 3 within day, paid",
                "shuffle seed 3 first 40",
                "add n = count(within item), m = median(amount within site), d = count_distinct(item only paid within all), "
                        + "sh = share(amount only score > 1000 within site), f = first(item within day), c = count(only paid within site)",
                "add b = correlation(amount, score within paid), w = weighted_mean(score, amount within day, site), l = last(id within all)",
                "add a = max(amount within id), b = list(item within item)",
                "per site give " + figures,
                "per all give " + figures,
                "per site, item, day give md = median(amount within site), s = share(amount within site, item), t = share(amount), "
                        + "d = count_distinct(id within all), m = mode(item within all) only md > 0",
                "per site, paid give md = median(amount within site), d = count_distinct(id within all), li = list(item), "
                        + "mo = mode(day within paid), t = trimmed_mean(score, 0.2) totals by site",
                "per paid against site give md = median(amount), d = count_distinct(item) totals",
                "add p = percent_rank(only paid within site along amount), c = cume_dist(only amount > 5 along day), "
                        + "t = ntile(3 only paid along id), d = dense_rank(only paid along score), r = rank(only paid along day)",
                "add a = sum(amount only paid along day last 7 days), b = lag(amount, 3 days only paid along day), "
                        + "c = lead(amount, 2 days, 0 within site along day), e = median(score along day next 3 days)",
                "add a = count(only paid along id running), b = sum(score only paid along id running), "
                        + "c = correlation(amount, score along id running), d = any(paid only amount > 5 along id running)",
                "add a = count_distinct(item along id running), m = mode(item within site along id running), "
                        + "r = range(amount along id from 3 before to 2 after)",
                "per item give li = list(id), md = median(score), d = count_distinct(day) totals",
                "add m = median(amount within item), o = mode(day within item), li = list(id within site)",
                "add a = sum(amount along day, id from here to end), b = count(only paid along day, id from here to end at least 3), "
                        + "c = max(item along id from 2 after to end), d = stddev(score within site along day from here to end)",
                "add a = mean(amount along day, id from start to 1 before), b = count(along id from start to 2 before), "
                        + "c = max(item within site along day from start to 3 before at least 5), d = sum(score along id from start to 700 before)",
                "add a = share(amount along id running), b = share(amount only paid within site along day from here to end), "
                        + "c = share(score along id from start to 2 before at least 4)",
                "add a = nth_value(item, 2 along amount), b = nth_value(amount, 1199 along id), "
                        + "c = nth_value(id, 3 only paid within site along day), d = nth_value(id, 5000 along id)",
                "add a = sum(amount along day last 7 days full), b = count(along day next 5 days full), "
                        + "c = mean(amount within site along day last 3 days full), d = max(id along day next 1 week at least 200)",
                "add a = sum(amount along id from start to end), b = first(item along amount from start to end), "
                        + "c = median(score within site along id from start to end), d = sum(amount along id running full)",
                "add a = first(item along amount from here to end), b = sum(score along id last 900), c = median(amount along id next 600 full), "
                        + "d = count(along id from start to start), e = sum(amount along id from end to end)",
                "add a = max(amount along id running), b = min(item only paid along day, id running), c = first(score along id running), "
                        + "d = last(site within paid along id running), e = at_max(item, amount along id running), "
                        + "f = at_min(day, score only paid along id running), g = range(amount within site along id running), "
                        + "h = max(paid along id running), i = geometric_mean(score along id running)",
                "per site, item give s = sum(amount), md = median(amount), li = list(id) sort s desc totals by site",
                "per day, site, item give n = count(), s = sum(amount), p = share(amount within day) only s > 300 totals by day, site",
                "per day, site, item give n = count(), s = sum(amount), m = mean(score within site) only n > 1 sort n desc "
                        + "add half = s / 2 totals by day, site",
                "per site, day give s = sum(amount) gapless day every 1 day within site with 0 totals by site",
                "per item, day give d = count_distinct(amount), m = mode(amount), md = median(amount) first 5 along d, m, item, day totals",
                "per item, site give d = count_distinct(day), e = count_distinct(id), m = mode(day) only e > 20 totals by item",
                "per site, day give n = count() sort n desc gapless day every 3 days within site from 2026-04-28 to 2026-08-02",
                "per item, site give s = sum(amount), md = median(amount) "
                        + "first 2 within item along s desc rest as 'Others' totals by item",
                "per day, item give s = sum(amount), p = share(amount within day) first 3 within day along s desc rest as 'Others' "
                        + "add r = rank(within day along s desc) totals by day",
                "per item, day give s = sum(amount), d = count_distinct(id) first 40 along s desc, day rest as 'Others' totals",
                "per site, item give n = count(), s = sum(amount) hide s where n < 5 totals by site",
                "per site, item give n = count(), s = sum(amount) totals by site sort s desc",
                "per site, day give f = first(item along amount desc), l = last(item along score, day), "
                        + "li = list(id along amount), at = at_max(item, day along score desc) totals by site",
                "per item give a = first(day along amount), b = list(id along site desc, amount), c = last(amount only paid along score)",
                "add a = first(item within site along amount), b = last(id within day along score desc), "
                        + "c = list(id within item along amount), r = rank(within site along amount)",
                "add d = count_distinct(item within site along id running), e = count_distinct(day only paid along id running)",
                "per item, day against paid give s = sum(amount), md = median(amount) totals",
                "turn amount, score into what, value per what, item give m = median(value), n = count() totals by what",
                "add a = sum(amount / (amount - amount) within id), b = max(sqrt(amount) within item)",
                "add a = sum(amount / (amount - amount) within id), b = rank(within id along sqrt(amount)), "
                        + "c = first(amount / (amount - amount) within site along sqrt(amount))",
                "per item give a = first(amount / (amount - amount) along sqrt(amount)), b = last(item along 1 / (amount - amount))",
                "per item, site give s = sum(sqrt(amount)) first 2 within item along sqrt(s - 500) rest as 'Others'",
                "per item give s = sum(amount) add t = sqrt(s) sort sqrt(t - 5) desc",
                "per id, site give s = sum(amount), p = share(amount within id), m = mean(score within id), "
                        + "c = correlation(amount, score within id), q = share(amount within site) only s > 5",
                "per item, day give p = share(amount within item), n = count(within item), f = first(day within item) sort p",
                "sample 50 percent within item, site",
                "sample 1 within upper(item), day",
                "add r = rank(within site along amount desc, day) only r <= 2",
                "sample 50 sort item",
                "shuffle first 30",
                "check coalesce(amount, 0) < 10000 check unique id check rows >= 1200 first 3");
    }

    @ParameterizedTest(name = "{0}")
    @MethodSource("questions")
    void resultsAreTheSame(String clauses) {
        Result plenty = run(clauses, 1L << 30, 2);
        List<String> expected = Asking.lines(plenty);
        assertThat(expected).hasSizeGreaterThan(1);
        for (long memory : Repeats.of(new long[] {1, 60_000}, clauses.length())) {
            int threads = memory == 1 ? 1 : 3;
            Result scarce = run(clauses, memory, threads);
            assertThat(Asking.lines(scarce))
                    .as("memory %s, threads %s", memory, threads)
                    .isEqualTo(expected);
            assertThat(scarce.totals()).isEqualTo(plenty.totals());
            assertThat(hidden(scarce)).isEqualTo(hidden(plenty));
            assertThat(scarce.notices().list()).isEqualTo(plenty.notices().list());
        }
    }

    private static List<String> hidden(Result result) {
        return result.schema().names().stream()
                .flatMap(field -> IntStream.range(0, result.rows())
                        .filter(row -> result.isHidden(field, row))
                        .mapToObj(row -> field + " " + row))
                .toList();
    }

    @Test
    void tablesOverTablesAreTheSame() {
        for (long memory : new long[] {1, 40_000, 1 << 30}) {
            try (Fiesta fiesta = Fiesta.with().memory(memory).threads(2).open()) {
                Table records = fiesta.read(sales);
                Table sites = records.per("site").give("s = sum(amount)");
                Table matched = records.match(sites, "on site bring s matched only")
                        .add("part = amount / s")
                        .sort("part desc", "id");
                assertThat(matched.run().rows()).isBetween(ROWS * 9 / 10, ROWS - 10);
                assertThat(matched.first(1).run().longs("id")).hasSize(1);
                Table twice = records.append(records).sort("id");
                assertThat(twice.run().longs("id")).hasSize(2 * ROWS).isSorted();
                Result below =
                        records.append(sites).append(records.drop("score")).run();
                assertThat(below.rows()).isEqualTo(2 * ROWS + 5);
                assertThat(below.row(ROWS).get("id")).isNull();
                assertThat(below.row(ROWS + 4).get("s")).isNotNull();
                assertThat(below.row(ROWS + 5).get("id")).isEqualTo(0L);
                assertThat(below.row(ROWS + 6).get("score")).isNull();
                Table each = sites.matchEach(records, "on site bring id matched only")
                        .sort("id");
                assertThat(each.run().longs("id")).isSorted().hasSizeBetween(ROWS * 9 / 10, ROWS - 10);
            }
        }
    }

    /** Whole blocks of the file have no row that stays. */
    @Test
    void aTableWithFewRowsLeavesFew() {
        for (long memory : new long[] {1, 40_000, 1 << 30}) {
            try (Fiesta fiesta = Fiesta.with().memory(memory).threads(2).open()) {
                Table records = fiesta.read(sales);
                Table sorted = records.sort("amount desc", "id");
                Table few = records.only("id in (7, 900, 1199)").per("id").give("n = count()");
                Result kept = sorted.match(few, "on id bring n matched only").run();
                assertThat(kept.longs("id")).as("memory %s", memory).containsExactlyInAnyOrder(7, 900, 1199);
                assertThat(kept.longs("n")).containsExactly(1, 1, 1);
                Table none = records.only("id < 0").per("id").give("n = count()");
                assertThat(sorted.match(none, "on id bring n matched only")
                                .run()
                                .rows())
                        .isZero();
                assertThat(sorted.match(few, "on id bring n")
                                .only("n = 1")
                                .run()
                                .longs("id"))
                        .containsExactly(kept.longs("id"));
            }
        }
    }

    @Test
    void checksHoldOverFiles() {
        for (String check :
                List.of("check amount < 500", "check unique site", "check unique item, day", "check rows < 5")) {
            String plenty = message(check, 1L << 30);
            for (long memory : new long[] {1, 40_000}) {
                assertThat(message(check, memory)).isEqualTo(plenty);
            }
        }
    }

    private static String message(String check, long memory) {
        CheckException failure = catchThrowableOfType(CheckException.class, () -> run(check, memory, 2));
        assertThat(failure).as(check).hasMessageContaining(check);
        return failure.getMessage();
    }

    @Test
    void filesAreReadBackFromTheResult() {
        Result result = run("sort id desc", 1, 2);
        assertThat(result.longs("id")[0]).isEqualTo(ROWS - 1);
        assertThat(result.row(ROWS - 1).get("id")).isEqualTo(0L);
        assertThat(result.stream().count()).isEqualTo(ROWS);
    }
}
