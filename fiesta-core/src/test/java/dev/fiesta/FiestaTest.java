package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.catalogue.Entry;
import dev.fiesta.catalogue.SampleTable;
import dev.fiesta.problem.BriefException;
import dev.fiesta.value.Texts;
import java.io.IOException;
import java.math.BigDecimal;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

class FiestaTest {
    @TempDir
    Path folder;

    private Path sales;

    @BeforeEach
    void data() throws IOException {
        sales = folder.resolve("sales.csv");
        Files.writeString(sales, """
                site,stall,status,amount,fee
                Quay,001,settled,10.00,0.50
                Quay,001,voided,99.00,0.00
                Quay,002,settled,30.00,1.00
                Meadow,012,settled,7.25,0.25
                Meadow,013,settled,8.00,0.00
                """);
    }

    /** A row of the result, as a user would declare it. */
    record StallTakings(String site, String stall, long sales, BigDecimal takings, int place) {}

    @Test
    void readsAsASentence() {
        try (Fiesta fiesta = Fiesta.open()) {
            Table best = fiesta.read(sales)
                    .only("status = 'settled'")
                    .add("net = amount - fee")
                    .per("site", "stall")
                    .give("sales = count()", "takings = sum(net)")
                    .only("takings > :least", Map.of("least", 8))
                    .add("place = rank(within site along takings desc)")
                    .sort("site", "place");
            assertThat(best.run().as(StallTakings.class))
                    .containsExactly(
                            new StallTakings("Quay", "002", 1, new BigDecimal("29.00"), 1),
                            new StallTakings("Quay", "001", 1, new BigDecimal("9.50"), 2));
        }
    }

    @Test
    void aWrongTextFailsAtItsCall() {
        try (Fiesta fiesta = Fiesta.open()) {
            Table table = fiesta.read(sales);
            assertThatThrownBy(() -> table.only("amuont > 3"))
                    .isInstanceOf(BriefException.class)
                    .hasMessageContaining("There is no field 'amuont'.")
                    .hasMessageContaining("Did you mean 'amount'?");
        }
    }

    @Test
    void tablesAreDescriptionsThatCanBeUsedAgain() {
        try (Fiesta fiesta = Fiesta.with().threads(2).open()) {
            Table settled = fiesta.read(sales).only("status = 'settled'");
            assertThat(settled.per("site").count().run().longs("count")).containsExactly(2, 2);
            assertThat(settled.first(1).run().rows()).isEqualTo(1);
            assertThat(settled.schema().names()).containsExactly("site", "stall", "status", "amount", "fee");
        }
    }

    record Visit(LocalDate day, String site, int people) {}

    @Test
    void recordsInMemoryAreASource() {
        List<Visit> visits = List.of(
                new Visit(LocalDate.of(2026, 5, 1), "Quay", 120),
                new Visit(LocalDate.of(2026, 5, 2), "Quay", 80),
                new Visit(LocalDate.of(2026, 5, 2), "Meadow", 60));
        try (Fiesta fiesta = Fiesta.open()) {
            Result result = fiesta.records(Visit.class, visits)
                    .per("day")
                    .give("people = sum(people)")
                    .run();
            assertThat(result.longs("people")).containsExactly(120, 140);
            assertThat(result.row(1).date("day")).isEqualTo(LocalDate.of(2026, 5, 2));
            Table more = fiesta.records(Visit.class, visits)
                    .match(fiesta.read(sales).per("site").give("takings = sum(amount)"), "on site bring takings");
            assertThat(more.run().row(2).decimal("takings")).isEqualTo(new BigDecimal("15.25"));
        }
    }

    @Test
    void resultsAreReadByColumnAndWritten() throws IOException {
        try (Fiesta fiesta = Fiesta.open()) {
            Result result =
                    fiesta.read(sales).first(2).columns("stall", "amount").run();
            assertThat(result.texts("stall")).containsExactly("001", "001");
            assertThat(result.longs("amount")).containsExactly(1000, 9900);
            Path file = folder.resolve("out/result.csv");
            result.writeCsv(file);
            assertThat(file).hasContent("stall,amount\n001,10.00\n001,99.00");
            try (Stream<Path> left = Files.list(file.getParent())) {
                assertThat(left).containsExactly(file);
            }
            assertThatThrownBy(() -> result.longs("amuont"))
                    .hasMessage("there is no field 'amuont'. Did you mean 'amount'?");
            assertThatThrownBy(() -> result.texts("amount")).hasMessage("the field 'amount' is a decimal(2)");
        }
    }

    static Stream<Entry> functions() {
        return Fiesta.functions().stream();
    }

    @ParameterizedTest(name = "{0}")
    @MethodSource("functions")
    void examplesOfTheCatalogueAreRight(Entry entry) throws IOException {
        Path sample = folder.resolve("sample.csv");
        Files.writeString(sample, SampleTable.TEXT);
        assertThat(entry.about()).endsWith(".");
        assertThat(entry.example()).contains(entry.name() + "(");
        try (Fiesta fiesta = Fiesta.open()) {
            Table table = fiesta.read(sample);
            List<String> found = new ArrayList<>();
            switch (entry.family()) {
                case GATHERING -> found.addAll(values(table.per("all").give("x = " + entry.example())));
                case WALKING -> found.add(String.join(", ", values(table.add("x = " + entry.example()))));
                default -> found.addAll(values(table.first(1).add("x = " + entry.example())));
            }
            String expected = entry.result().isEmpty() ? "–" : entry.result();
            assertThat(found).containsExactly(expected);
        }
    }

    private static List<String> values(Table table) {
        return table.run().stream()
                .map(r -> r.get("x"))
                .map(v -> v == null ? "–" : Texts.of(v))
                .toList();
    }
}
