package dev.fiesta.report;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.problem.BriefException;
import dev.fiesta.report.terminal.TextTable;
import dev.fiesta.value.LocaleStyle;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Collections;
import java.util.List;
import java.util.Objects;
import java.util.zip.ZipEntry;
import java.util.zip.ZipFile;
import org.apache.pdfbox.Loader;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.text.PDFTextStripper;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class ReportTest {
    private static final String BRIEF = """
            brief 'Takings <of> the Quay'
            parameter least decimal = 5
            input sales from 'sales.csv'
            table by_item from sales
              per  site, item
              give sales = count(), takings = sum(amount), part = share(amount), first_day = min(day)
              totals by site
              columns site 'Site', item 'Item', sales, takings 'Takings' money 'EUR', part 'Part' percent 0 bar, first_day date 'd MMM'
            table daily from sales
              per day, site give takings = sum(amount)
            table top from by_item
              only takings >= :least
              sort takings desc
            report
              heading 'Items'
              say 'At least {:least}: {top.rows} items, the best {top.item} with {top.takings}.'
              figures top takings, sales 'The best'
              table by_item 'By item' rows 20
              heading 'Days'
              chart lines daily x day y takings by site 'Daily'
              chart bars top x item y takings
              new page
              table daily rows 2
            """;

    @TempDir
    Path folder;

    private Report report;

    @BeforeEach
    void run() throws IOException {
        Files.writeString(folder.resolve("sales.csv"), """
                day,site,item,amount
                2026-05-01,Quay,"<script>alert('x')</script>",12.50
                2026-05-01,Meadow,churros & tea,1204.20
                2026-05-02,Quay,lemonade,-3.10
                2026-05-03,Quay,lemonade,
                2026-05-03,,lemonade,7.00
                """);
        try (Fiesta fiesta = Fiesta.open()) {
            report = Report.of(Brief.of("takings.brief", BRIEF, folder), fiesta);
        }
    }

    private static String golden(String name, String found) throws IOException {
        Path made = Path.of("target", "golden", name);
        Files.createDirectories(made.getParent());
        Files.writeString(made, found);
        try (var in = Objects.requireNonNull(ReportTest.class.getResourceAsStream("/golden/" + name), name)) {
            return new String(in.readAllBytes(), StandardCharsets.UTF_8);
        }
    }

    @Test
    void terminalLooksAsAgreed() throws IOException {
        StringWriter text = new StringWriter();
        PrintWriter out = new PrintWriter(text);
        report.print(new Terminal("en-IE", 100, 0, false), out);
        out.flush();
        assertThat(text.toString()).isEqualTo(golden("terminal.txt", text.toString()));
    }

    @Test
    void pageLooksAsAgreed() throws IOException {
        Path page = report.writeTo(folder.resolve("out"), Format.HTML).get(0);
        String html = Files.readString(page);
        assertThat(html).isEqualTo(golden("report.html", html));
    }

    @Test
    void markedUpTextLooksAsAgreed() throws IOException {
        String text = report.text(Format.MARKDOWN);
        assertThat(text).isEqualTo(golden("report.md", text));
    }

    @Test
    void chartsLookAsAgreed() throws IOException {
        report.writeTo(folder.resolve("out"), Format.SVG);
        String chart;
        try (var files = Files.list(folder.resolve("out"))) {
            chart = Files.readString(files.filter(f -> f.toString().endsWith(".svg"))
                    .sorted()
                    .findFirst()
                    .orElseThrow());
        }
        assertThat(chart).isEqualTo(golden("chart.svg", chart));
    }

    /** Parts of a workbook, as they stand in it. */
    @Test
    void workbooksLookAsAgreed() throws IOException {
        report.writeTo(folder.resolve("out"), Format.XLSX);
        StringBuilder parts = new StringBuilder();
        try (ZipFile book = new ZipFile(folder.resolve("out/report.xlsx").toFile())) {
            for (ZipEntry part : Collections.list(book.entries())) {
                if (part.getName().endsWith(".xml")) {
                    String text = new String(book.getInputStream(part).readAllBytes(), StandardCharsets.UTF_8);
                    parts.append(part.getName() + "\n" + text.replace("><", ">\n<") + "\n");
                }
            }
        }
        assertThat(parts.toString()).isEqualTo(golden("workbook.txt", parts.toString()));
    }

    @Test
    void paperReadsAsAgreed() throws IOException {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        report.write(Format.PDF, out);
        PDFTextStripper stripper = new PDFTextStripper();
        stripper.setSortByPosition(true);
        try (PDDocument document = Loader.loadPDF(out.toByteArray())) {
            String text = stripper.getText(document);
            assertThat(text).isEqualTo(golden("paper.txt", text));
        }
    }

    @Test
    void noTextFromDataIsMarkup() throws IOException {
        String html = Files.readString(
                report.writeTo(folder.resolve("out"), Format.HTML).get(0));
        assertThat(html).doesNotContain("<script>alert").contains("&lt;script&gt;alert(&#39;x&#39;)&lt;/script&gt;");
        assertThat(html).contains("<title>Takings &lt;of&gt; the Quay</title>").contains("churros &amp; tea");
        assertThat(html).doesNotContain("src=").doesNotContain("href=\"http").doesNotContain("url(http");
    }

    @Test
    void chartsOfOnePageShareNoNames() throws IOException {
        String html = Files.readString(
                report.writeTo(folder.resolve("out"), Format.HTML).get(0));
        List<String> ids = java.util.regex.Pattern.compile(" id=\"([^\"]+)\"")
                .matcher(html)
                .results()
                .map(m -> m.group(1))
                .toList();
        assertThat(ids).hasSizeGreaterThan(8).doesNotHaveDuplicates();
    }

    @Test
    void theSameRunGivesTheSameBytes() throws IOException {
        String once = Files.readString(
                report.writeTo(folder.resolve("a"), Format.HTML).get(0));
        run();
        String again = Files.readString(
                report.writeTo(folder.resolve("b"), Format.HTML).get(0));
        assertThat(again).isEqualTo(once);
    }

    @Test
    void narrowWindowsCutTextsFirstAndThenColumns() {
        Result items = report.results().get("by_item");
        String text = new TextTable(LocaleStyle.of("en-IE"), 44, 1, false).render(items, 0, items.view());
        assertThat(text.lines().mapToInt(String::length).max().orElse(0)).isLessThanOrEqualTo(60);
        assertThat(text).endsWith("Rows 1 to 1 of 4, columns 1 to 4 of 6.\n");
    }

    @Test
    void piecesAreChecked() {
        try (Fiesta fiesta = Fiesta.open()) {
            String wrong = BRIEF.replace("x day y takings by", "x dya y takings by")
                    .replace("table daily rows 2", "table dialy");
            assertThatThrownBy(() -> Reporting.of(Brief.of("takings.brief", wrong, folder))
                            .check(fiesta))
                    .isInstanceOfSatisfying(
                            BriefException.class,
                            e -> assertThat(e.problems())
                                    .extracting(p -> p.message() + " " + p.suggestion())
                                    .containsExactly(
                                            "'daily' has no field 'dya'. Did you mean 'day'?",
                                            "There is no table 'dialy'. Did you mean 'daily'?"));
        }
    }

    @Test
    void localesWriteNumbersTheirWay() {
        assertThat(LocaleStyle.of("en-IE").number("-1234567.50")).isEqualTo("-1,234,567.50");
        assertThat(LocaleStyle.of("pt-PT").number("1234.5")).isEqualTo("1.234,5");
        assertThat(LocaleStyle.of("fr-FR").number("1234.5")).isEqualTo("1\u202F234,5");
        assertThat(LocaleStyle.of("de-CH").number("1234.5")).isEqualTo("1\u2019234.5");
        assertThat(LocaleStyle.of("xx").number("999")).isEqualTo("999");
    }

    @Test
    void whatCannotBeDrawnLeavesNoFile() {
        String other = BRIEF.replace("chart bars top x item y takings", "chart heat top x item y takings");
        try (Fiesta fiesta = Fiesta.open()) {
            Report drawn = Report.of(Brief.of("takings.brief", other, folder), fiesta);
            assertThatThrownBy(() -> drawn.writeTo(folder.resolve("out"), Format.HTML))
                    .hasMessage("The chart 'heat' shows two keys and a figure: x FIELD y FIGURE by FIELD.");
            assertThat(folder.resolve("out/report.html")).doesNotExist();
        }
    }
}
