package dev.fiesta.walk;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Asking;
import dev.fiesta.Table;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Ranks, look-backs and moving figures on a table small enough to work out by hand. */
class WalksTest {
    private final Table weekly = Asking.table("""
            site,week,takings,sales
            Quay,2026-05-04,10.00,4
            Quay,2026-05-11,20.00,2
            Quay,2026-05-18,,3
            Quay,2026-06-01,20.00,2
            Quay,2026-06-08,50.00,9
            Meadow,2026-05-04,7.00,1
            Meadow,2026-05-11,7.00,5
            """);

    private List<String> add(String expression) {
        return Asking.values(weekly.then("add x = " + expression), "x");
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource(
            delimiter = '|',
            value = {
                "rank(within site along takings desc) | 4 2 5 2 1 1 1",
                "dense_rank(within site along takings desc) | 3 2 4 2 1 1 1",
                "row_number(within site along takings desc) | 4 2 5 3 1 1 2",
                "row_number(within site along takings desc, sales desc) | 4 2 5 3 1 2 1",
                "percent_rank(within site along takings) | 0 0.3333333333333333 – 0.3333333333333333 1 0 0",
                "cume_dist(within site along takings) | 0.25 0.75 – 0.75 1 1 1",
                "ntile(2 within site along week) | 1 1 1 2 2 1 2",
                "rank(along sales) | 5 2 4 2 7 1 6",
                "rank(only sales > 1 within site along sales) | 4 1 3 1 5 – 1",
                "lag(takings within site along week) | – 10.00 20.00 – 20.00 – 7.00",
                "lead(takings within site along week) | 20.00 – 20.00 50.00 – 7.00 –",
                "lag(takings, 2 within site along week) | – – 10.00 20.00 – – –",
                "lag(takings, 1, 0 within site along week) | 0.00 10.00 20.00 – 20.00 0.00 7.00",
                "lag(takings, 1 week within site along week) | – 10.00 20.00 – 20.00 – 7.00",
                "lag(takings, 4 weeks within site along week) | – – – 10.00 20.00 – –",
                "lead(takings, 2 weeks within site along week) | – – 20.00 – – – –",
                "nth_value(takings, 2 within site along week) | 20.00 20.00 20.00 20.00 20.00 7.00 7.00",
                "change(takings within site along week) | – 10.00 – – 30.00 – 0.00",
                "change(week within site along week) | – 7 7 14 7 – 7",
                "relative_change(takings within site along week) | – 1 – – 1.5 – 0",
                "sum(takings within site along week running) | 10.00 30.00 30.00 50.00 100.00 7.00 14.00",
                "sum(takings within site along week desc running) | 100.00 90.00 70.00 70.00 50.00 14.00 7.00",
                "count(within site along week last 2) | 1 2 2 2 2 1 2",
                "count(takings within site along week last 2) | 1 2 1 1 2 1 2",
                "mean(takings within site along week last 2) | 10 15 20 20 35 7 7",
                "mean(takings within site along week last 2 full) | – 15 20 20 35 – 7",
                "mean(takings within site along week last 3 at least 2) | – 15 15 20 35 – 7",
                "sum(takings within site along week last 14 days) | 10.00 30.00 20.00 20.00 70.00 7.00 14.00",
                "sum(takings within site along week last 1 month) | 10.00 30.00 30.00 50.00 90.00 7.00 14.00",
                "sum(takings within site along week last 2 weeks full) | – – 20.00 20.00 70.00 – –",
                "sum(takings within site along week next 14 days) | 30.00 20.00 – 70.00 50.00 14.00 7.00",
                "max(takings within site along week from 1 before to 1 after) | 20.00 20.00 20.00 50.00 50.00 7.00 7.00",
                "min(takings within site along week from 1 before to 1 after) | 10.00 10.00 20.00 20.00 20.00 7.00 7.00",
                "min(takings within site along week from 2 before to 1 before) | – 10.00 10.00 20.00 20.00 – 7.00",
                "sum(takings within site along week from here to end) | 100.00 90.00 70.00 70.00 50.00 14.00 7.00",
                "sum(takings within site along week from start to end) | 100.00 100.00 100.00 100.00 100.00 14.00 14.00",
                "median(takings within site along week last 3) | 10 15 15 20 35 7 7",
                "quantile(takings, 0.25 within site along week last 3) | 10 12.5 12.5 20 27.5 7 7",
                "stddev(takings within site along week last 2) | – 7.0710678118654755 – – 21.213203435596427 – 0",
                "variance_pop(takings within site along week running) | 0 25 25 22.22222222222222 225 0 0",
                "first(takings within site along week last 2) | 10.00 10.00 20.00 20.00 20.00 7.00 7.00",
                "last(takings within site along week running) | 10.00 20.00 20.00 20.00 50.00 7.00 7.00",
                "first(takings within site along sales desc) | 50.00 50.00 50.00 50.00 50.00 7.00 7.00",
                "last(week within site along takings) | 2026-05-18 2026-05-18 2026-05-18 2026-05-18 2026-05-18 2026-05-11 2026-05-11",
                "count_distinct(takings within site along week last 4) | 1 2 2 2 2 1 1",
                "mode(takings within site along week running) | 10.00 10.00 10.00 20.00 20.00 7.00 7.00",
                "sum(takings only sales > 2 within site along week running) | 10.00 10.00 10.00 10.00 60.00 – 7.00",
                "count(only sales > 2 within site along week running) | 1 1 2 2 3 0 1",
                "mean(takings within site) | 25 25 25 25 25 7 7",
                "share(takings within site) | 0.1 0.2 – 0.2 0.5 0.5 0.5",
                "count(within all) | 7 7 7 7 7 7 7",
                "sum(takings only site = 'Quay' within all) | 100.00 100.00 100.00 100.00 100.00 100.00 100.00",
                "max(takings within site, month(week)) | 20.00 20.00 20.00 50.00 50.00 7.00 7.00",
                "takings / max(takings within all) | 0.2 0.4 – 0.4 1 0.14 0.14",
                "rank(along mean(takings within site) desc) | 1 1 1 1 1 6 6",
                "sum(lag(takings within site along week) within site along week running) | – 10.00 30.00 30.00 50.00 – 7.00",
            })
    void isAsWorkedOutByHand(String expression, String expected) {
        assertThat(String.join(" ", add(expression))).isEqualTo(expected);
    }

    @Test
    void listsFollowTheOrderAskedFor() {
        assertThat(add("list(sales, '+' within site along takings desc)").get(0))
                .isEqualTo("9+2+2+4+3");
        assertThat(add("list(sales within site)").get(6)).isEqualTo("1, 5");
    }

    @Test
    void rowsAreChosenByTheirPlace() {
        assertThat(Asking.rows(
                        weekly.then("only row_number(within site along takings desc, week) = 1 columns site, week")))
                .containsExactly("Quay 2026-06-08", "Meadow 2026-05-04");
        assertThat(Asking.rows(weekly.then("only takings >= mean(takings within site) columns site, takings")))
                .containsExactly("Quay 50.00", "Meadow 7.00", "Meadow 7.00");
        assertThat(Asking.rows(weekly.then("sort rank(along sales desc) first 2 columns sales")))
                .containsExactly("9", "5");
    }

    @Test
    void sortingIsStableAndPutsMissingLast() {
        assertThat(Asking.values(weekly.sort("takings"), "takings"))
                .containsExactly("7.00", "7.00", "10.00", "20.00", "20.00", "50.00", "–");
        assertThat(Asking.values(weekly.sort("takings desc"), "sales"))
                .containsExactly("9", "2", "2", "4", "1", "5", "3");
        assertThat(Asking.values(weekly.sort("site", "week desc"), "week").get(0))
                .isEqualTo("2026-05-11");
    }

    @Test
    void partitionsOfMissingKeysStandForThemselves() {
        Table gaps = Asking.table("site,n\nQuay,1\n,2\n,3\nQuay,4\n");
        assertThat(Asking.values(gaps.then("add x = sum(n within site)"), "x")).containsExactly("5", "5", "5", "5");
        assertThat(Asking.values(gaps.then("add x = row_number(within site along n desc)"), "x"))
                .containsExactly("2", "2", "1", "1");
    }

    @Test
    void tablesWithoutRowsStayEmpty() {
        Table none = weekly.only("takings > 1000");
        assertThat(Asking.rows(none.then(
                        "add r = rank(within site along takings), m = mean(takings within site along week last 3)")))
                .isEmpty();
        assertThat(Asking.rows(none.then("per site give s = sum(takings)"))).isEmpty();
        assertThat(Asking.rows(none.then("per all give s = sum(takings), n = count()")))
                .containsExactly("– 0");
        assertThat(Asking.rows(none.then("sort takings distinct site first 3"))).isEmpty();
    }
}
