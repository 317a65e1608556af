package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.language.BriefText;
import dev.fiesta.language.Parser;
import dev.fiesta.problem.BriefException;
import java.io.IOException;
import java.math.BigDecimal;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Parameters as texts from a command line, as objects from Java, and as written in the brief. */
class ParametersTest {
    @TempDir
    Path folder;

    @BeforeEach
    void data() throws IOException {
        Files.writeString(
                folder.resolve("sales-may.csv"),
                "site,day,amount\nQuay,2026-05-01,10.00\nMeadow,2026-05-02,5.50\nOld Town,2026-05-03,7.00\n");
    }

    private Tables tables(String text, Map<String, ?> given) {
        return Fiesta.open().tables(Parser.brief(new BriefText("t.brief", text)), folder, given);
    }

    private List<String> sites(String parameter, String condition, Map<String, ?> given) {
        String text = parameter + " input s from 'sales-may.csv' table t from s only " + condition;
        return tables(text, given).run(List.of("t")).get("t").texts("site");
    }

    @ParameterizedTest(name = "{0} = {2}")
    @CsvSource(
            delimiter = '|',
            value = {
                "text | site = :p | Quay | Quay",
                "date | day >= :p | 2026-05-02 | Meadow,Old Town",
                "decimal | amount > :p | 6.999 | Quay,Old Town",
                "decimal(2) | amount = :p | 5.5 | Meadow",
                "integer | amount > :p | 7 | Quay",
                "real | amount < :p | 6e0 | Meadow",
                "truth | (amount > 6) = :p | false | Meadow",
                "datetime | datetime(day) > :p | 2026-05-01 12:00 | Meadow,Old Town",
                "text list | site in :p | Quay,Old Town | Quay,Old Town",
                "integer list | integer(amount * 2) in :p | 20,11 | Quay,Meadow",
                "date list | day not in :p | 2026-05-01 | Meadow,Old Town",
            })
    void textsAreReadAsTheTypeSays(String type, String condition, String given, String sites) {
        assertThat(sites("parameter p " + type, condition, Map.of("p", given))).containsExactly(sites.split(","));
    }

    @Test
    void objectsAreTakenAsTheyAre() {
        assertThat(sites("parameter p date", "day = :p", Map.of("p", LocalDate.of(2026, 5, 2))))
                .containsExactly("Meadow");
        assertThat(sites("parameter p decimal", "amount >= :p", Map.of("p", new BigDecimal("7.00"))))
                .containsExactly("Quay", "Old Town");
        assertThat(sites("parameter p integer", "amount > :p", Map.of("p", 9))).containsExactly("Quay");
        assertThat(sites("parameter p text list", "site in :p", Map.of("p", List.of("Quay", "Meadow"))))
                .containsExactly("Quay", "Meadow");
        assertThat(sites("parameter p datetime", "datetime(day) = :p", Map.of("p", LocalDateTime.of(2026, 5, 2, 0, 0))))
                .containsExactly("Meadow");
        assertThat(sites("parameter p truth", "(amount > 6) = :p", Map.of("p", true)))
                .containsExactly("Quay", "Old Town");
    }

    @Test
    void commasInListsAreKeptByABackslash() throws IOException {
        Files.writeString(folder.resolve("sales-may.csv"), "site,day,amount\n\"a, b\",2026-05-01,1\nc,2026-05-01,1\n");
        assertThat(sites("parameter p text list", "site in :p", Map.of("p", "a\\, b,d")))
                .containsExactly("a, b");
    }

    @Test
    void valuesOfTheBriefStandUnlessOthersAreGiven() {
        String parameters = "parameter least decimal = 6 parameter most decimal = :least";
        assertThat(sites(parameters, "amount > :least and amount > :most", Map.of()))
                .containsExactly("Quay", "Old Town");
        assertThat(sites(parameters, "amount > :least", Map.of("least", "8"))).containsExactly("Quay");
        assertThat(sites("parameter p text list = 'Quay', 'Meadow'", "site in :p", Map.of()))
                .containsExactly("Quay", "Meadow");
        assertThat(sites("parameter p integer = -3", "amount > :p", Map.of())).hasSize(3);
    }

    @Test
    void optionalOnesMayStayWithoutAValue() {
        String condition = ":p is missing or site = :p";
        assertThat(sites("parameter p text optional", condition, Map.of())).hasSize(3);
        assertThat(sites("parameter p text optional", condition, Map.of("p", "Quay")))
                .containsExactly("Quay");
        assertThat(sites("parameter p text list optional", ":p is missing or site in :p", Map.of()))
                .hasSize(3);
        assertThat(sites("parameter p text list optional", "site in :p", Map.of()))
                .isEmpty();
    }

    @Test
    void pathsAndTextsAreFilled() {
        Tables tables = tables(
                "parameter month text = 'may' parameter sites text list = 'a', 'b' input s from 'sales-{:month}.csv' table t from s",
                Map.of());
        assertThat(tables.run(List.of("t")).get("t").rows()).isEqualTo(3);
        assertThat(tables.fill("{:month}: {:sites}, {:nothing} and {t.rows}"))
                .isEqualTo("may: a, b, {:nothing} and {t.rows}");
    }

    @ParameterizedTest(name = "{0} = {1}")
    @CsvSource(
            delimiter = '|',
            value = {
                "integer | 1.5 | is an integer, and '1.5' is not.",
                "integer | 99999999999999999999 | is an integer, and",
                "decimal(1) | 1.25 | is a decimal(1), and '1.25' is not.",
                "decimal | x | is a decimal, and 'x' is not.",
                "real | 1e999 | is a real, and '1e999' is not.",
                "date | 01/05/2026 | is a date, and '01/05/2026' is not.",
                "datetime | 2026-05-01 | is a datetime, and",
                "truth | yes | is true or false, and 'yes' is not.",
                "instant | 2026-05-01 10:00 | is an instant, and",
                "date list | 2026-05-01,x | is a list of values that are each a date, and 'x' is not.",
            })
    void valuesOfAnotherTypeAreRefused(String type, String given, String message) {
        assertThatThrownBy(() -> sites("parameter p " + type, "true", Map.of("p", given)))
                .isInstanceOf(BriefException.class)
                .hasMessageContaining("The parameter 'p' " + message);
    }

    @Test
    void listsStandAfterInOnly() {
        assertThatThrownBy(() -> sites("parameter p text list", "site = :p", Map.of("p", "a")))
                .hasMessageContaining("':p' is a list, so it can only stand after 'in'.");
        assertThatThrownBy(() -> sites("parameter site text", "site = :siet", Map.of("site", "a")))
                .hasMessageContaining("Did you mean 'site'?");
        assertThatThrownBy(() -> sites("parameter p text", "site = :p", Map.of("p", "a", "q", 1)))
                .hasMessageContaining("The brief has no parameter 'q'.");
    }

    @Test
    void tablesOfABriefAreNamedAndChosen() {
        Tables tables = tables(
                "input s from 'sales-may.csv' table a from s table b from a per site table c from a only amount > 6 table d from c",
                Map.of());
        assertThat(tables.names()).containsExactly("a", "b", "c", "d");
        assertThat(tables.unused()).containsExactly("b", "d");
        assertThat(tables.outputs()).containsExactly("b", "d");
        assertThat(tables.schema("b").names()).containsExactly("site", "count");
        assertThatThrownBy(() -> tables.run(Arrays.asList("e"))).hasMessageContaining("there is no table 'e'.");
        assertThatThrownBy(() -> tables("input s from 'sales-may.csv' table s from s", Map.of()))
                .hasMessageContaining("There is an input or table 's' already.");
        assertThatThrownBy(() -> tables("input s from 'sales-may.csv' table a from b table b from s", Map.of()))
                .hasMessageContaining("There is no input or table 'b' above.");
    }
}
