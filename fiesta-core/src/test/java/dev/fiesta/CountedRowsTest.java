package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.language.BriefText;
import dev.fiesta.language.Parser;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** A run tells how many rows each clause of each table left, and how many records were read, wherever the rows stood. */
class CountedRowsTest {
    @TempDir
    Path folder;

    @BeforeEach
    void data() throws IOException {
        Files.writeString(folder.resolve("sales.csv"), """
                site,item,amount
                Quay,tea,10
                Quay,tea,20
                Quay,cake,30
                Meadow,tea,40
                Meadow,cake,50
                Orchard,tea,60
                Orchard,,70
                """);
        Files.writeString(folder.resolve("prices.csv"), """
                item,price
                tea,3
                cake,4
                """);
    }

    private Tables.Outcome run(String tables, List<String> wanted, int threads, long memory) {
        String brief = "input sales from 'sales.csv'\ninput prices from 'prices.csv'\n" + tables;
        try (Fiesta fiesta = Fiesta.with().threads(threads).memory(memory).open()) {
            return fiesta.tables(Parser.brief(new BriefText("t.brief", brief)), folder, Map.of())
                    .runCounted(wanted);
        }
    }

    private static List<String> told(Tables.Outcome outcome, String table) {
        return outcome.rows().get(table).stream()
                .map(c -> c.clause().replaceAll("\\s+", " ") + ": " + c.rows())
                .toList();
    }

    @ParameterizedTest
    @CsvSource({"1, 1073741824", "2, 1073741824", "8, 1", "1, 1"})
    void everyClauseOfEveryTableIsCounted(int threads, long memory) {
        Tables.Outcome outcome = run("""
                table kept from sales
                  only amount > 10
                  add  twice = amount * 2
                table best from kept
                  per  site give n = count(), t = sum(twice)
                  only n > 1
                  sort t desc
                  first 1
                table priced from kept
                  match prices on item bring price matched only
                  turn amount, price into what, value
                  add r = rank(within site along value)
                  only r <= 2
                """, List.of("best", "priced"), threads, memory);
        assertThat(told(outcome, "kept")).containsExactly("only amount > 10: 6", "add twice = amount * 2: 6");
        assertThat(told(outcome, "best"))
                .containsExactly(
                        "per site give n = count(), t = sum(twice): 3",
                        "only n > 1: 3",
                        "sort t desc: 3",
                        "first 1: 1");
        assertThat(told(outcome, "priced"))
                .containsExactly(
                        "match prices on item bring price matched only: 5",
                        "turn amount, price into what, value: 10",
                        "add r = rank(within site along value): 10",
                        "only r <= 2: 6");
        assertThat(outcome.records()).containsEntry("sales", 7L).containsEntry("prices", 2L);
    }

    @Test
    void aTableThatNobodyWantsIsNotCounted() {
        Tables.Outcome outcome =
                run("table a from sales only amount > 40 table b from prices distinct item", List.of("b"), 2, 1 << 20);
        assertThat(outcome.rows()).containsOnlyKeys("b");
        assertThat(told(outcome, "b")).containsExactly("distinct item: 2");
        assertThat(outcome.records()).containsOnlyKeys("prices");
    }

    @ParameterizedTest
    @CsvSource({"1, 1073741824", "2, 1"})
    void whatIsLaidOutCountsNoRowsOfItsOwn(int threads, long memory) {
        Tables.Outcome outcome = run(
                "table a from sales only amount > 10 per site against item give t = sum(amount)",
                List.of("a"),
                threads,
                memory);
        assertThat(outcome.rows().get("a").get(0).rows()).isEqualTo(6);
        assertThat(outcome.rows().get("a")).hasSize(2);
        assertThat(outcome.results().get("a").rows()).isEqualTo(3);
    }

    @ParameterizedTest
    @CsvSource({"1, 1073741824", "8, 1073741824", "2, 1"})
    void whatChangesGroupsIsCounted(int threads, long memory) {
        Tables.Outcome outcome = run("""
                table a from sales
                  per site, item give t = sum(amount)
                  gapless item from prices within site with 0
                  first 1 within site along t desc rest as 'Rest'
                  add  s = t * 2
                  totals by site
                """, List.of("a"), threads, memory);
        List<String> told = told(outcome, "a");
        assertThat(told.get(0)).endsWith(": 6");
        assertThat(told.get(1)).endsWith(": 7");
        assertThat(told.get(2)).isEqualTo("first 1 within site along t desc rest as 'Rest': 6");
        assertThat(told.get(3)).isEqualTo("add s = t * 2: 6");
        assertThat(told).hasSize(5);
    }

    @Test
    void checksLeaveWhatTheyLookAt() {
        Tables.Outcome outcome = run(
                "table a from sales check amount > 0 check rows > 3 distinct site check unique site",
                List.of("a"),
                2,
                1 << 20);
        assertThat(told(outcome, "a"))
                .containsExactly(
                        "check amount > 0: 7", "check rows > 3: 7", "distinct site: 3", "check unique site: 3");
    }
}
