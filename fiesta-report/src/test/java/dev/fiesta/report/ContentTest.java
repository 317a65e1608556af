package dev.fiesta.report;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.language.BriefTree;
import dev.fiesta.problem.RequestException;
import dev.fiesta.report.content.Content;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What a report shows, whatever it is written as. */
class ContentTest {
    @TempDir
    Path folder;

    @BeforeEach
    void data() throws IOException {
        Files.writeString(folder.resolve("sales.csv"), """
                site,item,amount
                Quay,tea,10.50
                Quay,cake,30
                Meadow,tea,40
                """);
    }

    private Content content(String text) {
        try (Fiesta fiesta = Fiesta.open()) {
            Brief brief = Brief.of("t", "input sales from 'sales.csv' parameter most decimal = 35\n" + text, folder);
            return Report.of(brief, fiesta).content();
        }
    }

    @Test
    void withoutAReportAllTablesThatNobodyUsesAreShown() {
        Content content = content("table a from sales table b from sales per site give t = sum(amount)");
        assertThat(content.pieces().stream().map(content::title)).containsExactly("a", "b");
        assertThat(content.charts()).isEmpty();
        assertThat(content.data().stream().map(Result::name)).containsExactly("a", "b");
        assertThat(content.warnings()).isEmpty();
    }

    @Test
    void placesInTextsAreFilled() {
        Content content = content("""
                table best from sales sort amount desc first 1
                table none from sales only amount > 1000
                report
                  say   '{best.site} with {best.amount money EUR}, {none.rows} above, {:most} wanted, {none.site}'
                  table best 'Best of {best.rows}'
                """);
        BriefTree.Say say = (BriefTree.Say) content.pieces().get(0);
        assertThat(content.fill(say.text())).isEqualTo("Meadow with 40.00 EUR, 0 above, 35 wanted, –");
        assertThat(content.title(content.pieces().get(1))).isEqualTo("Best of 1");
        assertThat(content.title(say)).isEmpty();
    }

    @Test
    void chartsHaveFilesAndLinesOfTheirOwn() {
        Content content = content("""
                table t from sales per site give amount = sum(amount)
                table limit from sales per all give top = max(amount)
                table none from sales only amount > 1000
                report
                  chart bars t x site y amount line 'the best: {limit.top}' at limit.top line 'wanted' at :most line 'nobody' at none.amount
                  chart bars t x site y amount
                  chart columns t x site y amount
                """);
        List<BriefTree.Chart> charts = content.charts();
        assertThat(charts.stream().map(c -> content.chartFile(c, "svg")))
                .containsExactly("t-bars.svg", "t-bars-2.svg", "t-columns.svg");
        assertThat(content.lines(charts.get(0)).stream().map(l -> l.text()))
                .as("a line whose value is missing is left out")
                .containsExactly("the best: 40.00", "wanted");
        assertThat(content.draw(charts.get(1))).as("drawn once").isSameAs(content.draw(charts.get(1)));
        Content other = content("table t from sales report chart bars t x site y amount");
        assertThatThrownBy(() -> content.chartFile(other.charts().get(0), "svg"))
                .isInstanceOf(IllegalStateException.class);
    }

    @Test
    void figuresShowTheFirstRowWithTheirUnits() {
        Content content = content("""
                table t from sales per all give n = count(), t = sum(amount) columns n 'Sales', t 'Takings' money 'EUR'
                table none from sales only amount > 1000
                report figures t n, t
                  figures none amount
                """);
        BriefTree.Figures some = (BriefTree.Figures) content.pieces().get(0);
        BriefTree.Figures none = (BriefTree.Figures) content.pieces().get(1);
        assertThat(content.figures(some)).isEqualTo(Map.of("Sales", "3", "Takings", "80.50 EUR"));
        assertThat(content.figures(none).values()).containsExactly("–");
    }

    @Test
    void whatIsOneIsToldFromSeveral() {
        Content content = content("table a from sales");
        assertThat(content.only(content.data(), "table", "csv").name()).isEqualTo("a");
        assertThatThrownBy(() -> content.only(content.charts(), "chart", "svg"))
                .isInstanceOf(RequestException.class)
                .hasMessage("a stream takes one chart as svg, and the report has 0; write it to a folder");
        assertThatThrownBy(() -> content.only(List.of(1, 2), "table", "csv")).hasMessageContaining("the report has 2;");
    }

    @Test
    void recordsBehindRowsComeWhereTheyAreWanted() {
        try (Fiesta fiesta = Fiesta.open()) {
            Brief brief =
                    Brief.of("t", "input sales from 'sales.csv' table t from sales per site give n = count()", folder);
            Content content = Report.of(brief, fiesta).content();
            assertThat(content.samples("t")).isNull();
            Result two = Objects.requireNonNull(content.withBehind(2).samples("t"));
            assertThat(two.rows()).isEqualTo(3);
        }
    }
}
