package dev.fiesta.report;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.regex.MatchResult;
import java.util.regex.Pattern;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The page as a browser and a screen reader would find it. */
class HtmlPageTest {
    @TempDir
    Path folder;

    @BeforeEach
    void data() throws IOException {
        StringBuilder text = new StringBuilder("site,stall,amount,note\n");
        for (int i = 0; i < 40; i++) {
            text.append(i % 4 == 3 ? "" : "Site " + i % 4)
                    .append(",0")
                    .append(10 + i % 5)
                    .append(',')
                    .append(i * 25 - 100)
                    .append(".50,")
                    .append(i % 7 == 0 ? "" : "\"a & b < c\"")
                    .append('\n');
        }
        Files.writeString(folder.resolve("sales.csv"), text.toString());
    }

    private String page(String brief) throws IOException {
        try (Fiesta fiesta = Fiesta.open()) {
            Report report = Report.of(Brief.of("page.brief", "input sales from 'sales.csv' " + brief, folder), fiesta);
            return Files.readString(
                    report.writeTo(folder.resolve("out"), Format.HTML).get(0));
        }
    }

    private static List<String> all(String html, String pattern) {
        return Pattern.compile(pattern, Pattern.DOTALL)
                .matcher(html)
                .results()
                .map((MatchResult m) -> m.group(1))
                .toList();
    }

    @Test
    void tablesHaveHeadsRowsAndTotals() throws IOException {
        String html = page(
                "table t from sales per site, stall give takings = sum(amount) totals by site columns site 'Site', stall, takings 'Takings' money");
        assertThat(all(html, "<th scope=\"col\"[^>]*>([^<]*)</th>")).containsExactly("Site", "stall", "Takings");
        assertThat(all(html, "<tr class=\"(subtotal|total)\">"))
                .containsExactly("subtotal", "subtotal", "subtotal", "subtotal", "total");
        assertThat(all(html, "<tr>(<td.*?)</tr>")).hasSize(20);
        List<String> totals = all(html, "<tr class=\"subtotal\">(.*?)</tr>");
        assertThat(totals.get(0)).contains("Site 0").contains(">Total<");
        assertThat(totals.get(3)).contains("(missing)");
        assertThat(all(html, "<tr class=\"total\">(.*?)</tr>").get(0))
                .contains(">Total<")
                .contains("15,516.00");
    }

    @Test
    void longTablesSayHowManyRowsFollow() throws IOException {
        String html = page("table t from sales report table t 'Sales' rows 12");
        assertThat(all(html, "<p class=\"note\">([^<]*)</p>")).containsExactly("Rows 1 to 12 of 40.");
        assertThat(all(html, "<tr>(<td.*?)</tr>")).hasSize(12);
    }

    @Test
    void cellsCarryWhatTheirFormatsSay() throws IOException {
        String html = page("table t from sales first 6 columns site, amount bar, note, stall right report table t");
        assertThat(html)
                .contains("class=\"right negative\">-100.50")
                .contains("style=\"margin-left:0%;width:50%\"") // to the left from the middle, as there are refunds
                .contains("class=\"bar signed\"")
                .contains("a &amp; b &lt; c");
        assertThat(all(html, "<td class=\" missing\">([^<]*)</td>"))
                .containsOnly("–")
                .isNotEmpty();
        assertThat(all(html, "<th scope=\"col\" class=\"right brief[a-z ]*\">([^<]*)</th>"))
                .containsExactly("amount", "stall");
        String shaded = page("table t from sales first 6 columns amount shade report table t");
        assertThat(all(shaded, "(?:shade|minus)-(\\d)\"")).contains("4");
    }

    @Test
    void keysThatRepeatArePrintedOnce() throws IOException {
        String html = page("table t from sales per site, stall give n = count() totals by site report table t");
        List<String> keys = all(html, "<tr><td class=\"((?: again)?)\">");
        assertThat(keys).contains(" again").contains("");
        assertThat(html).contains("<td class=\" again\"><span>Site 0</span></td>");
        String one = page("table t from sales per site give n = count() report table t");
        assertThat(one).doesNotContain("class=\" again\"");
    }

    @Test
    void whatWarnsStandsAtTheHeadWithItsFirstRows() throws IOException {
        String html = page("table t from sales check amount > 5000 'Too little.' or warn report table t rows 1");
        assertThat(all(html, "<div class=\"warning\" role=\"alert\"><p>([^<]*)</p>"))
                .singleElement()
                .satisfies(text -> assertThat(text).contains("Too little.").contains("40 rows do not meet it:"));
        List<String> rows = all(html, "<li>(amount [^<]*)</li>");
        assertThat(rows).as("what the check looks at stands first").hasSize(10);
        assertThat(rows.get(0)).startsWith("amount -100.50, site Site 0");
        assertThat(html).contains("<details><summary>+ 5</summary>");
        assertThat(html.indexOf("role=\"alert\"")).isLessThan(html.indexOf("<figure"));
    }

    @Test
    void contentsListLeadsToHeadings() throws IOException {
        String html = page(
                "table t from sales report heading 'One' table t heading 'Two & more' say 'There are {t.rows} rows.'");
        List<String> links = all(html, "<li><a href=\"#([^\"]*)\">");
        assertThat(links).hasSize(2).allSatisfy(id -> assertThat(html).contains("<h2 id=\"" + id + "\">"));
        assertThat(html).contains(">Two &amp; more</a>").contains("<p>There are 40 rows.</p>");
        assertThat(page("table t from sales report heading 'Only one' table t")).doesNotContain("<nav");
    }

    @Test
    void figuresStandLarge() throws IOException {
        String html = page(
                "table t from sales per all give takings = sum(amount), sales = count() columns takings 'Takings' money, sales report figures t takings, sales 'In short'");
        assertThat(all(html, "<div><dt>([^<]*)</dt>")).containsExactly("Takings", "sales");
        assertThat(all(html, "<dd>([^<]*)</dd></div>")).containsExactly("15,516.00", "40");
        assertThat(html).contains("<figcaption>In short</figcaption>");
    }

    @Test
    void thePageNeedsNothingElseAndNamesItsLanguage() throws IOException {
        String html =
                page("settings locale 'pt-PT' table t from sales report chart bars t x stall y amount table t rows 1");
        assertThat(html).startsWith("<!doctype html>\n<html lang=\"pt\">").contains("<meta name=\"viewport\"");
        assertThat(html)
                .doesNotContain("<link")
                .doesNotContain("<script src")
                .doesNotContain("@import")
                .doesNotContain("url(http");
        assertThat(html).contains("-100,50").contains("@media print").contains("prefers-color-scheme: dark");
        assertThat(all(html, "<svg([^>]*)>"))
                .hasSize(2)
                .allSatisfy(svg -> assertThat(svg).contains("role=\"img\""));
    }

    @Test
    void crossTabulationsAreTables() throws IOException {
        String html = page("table t from sales per site against stall give takings = sum(amount) totals");
        assertThat(all(html, "<th scope=\"col\"[^>]*>([^<]*)</th>"))
                .containsExactly("site", "010", "011", "012", "013", "014", "Total");
        assertThat(all(html, "<tr class=\"total\">(.*?)</tr>").get(0)).contains("15,516.00");
    }
}
