package dev.fiesta.report;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import java.io.IOException;
import java.math.BigDecimal;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.List;
import org.apache.pdfbox.Loader;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.text.PDFTextStripper;
import org.dhatim.fastexcel.reader.Cell;
import org.dhatim.fastexcel.reader.CellType;
import org.dhatim.fastexcel.reader.ReadableWorkbook;
import org.dhatim.fastexcel.reader.ReadingOptions;
import org.dhatim.fastexcel.reader.Row;
import org.dhatim.fastexcel.reader.Sheet;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The same report in every format: values as they are in data, formatted in documents, hostile texts harmless. */
class FormatsTest {
    private static final String BRIEF = """
            brief 'Takings | *of* <the> Quay'
            parameter least decimal = 5
            input sales from 'sales.csv'
            table by_item from sales
              per  site, item
              give sales = count(), takings = sum(amount), first_day = min(day)
              totals by site
              hide takings where sales < 2 and site = 'Quay'
              columns site 'Site', item 'Item', sales, takings 'Takings' money 'EUR', first_day 'First' date 'd MMM'
            table few from sales
              per site give mean_sale = mean(amount)
              columns site, mean_sale 'Mean' number 2 mark few 3
            report
              heading 'Items'
              say 'From {:least} on'
              figures few mean_sale
              table by_item 'By item'
              chart bars few x site y mean_sale 'Means'
              new page
              table few 'Few' rows 1
            """;

    private static final ReadingOptions FORMATS = new ReadingOptions(true, true);

    @TempDir
    Path folder;

    private Report report;

    @BeforeEach
    void run() throws IOException {
        Files.writeString(folder.resolve("sales.csv"), """
                day,site,item,amount
                2026-05-01,Quay,=1+1,12.50
                2026-05-02,Quay,=1+1,2.50
                2026-05-01,Quay,"a | b, <i>",1204.20
                2026-05-02,Quay,tea,-3.10
                2026-05-03,Meadow,lemonade,
                2026-05-03,Meadow,lemonade,7.00
                """);
        try (Fiesta fiesta = Fiesta.open()) {
            report = Report.of(Brief.of("t.brief", BRIEF, folder), fiesta);
        }
    }

    private String written(Format format, String name) throws IOException {
        report.writeTo(folder.resolve("out"), format);
        return Files.readString(folder.resolve("out").resolve(name));
    }

    @Test
    void markdownIsTextWithTables() throws IOException {
        assertThat(written(Format.MARKDOWN, "report.md")).isEqualTo("""
                # Takings \\| \\*of\\* \\<the\\> Quay

                ## Items

                From 5 on

                - Mean: **7.00**

                **By item**

                | Site | Item | sales | Takings EUR | First |
                | --- | --- | ---: | ---: | --- |
                | Meadow | lemonade | 2 | 7.00 | 3 May |
                | **Meadow** | **Total** | **2** | **7.00** | **3 May** |
                | Quay | =1+1 | 2 | 15.00 | 1 May |
                | Quay | a \\| b, \\<i\\> | 1 | · | 1 May |
                | Quay | tea | 1 | · | 2 May |
                | **Quay** | **Total** | **4** | **1,216.10** | **1 May** |
                | **Total** |  | **6** | **1,223.10** | **1 May** |

                · is not shown

                ![Means](few-bars.svg)

                **Few**

                | site | Mean |
                | --- | ---: |
                | Meadow | 7.00\\* |

                Rows 1 to 1 of 2.

                \\* rests on fewer than 3 records
                """);
        assertThat(folder.resolve("out/few-bars.svg")).exists();
    }

    @Test
    void jsonKeepsTypesAndSaysWhatRowsAre() throws IOException {
        assertThat(written(Format.JSON, "by_item.json")).isEqualTo("""
                [
                  {"site":"Meadow","item":"lemonade","sales":2,"takings":7.00,"first_day":"2026-05-03","row_kind":"row"},
                  {"site":"Meadow","item":null,"sales":2,"takings":7.00,"first_day":"2026-05-03","row_kind":"subtotal"},
                  {"site":"Quay","item":"=1+1","sales":2,"takings":15.00,"first_day":"2026-05-01","row_kind":"row"},
                  {"site":"Quay","item":"a | b, <i>","sales":1,"takings":null,"first_day":"2026-05-01","row_kind":"row","hidden":["takings"]},
                  {"site":"Quay","item":"tea","sales":1,"takings":null,"first_day":"2026-05-02","row_kind":"row","hidden":["takings"]},
                  {"site":"Quay","item":null,"sales":4,"takings":1216.10,"first_day":"2026-05-01","row_kind":"subtotal"},
                  {"site":null,"item":null,"sales":6,"takings":1223.10,"first_day":"2026-05-01","row_kind":"grand total"}
                ]
                """);
        assertThat(written(Format.JSONL, "few.jsonl")).isEqualTo("""
                {"site":"Meadow","mean_sale":7.0}
                {"site":"Quay","mean_sale":304.025}
                """);
    }

    @Test
    void formulasAreDefusedWhereAsked() throws IOException {
        assertThat(written(Format.TSV, "by_item.tsv"))
                .contains("Quay\t=1+1\t2\t15.00")
                .contains("Quay\ta | b, <i>\t1\t·");
        report.writeTo(folder.resolve("guarded"), List.of(Format.CSV), true);
        assertThat(Files.readString(folder.resolve("guarded/by_item.csv")))
                .contains("Quay,'=1+1,2,15.00")
                .contains("Quay,\"a | b, <i>\",1,·")
                .contains("Total,,6,1223.10,2026-05-01");
    }

    @Test
    void workbooksHoldRealValues() throws IOException {
        report.writeTo(folder.resolve("out"), Format.XLSX);
        try (ReadableWorkbook book =
                new ReadableWorkbook(folder.resolve("out/report.xlsx").toFile(), FORMATS)) {
            List<String> names = book.getSheets().map(Sheet::getName).toList();
            assertThat(names).containsExactly("Particulars", "Charts", "few", "by_item", "Notes");
            List<Row> rows = book.findSheet("by_item").orElseThrow().read();
            assertThat(texts(rows.get(0))).containsExactly("Site", "Item", "sales", "Takings EUR", "First");
            Row formula = rows.get(3);
            assertThat(formula.getCell(1).getType()).isEqualTo(CellType.STRING);
            assertThat(formula.getCellText(1)).isEqualTo("=1+1");
            assertThat(formula.getCellAsNumber(2)).contains(new BigDecimal("2"));
            assertThat(formula.getCellAsNumber(3).orElseThrow()).isEqualByComparingTo("15.00");
            assertThat(formula.getCellAsDate(4)).contains(LocalDateTime.of(2026, 5, 1, 0, 0));
            assertThat(formula.getCell(3).getDataFormatString()).isEqualTo("#,##0.00");
            assertThat(formula.getCell(4).getDataFormatString()).isEqualTo("d mmm");
            assertThat(rows.get(4).getCellText(3)).isEqualTo("·");
            assertThat(rows.get(7).getCellText(0)).isEqualTo("Total");
            assertThat(book.findSheet("Notes").orElseThrow().read().stream().map(FormatsTest::texts))
                    .containsExactly(
                            List.of("few", "* rests on fewer than 3 records"), List.of("by_item", "· is not shown"));
            List<Row> particulars = book.findSheet("Particulars").orElseThrow().read();
            assertThat(particulars.stream().map(FormatsTest::texts))
                    .contains(
                            List.of("Input sales", "sales.csv: 6 records"),
                            List.of("Parameter least", "5"),
                            List.of("Table by_item", "Rows: 4"));
        }
    }

    private static List<String> texts(Row row) {
        List<String> texts = new ArrayList<>();
        for (Cell cell : row) {
            texts.add(cell == null ? "" : cell.getText());
        }
        return texts;
    }

    @Test
    void pagesOfPaperHaveNumbersAndHeads() throws IOException {
        StringBuilder many = new StringBuilder("n,name\n");
        for (int i = 0; i < 150; i++) {
            many.append(i).append(",row ").append(i).append('\n');
        }
        Files.writeString(folder.resolve("many.csv"), many.toString());
        String brief = "brief 'A & B' input many from 'many.csv' table t from many columns n 'Number <n>', name 'Name' "
                + "report heading 'First' heading 'Rows & names' table t";
        try (Fiesta fiesta = Fiesta.open()) {
            Report.of(Brief.of("m.brief", brief, folder), fiesta).writeTo(folder.resolve("out"), Format.PDF);
        }
        try (PDDocument pdf = Loader.loadPDF(folder.resolve("out/report.pdf").toFile())) {
            assertThat(pdf.getNumberOfPages()).isEqualTo(4);
            PDFTextStripper text = new PDFTextStripper();
            for (int page = 1; page <= 4; page++) {
                text.setStartPage(page);
                text.setEndPage(page);
                assertThat(text.getText(pdf))
                        .contains("Number <n>")
                        .contains(page + " of 4")
                        .contains("A & B")
                        .as("the section stands at the head of each page")
                        .contains("Rows & names");
            }
            List<String> outline = new ArrayList<>();
            pdf.getDocumentCatalog().getDocumentOutline().children().forEach(item -> outline.add(item.getTitle()));
            assertThat(outline).containsExactly("First", "Rows & names");
            text.setStartPage(4);
            assertThat(text.getText(pdf)).as("the last rows stay together").contains("row 147", "row 148", "row 149");
            assertThat(pdf.getDocumentInformation().getTitle()).isEqualTo("A & B");
        }
    }

    @Test
    void documentsHaveTheSameBytesEachTime() throws IOException {
        for (Format format : List.of(Format.HTML, Format.PDF, Format.XLSX, Format.MARKDOWN, Format.SVG, Format.PNG)) {
            byte[] once = bytes("once", format);
            run();
            assertThat(bytes("again", format)).as(format.toString()).isEqualTo(once);
        }
    }

    private byte[] bytes(String to, Format format) throws IOException {
        return Files.readAllBytes(report.writeTo(folder.resolve(to), format).get(0));
    }
}
