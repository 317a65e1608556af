package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.source.Databases;
import dev.fiesta.source.RecordSource;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Where a server gives rows in any order, a brief says wherever that order decides something. */
class LooseOrderTest {
    private static final String LOOSE =
            "'sales' is a query that names no order: %s as the server happened to give them. "
                    + "Add an order by to the query, or sort first.";

    record Sale(String site, long amount) {}

    private static List<String> warnings(String clauses, boolean ordered) {
        List<Sale> sales = List.of(new Sale("Quay", 3), new Sale("Meadow", 5), new Sale("Quay", 4));
        Databases shop = (query, dialect, fields) ->
                new Databases.Answer(RecordSource.of(Sale.class, sales), sales.size(), "none", ordered);
        String brief = "input sales from database 'shop' query 'select'\ntable t from sales\n" + clauses;
        try (Fiesta fiesta = Fiesta.with().asks(shop).open()) {
            Tables tables = fiesta.brief("t", brief, Path.of("")).tables(fiesta);
            return tables.run(tables.unused())
                    .values()
                    .iterator()
                    .next()
                    .notices()
                    .warnings();
        }
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "first 2 | 'first 2' (line 3) takes its rows",
                "first 1 within site | 'first 1 within site' (line 3) takes its rows",
                "distinct site | 'distinct site' (line 3) takes its rows",
                "sample 2 | 'sample 2' (line 3) takes its rows",
                "per site give f = first(amount) | 'per site give f = first(amount)' (line 3) takes its rows",
                "per site give f = list(amount) | 'per site give f = list(amount)' (line 3) takes its rows",
                "only amount > 3 | the rows of 't' stand",
                "turn amount into what, value | the rows of 't' stand",
            })
    void whatAnAccidentDecidesIsTold(String clauses, String what) {
        assertThat(warnings(clauses, false)).contains(LOOSE.formatted(what));
        assertThat(warnings(clauses, true)).as("an order is named").isEmpty();
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "sort amount first 2",
                "per site give s = sum(amount) first 1",
                "per site give f = first(amount along amount)",
                "first 1 within site along amount desc",
                "sort amount distinct site",
                "per site, d = amount * 2 give n = count() sort n",
            })
    void whatHasAnOrderOfItsOwnIsNotTold(String clauses) {
        assertThat(warnings(clauses, false)).isEmpty();
    }

    @org.junit.jupiter.api.Test
    void aTableBelowIsLookedAtToo() {
        String clauses = "only amount > 3\ntable u from t first 1";
        assertThat(warnings(clauses, false)).contains(LOOSE.formatted("'first 1' (line 4) takes its rows"));
    }
}
