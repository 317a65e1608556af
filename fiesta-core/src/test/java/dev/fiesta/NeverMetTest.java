package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** A text that no record has is told, with those that there are; one that some record has never is. */
class NeverMetTest {
    private static final String SALES = """
            site,status,amount,note
            Quay,settled,1,
            Quay,refunded,2,late
            Meadow,voided,3,
            ,settled,4,
            """;
    private static final String STATUS = " It has: settled, voided, refunded.";

    @TempDir
    Path folder;

    private static List<String> warnings(String clauses) {
        return Asking.table(SALES).then(clauses).run().notices().warnings();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "only status = 'setled' | No record has status 'setled'.",
                "only 'setled' = status | No record has status 'setled'.",
                "only status <> 'setled' | No record has status 'setled', so this keeps everything.",
                "add x = if status <> 'setled' then 1 | No record has status 'setled', so this is always true.",
                "only status in ('settled', 'setled') | No record has status 'setled'.",
                "add x = reword(status, 'setled' as 'ok') | No record has status 'setled'.",
                "add x = place_in(status, 'settled', 'setled') | No record has status 'setled'.",
                "per site against status in ('setled') | No record has status 'setled'.",
                "per site against status in ('setled') rest as 'else' | No record has status 'setled'.",
                "per site give x = sum(amount only status = 'setled') | No record has status 'setled'.",
                "rename status as state only state = 'setled' | No record has state 'setled'.",
                "add state = status only state = 'setled' | No record has state 'setled'.",
                "per status give n = count() only status = 'setled' | No record has status 'setled'.",
            })
    void whatNoRecordHasIsTold(String clauses, String message) {
        List<String> told = warnings(clauses);
        assertThat(told).hasSize(1);
        assertThat(told.get(0)).endsWith(": " + message + STATUS);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "only status = 'settled'",
                "only amount > 3 only status = 'refunded'",
                "only note = 'late'",
                "add status = 'x' only status = 'setled'",
                "add state = upper(status) only state = 'setled'",
                "per site give n = count(), status = max(status) only status = 'setled'",
                "per status give n = count() first 1 along n desc rest as 'Rest' only status = 'Rest'",
                "per status give n = count() totals add x = if status = 'Total' then 1",
                "check status in ('settled', 'refunded', 'voided', 'disputed')",
                "first 2 only status = 'voided'",
                "first 2 only status = 'setled'",
            })
    void whatSomeRecordHasOrNobodyKnowsIsNot(String clauses) {
        assertThat(warnings(clauses)).isEmpty();
    }

    @Test
    void valuesOfParametersAndOfOtherTablesAreLookedAtToo() throws IOException {
        Files.writeString(folder.resolve("sales.csv"), SALES);
        Files.writeString(folder.resolve("sites.csv"), "site,kind\nQuay,harbour\nMeadow,field\n");
        Map<String, Result> results = Asking.brief(folder, """
                parameter wanted text list = 'Quay', 'Key'
                input sales from 'sales.csv'
                input sites from 'sites.csv'
                table base from sales
                  match sites on site bring kind
                table t from base
                  only site in :wanted and kind <> 'harbor'
                """);
        assertThat(results.get("t").notices().warnings())
                .containsExactly(
                        "t.brief:7: No record has kind 'harbor', so this is always true. It has: harbour, field.",
                        "t.brief:7: No record has site 'Key'. It has: Quay, Meadow.");
    }

    /** Whether a text is there is decided over all records, however many and whoever reads them. */
    @ParameterizedTest
    @ValueSource(ints = {1, 2, 8})
    void theLastRecordCounts(int threads) {
        String many =
                IntStream.range(0, 200_000).mapToObj(i -> "a" + i % 400 + "\n").collect(Collectors.joining());
        Table table = Asking.table("name\n" + many + "last\n", threads);
        assertThat(table.then("only name = 'last'").run().notices().warnings()).isEmpty();
        assertThat(table.then("only name = 'a40 '").run().notices().warnings())
                .containsExactly("clauses:1: No record has name 'a40 '. It has: a40, a0, a10, a100, a101, …");
    }

    @Test
    void whereTooManyAreThereNoneIsProposed() {
        List<String> names = new ArrayList<>();
        IntStream.range(0, 10_001).forEach(i -> names.add("n" + i));
        assertThat(Asking.table("name\n" + String.join("\n", names) + "\n")
                        .then("only name = 'x'")
                        .run()
                        .notices()
                        .warnings())
                .containsExactly("clauses:1: No record has name 'x'.");
    }
}
