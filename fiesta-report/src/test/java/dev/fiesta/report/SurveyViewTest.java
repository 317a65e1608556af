package dev.fiesta.report;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.math.BigDecimal;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** A survey in characters, as a page and as JSON, and the brief that is drafted from it. */
class SurveyViewTest {
    private static final List<String> SITES = List.of("Quay", "Meadow", "Old Town", "Quay", "quay");

    @TempDir
    Path folder;

    private Path file;

    @BeforeEach
    void data() throws IOException {
        StringBuilder text = new StringBuilder("id;site;day;amount;<b>note\n");
        for (int i = 0; i < 40; i++) {
            text.append("0" + (100 + i) + ";" + SITES.get(i % 5) + ";" + (10 + i / 2) + "/05/2026;" + i + ",5;");
            text.append(i % 4 == 0 ? "n/a\n" : i % 4 == 1 ? "\n" : "<script>alert(1)</script>\n");
        }
        file = folder.resolve("sales-1.csv");
        Files.writeString(file, text);
    }

    private SurveyView view() {
        try (Fiesta fiesta = Fiesta.open()) {
            return new SurveyView("sales-1.csv", fiesta.read(file).survey());
        }
    }

    @Test
    void terminalIsForReading() {
        StringWriter out = new StringWriter();
        view().print(78, false, new PrintWriter(out, true));
        String remark = file.toString();
        assertThat(out.toString().replace(remark, "sales-1.csv")).isEqualTo("""
                sales-1.csv
                40 records, 5 fields
                sales-1.csv: semicolons (;) part its cells.

                id       text          none missing              40 distinct
                         0100 … 0139

                site     text          none missing              4 distinct
                         Quay 40.0% · Meadow 20.0% · Old Town 20.0% · quay 20.0%

                day      text          none missing              20 distinct
                         10/05/2026 … 29/05/2026
                         10/05/2026 5.0% · 11/05/2026 5.0% · 12/05/2026 5.0% · 13/05/2026 5.0…

                amount   text          none missing              40 distinct
                         0,5 … 9,5

                <b>note  text          10 (25.0%) missing        2 distinct
                         <script>alert(1)</script> 50.0% · n/a 25.0%

                Worth a look
                  id: every value is different: it may be the key.
                      check unique id
                  id: all values are digits with leading zeros: identifiers, kept as texts.
                  site: one word in several spellings: 'Quay' (16), 'quay' (8).
                      add site = lower(site)
                  day: all values are dates written dd/MM/yyyy.
                      fields day date 'dd/MM/yyyy'
                  amount: every value is different: it may be the key.
                      check unique amount
                  amount: all values are numbers with a decimal comma.
                      decimal comma
                  <b>note: 'n/a' stands for missing values in 10 records, it seems.
                      missing 'n/a'
                """);
        StringWriter coloured = new StringWriter();
        view().print(78, true, new PrintWriter(coloured, true));
        assertThat(coloured.toString()).contains("\033[1msales-1.csv\033[0m");
    }

    @Test
    void numbersAreDrawn() throws IOException {
        Files.writeString(file, "n\n1\n2\n2\n2\n4\n");
        StringWriter out = new StringWriter();
        view().print(100, false, new PrintWriter(out, true));
        assertThat(out.toString()).isEqualTo("""
                sales-1.csv
                5 records, 1 field

                n  integer       none missing              3 distinct
                   1 ▃╎█ ▃ 4   quartiles 2 · 2 · 2   mean 2.2
                   2 60.0%
                """);
    }

    @Test
    void yearsHaveNoThousands() throws IOException {
        Files.writeString(file, "since\n2015\n2016\n2018\n2021\n");
        StringWriter out = new StringWriter();
        view().print(100, false, new PrintWriter(out, true));
        assertThat(out.toString()).contains("2015 ╎█", " 2021   quartiles 2015.8 · 2017 · 2018.8   mean 2017.5");
        Files.writeString(file, "since\n1015\n2016\n2018\n2021\n");
        StringWriter mixed = new StringWriter();
        view().print(100, false, new PrintWriter(mixed, true));
        assertThat(mixed.toString()).contains(" 2,021   quartiles 1,765.8 · 2,017 · 2,018.8   mean 1,767.5");
    }

    @Test
    void thePageEscapesWhatItShows() {
        String html = view().html();
        assertThat(html)
                .contains("&lt;script&gt;alert(1)&lt;/script&gt;", "&lt;b&gt;note")
                .doesNotContain("<script", "<b>note");
        int amount = html.indexOf("aria-label=\"amount\"");
        assertThat(html.substring(amount, html.indexOf("</section>", amount)))
                .contains("<p class=\"odd\">all values are numbers with a decimal comma. <code>decimal comma</code>");
        assertThat(html).contains("<section class=\"field\" id=\"field-3\" aria-label=\"day\">");
    }

    @Test
    void jsonHoldsPlainValues() throws IOException {
        Files.writeString(file, "day,amount,paid\n2026-05-01,1.50,true\n2026-05-02,2.25,\n");
        JsonNode tree = new JsonMapper().readTree(view().json());
        assertThat(tree.get("records").asInt()).isEqualTo(2);
        assertThat(tree.get("fields").get(0).get("least").asString()).isEqualTo("2026-05-01");
        assertThat(tree.get("fields").get(1).get("mean").asDouble()).isEqualTo(1.875);
        assertThat(tree.get("fields").get(1).get("greatest").asString()).isEqualTo("2.25");
        assertThat(tree.get("fields").get(1).get("histogram").get("counts").size())
                .isEqualTo(24);
        assertThat(tree.get("fields").get(2).get("missing").asInt()).isEqualTo(1);
        assertThat(tree.get("fields").get(2).get("histogram").isNull()).isTrue();
        assertThat(view().json()).isEqualTo(view().json()).doesNotContain("\r");
    }

    @Test
    void fieldLinesCanStandInABrief() {
        assertThat(view().fieldLines()).startsWith("  fields id        text,").contains("\"<b>note\" text");
        assertThat(view().fieldLines())
                .contains("         day       date 'dd/MM/yyyy',")
                .contains("amount    decimal,");
    }

    @Test
    void draftsRun() {
        try (Fiesta fiesta = Fiesta.open()) {
            Draft draft = Draft.of(
                    "sales",
                    List.of("sales-*.csv"),
                    "",
                    options -> fiesta.read(List.of(file), options).survey());
            assertThat(draft.text())
                    .startsWith("brief 'Sales by site'\n\ninput sales from 'sales-*.csv' missing 'n/a' decimal comma\n")
                    .contains(
                            "  per    site\n  give   records = count(), total = sum(amount), typical = median(amount)\n")
                    .contains("  per    day = day\n")
                    .contains("chart   lines by_day x day y total");
            Map<String, Result> results = Report.of(Brief.of("draft.brief", draft.text(), folder), fiesta)
                    .results();
            assertThat(results.keySet()).containsExactly("by_site", "by_day");
            assertThat(results.get("by_site").rows()).isEqualTo(4);
            assertThat(results.get("by_day").rows()).isEqualTo(20);
        }
    }

    /** Texts that are numbers in one form are declared as such, where that goes together with the other fields. */
    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "€ 3.50;€ 12.00;€ 1.25 | 1;2;3 | amount decimal(2) without '€' | total | 16.75",
                "1.234,50;(12,00);€ 3,10 | 1;2;3 | decimal comma brackets negative | amount decimal(2) without '€' | 1225.60",
                "€ 3,50;€ 12,00;€ 1,25 | 1.5;2;3 | amount text | other | 6.5",
                "SKU 12;SKU 13;SKU 14 | 1.5;2;3 | amount text | other decimal(1) | 6.5",
                "EUR 12;€ 13;EUR 14 | 1;2;3 | amount decimal(0) without 'EUR', '€' | other integer | 39",
                "5 %;7 %;8 % | 1,5;2;3,25 | amount decimal(0) without '%' | decimal comma | 20",
            })
    void numbersAreDeclaredAsTheyAreWritten(String amounts, String others, String one, String two, String total)
            throws IOException {
        StringBuilder text = new StringBuilder("amount;other;site\n");
        for (int i = 0; i < 3; i++) {
            text.append(amounts.split(";")[i] + ";" + others.split(";")[i] + ";" + (i > 0 ? "Quay" : "Meadow") + "\n");
        }
        Files.writeString(file, text);
        try (Fiesta fiesta = Fiesta.open()) {
            Draft draft = Draft.of(
                    "table",
                    List.of("sales-1.csv"),
                    "",
                    options -> fiesta.read(List.of(file), options).survey());
            assertThat(draft.text().replaceAll("[\\s]+", " ")).contains(one, two);
            Result result = Report.of(Brief.of("d.brief", draft.text(), folder), fiesta)
                    .results()
                    .values()
                    .iterator()
                    .next();
            assertThat(result.stream()
                            .map(row -> new BigDecimal(String.valueOf(row.get("total"))))
                            .reduce(BigDecimal.ZERO, BigDecimal::add))
                    .isEqualByComparingTo(total);
        }
    }

    @Test
    void draftsRunWhateverTheFieldsAre() throws IOException {
        List<String> files = List.of(
                "a\n",
                "from,table\n1,2\n3,4\n",
                "\"give it\",when\nx,2026-05-01\nx,2026-09-01\ny,2027-12-01\nz,\nx,2026-05-02\nz,2026-05-02\ny,2026-05-02\n",
                "when\n2026-05-01T10:00\n2026-05-09T10:00\n");
        for (String text : files) {
            Files.writeString(file, text);
            try (Fiesta fiesta = Fiesta.open()) {
                Draft draft = Draft.of(
                        "table",
                        List.of("sales-1.csv"),
                        "",
                        options -> fiesta.read(List.of(file), options).survey());
                Report report = Report.of(Brief.of("d.brief", draft.text(), folder), fiesta);
                assertThat(report.results()).as(draft.text()).isNotEmpty();
            }
        }
    }
}
