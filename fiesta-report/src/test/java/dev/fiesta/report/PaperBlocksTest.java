package dev.fiesta.report;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.report.page.Blocks;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.math.BigDecimal;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import org.apache.pdfbox.Loader;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.text.PDFTextStripper;
import org.apache.pdfbox.text.TextPosition;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Wide tables on paper: pages turn, wider ones are broken with the keys repeated, and no letter lies outside its page. */
class PaperBlocksTest {
    record Sale(String site, String stall, BigDecimal amount) {}

    private static final List<Sale> SALES = IntStream.range(0, 40)
            .mapToObj(i -> new Sale(
                    "Old Town behind the Lighthouse " + i / 20,
                    "stall-" + i,
                    BigDecimal.valueOf(-98_765_432 + i * 1000L, 2)))
            .toList();

    /** A page as it is set. */
    private record Page(double width, double height, double rightmost, double lowest, String text) {
        boolean turned() {
            return width > height;
        }
    }

    /** Where the foot of a page begins, in points from below. */
    private static final double FOOT = 50;

    private static List<Page> pages(int figures, String report) {
        return pages(figures, report, SALES);
    }

    private static List<Page> pages(int figures, String report, List<Sale> sales) {
        List<String> gives = new ArrayList<>();
        List<String> columns = new ArrayList<>(List.of("site 'Festplatz'", "stall 'Stand'"));
        for (int i = 1; i <= figures; i++) {
            gives.add("f" + i + " = sum(amount) * " + i);
            columns.add("f" + i + " 'Einnahmen der Woche " + i + "' money" + (i == 3 ? " bar" : ""));
        }
        String brief =
                "brief 'Breit' settings locale 'de-DE' input sales from 'none.csv' table wide from sales per site, stall give "
                        + String.join(", ", gives) + " sort site, stall columns " + String.join(", ", columns)
                        + " report heading 'Vorher' say 'Hochkant.' " + report;
        try (Fiesta fiesta = Fiesta.with().threads(1).open()) {
            ByteArrayOutputStream bytes = new ByteArrayOutputStream();
            Brief given = Brief.of("t.brief", brief, Path.of("")).input("sales", fiesta.records(Sale.class, sales));
            Report.of(given, fiesta).write(Format.PDF, bytes);
            return pages(bytes.toByteArray());
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static List<Page> pages(byte[] pdf) throws IOException {
        List<Page> pages = new ArrayList<>();
        try (PDDocument document = Loader.loadPDF(pdf)) {
            for (int p = 1; p <= document.getNumberOfPages(); p++) {
                double[] rightmost = {0};
                double[] lowest = {0};
                double foot = document.getPage(p - 1).getMediaBox().getHeight() - FOOT;
                PDFTextStripper stripper = new PDFTextStripper() {
                    @Override
                    protected void writeString(String text, List<TextPosition> positions) throws IOException {
                        positions.forEach(
                                t -> rightmost[0] = Math.max(rightmost[0], t.getXDirAdj() + t.getWidthDirAdj()));
                        positions.stream()
                                .mapToDouble(TextPosition::getYDirAdj)
                                .filter(y -> y < foot)
                                .forEach(y -> lowest[0] = Math.max(lowest[0], y));
                        super.writeString(text, positions);
                    }
                };
                stripper.setSortByPosition(true);
                stripper.setStartPage(p);
                stripper.setEndPage(p);
                String text = stripper.getText(document);
                var box = document.getPage(p - 1).getMediaBox();
                pages.add(new Page(box.getWidth(), box.getHeight(), rightmost[0], lowest[0], text));
            }
        }
        return pages;
    }

    @ParameterizedTest
    @ValueSource(ints = {1, 3, 5, 7, 12, 30})
    void noLetterLiesOutsideItsPage(int figures) {
        List<Page> pages =
                pages(figures, "heading 'Breit' table wide 'Alle Wochen' heading 'Danach' say 'Wieder hochkant.'");
        assertThat(pages).allSatisfy(p -> assertThat(p.rightmost()).isLessThanOrEqualTo(p.width() - 40));
        String all = String.join("\n", pages.stream().map(Page::text).toList());
        for (int i = 1; i <= figures; i++) {
            assertThat(all.replaceAll("\\s+", " ")).as("week " + i).contains(" " + i);
        }
        assertThat(pages.get(0).turned()).isFalse();
        assertThat(pages.get(pages.size() - 1).text()).contains("Wieder hochkant.");
    }

    @Test
    void chartsGrowIntoTheRoomThatAPageHasLeft() {
        String chart = "chart points wide x f1 y f1 by site 'Dot' ";
        List<Page> pages = pages(1, chart + chart + chart + "say 'Ende.'");
        assertThat(pages).hasSize(2);
        assertThat(pages.get(1).text()).contains("Dot").contains("Ende.");
        // A page that ends where the brief says so keeps its room. What stands lowest is the title of the second chart.
        List<Page> ended = pages(1, chart + chart + "new page " + chart + "say 'Ende.'");
        assertThat(ended).hasSize(2);
        assertThat(pages.get(0).lowest() - ended.get(0).lowest()).isBetween(30.0, 130.0);
        assertThat(pages.get(1).lowest()).isEqualTo(ended.get(1).lowest());
    }

    @Test
    void wordsWithoutAnEndAreBroken() {
        List<Sale> sales = IntStream.range(0, 12)
                .mapToObj(i -> new Sale("Quay", "s" + i + "-" + "x".repeat(40 * (i % 4)), BigDecimal.TEN))
                .toList();
        List<Page> pages = pages(5, "heading 'Breit' table wide 'Alle Wochen'", sales);
        assertThat(pages).allSatisfy(p -> assertThat(p.rightmost()).isLessThanOrEqualTo(p.width() - 40));
        String all = String.join("\n", pages.stream().map(Page::text).toList());
        assertThat(all).doesNotContain("(1/").contains("s11-");
        Page turned = pages.stream().filter(Page::turned).findFirst().orElseThrow();
        assertThat(turned.text()).contains("Breit").contains("s0-");
    }

    @Test
    void aPageTurnsWithTheHeadingOfItsTable() {
        List<Page> pages = pages(5, "heading 'Breit' table wide 'Alle Wochen' heading 'Danach' say 'Wieder hochkant.'");
        Page turned = pages.stream().filter(Page::turned).findFirst().orElseThrow();
        assertThat(turned.text()).contains("Breit").contains("Alle Wochen");
        assertThat(pages.get(0).text()).contains("Vorher").doesNotContain("Alle Wochen");
        Page last = pages.get(pages.size() - 1);
        assertThat(last.turned()).isFalse();
        assertThat(last.text()).contains("Danach");
    }

    @Test
    void whatIsTooWideForATurnedPageIsBrokenWithItsKeys() {
        List<Page> pages = pages(12, "table wide 'Alle Wochen'");
        String all = String.join("\n", pages.stream().map(Page::text).toList());
        assertThat(all).contains("Alle Wochen (1/2)").contains("Alle Wochen (2/2)");
        assertThat(pages.stream().filter(p -> p.text().contains("stall-0 "))).hasSize(2);
    }

    @Test
    void theHeadOfAPageNamesTheSectionThatGoesOn() {
        List<Page> pages = pages(
                1,
                "heading 'Eins' table wide 'A' table wide 'B' table wide 'C' heading 'Zwei' say 'x' new page heading 'Drei' say 'y'");
        assertThat(pages).hasSizeGreaterThan(3);
        assertThat(pages.get(1).text()).startsWith("Eins");
        Page two = pages.stream()
                .filter(p -> p.text().contains("Zwei"))
                .findFirst()
                .orElseThrow();
        assertThat(two.text()).startsWith("Eins");
        assertThat(pages.get(pages.size() - 1).text()).startsWith("Drei");
    }

    /** Small charts that follow each other stand beside each other on paper, and one below the other on a page. */
    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "bars kinds x kind y n | lines days x day y n | pair",
                "columns kinds x kind y n | histogram days x n | pair",
                "bars kinds x kind y n | lines days x day y n, m | chart chart",
                "bars kinds x kind y n by kind | lines days x day y n | chart chart",
                "columns long x name y n | lines days x day y n | chart chart",
                "lines days x day y n line 'most' at 3 | lines days x day y n | chart chart",
                "points days x day y n | lines days x day y n | chart chart",
                "heat kinds x kind y n by kind | bars kinds x kind y n | chart chart"
            })
    void smallChartsStandBesideEachOther(String one, String other, String kinds) {
        String brief = "input sales from 'none.csv' "
                + "table kinds from sales add kind = substring(stall, 6, 2) per kind give n = count() first 5 "
                + "table long from sales per name = site || stall give n = count() first 4 "
                + "table days from sales add day = 2026-05-01 + 1 day per day give n = count(), m = sum(amount) "
                + "report chart " + one + " chart " + other + " say 'end'";
        try (Fiesta fiesta = Fiesta.open()) {
            Report report = Report.of(Brief.of(brief).input("sales", fiesta.records(Sale.class, SALES)), fiesta);
            assertThat(Blocks.forPaper(report.content(), Map.of()).all().stream()
                            .map(Blocks.Block::kind))
                    .containsExactly((kinds + " say").split(" "));
            assertThat(new Blocks(report.content()).all().stream().map(Blocks.Block::kind))
                    .containsExactly("chart", "chart", "say");
        }
    }
}
