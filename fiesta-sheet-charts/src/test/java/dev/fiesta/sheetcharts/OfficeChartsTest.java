package dev.fiesta.sheetcharts;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.report.Format;
import dev.fiesta.report.Report;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.apache.poi.ss.usermodel.Cell;
import org.apache.poi.ss.usermodel.CellType;
import org.apache.poi.ss.util.AreaReference;
import org.apache.poi.ss.util.CellReference;
import org.apache.poi.xssf.usermodel.XSSFChart;
import org.apache.poi.xssf.usermodel.XSSFPicture;
import org.apache.poi.xssf.usermodel.XSSFSheet;
import org.apache.poi.xssf.usermodel.XSSFWorkbook;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.openxmlformats.schemas.drawingml.x2006.chart.CTNumRef;
import org.openxmlformats.schemas.drawingml.x2006.chart.CTPlotArea;
import org.openxmlformats.schemas.drawingml.x2006.chart.CTStrRef;

/** Workbooks are opened by another library: their charts stand over the cells that hold what they show. */
class OfficeChartsTest {
    private static final String DATA = "week,site,takings,back\n2026-05-04,Quay,120.50,-3\n2026-05-04,Meadow,80.00,\n"
            + "2026-05-11,Quay,,-1\n2026-05-18,Quay,150.25,-7\n2026-05-18,Meadow,95.10,2\n";
    private static final String HEAD = "brief 'A week'\nsettings locale 'de-DE'\ninput sales from 'sales.csv'\n"
            + "table weekly from sales\n  sort week, site\n"
            + "  columns week 'Woche' date 'd MMM', site, takings 'Einnahmen' money 'EUR', back 'Rückgabe' integer\nreport\n";

    @TempDir
    Path folder;

    private byte[] bytes(String pieces) throws IOException {
        Files.writeString(folder.resolve("sales.csv"), DATA);
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (Fiesta fiesta = Fiesta.open()) {
            Report.of(Brief.of("week", HEAD + pieces, folder), fiesta).write(Format.XLSX, out);
        }
        return out.toByteArray();
    }

    private XSSFWorkbook book(String pieces) throws IOException {
        return new XSSFWorkbook(new ByteArrayInputStream(bytes(pieces)));
    }

    private static CTPlotArea area(XSSFChart chart) {
        return chart.getCTChart().getPlotArea();
    }

    /** What cells of a reference hold; missing as null. */
    private static List<Object> cells(XSSFWorkbook book, String reference) {
        List<Object> values = new ArrayList<>();
        AreaReference area = new AreaReference(reference, book.getSpreadsheetVersion());
        for (CellReference at : area.getAllReferencedCells()) {
            Cell cell = book.getSheet(at.getSheetName()).getRow(at.getRow()).getCell(at.getCol());
            values.add(
                    cell == null
                            ? null
                            : cell.getCellType() == CellType.STRING
                                    ? (Object) cell.getStringCellValue()
                                    : (Object) cell.getNumericCellValue());
        }
        return values;
    }

    /** The values that a chart has with it, and those of the cells it stands over, which must be the same. */
    private static List<Object> values(XSSFWorkbook book, CTNumRef reference) {
        List<Object> kept = new ArrayList<>();
        for (int i = 0; i < reference.getNumCache().getPtCount().getVal(); i++) {
            kept.add(null);
        }
        reference.getNumCache().getPtList().forEach(p -> kept.set((int) p.getIdx(), Double.valueOf(p.getV())));
        assertThat(cells(book, reference.getF())).isEqualTo(kept);
        return kept;
    }

    private static List<Object> texts(XSSFWorkbook book, CTStrRef reference) {
        List<Object> kept = new ArrayList<>();
        reference.getStrCache().getPtList().forEach(p -> kept.add(p.getV()));
        assertThat(cells(book, reference.getF())).isEqualTo(kept);
        return kept;
    }

    @Test
    void linesStandOverDaysAndTheirValues() throws IOException {
        try (XSSFWorkbook book = book("  chart lines weekly x week y takings by site 'Verlauf' line 'Ziel' at 100\n")) {
            XSSFSheet sheet = book.getSheet("Diagramme");
            List<XSSFChart> charts = sheet.getDrawingPatriarch().getCharts();
            assertThat(charts).hasSize(1);
            XSSFChart chart = charts.get(0);
            assertThat(chart.getTitleText().getString()).isEqualTo("Verlauf");
            assertThat(area(chart).getDateAxList()).hasSize(1);
            assertThat(area(chart).getDateAxArray(0).getNumFmt().getFormatCode())
                    .isEqualTo("d mmm");
            var lines = area(chart).getLineChartList();
            assertThat(lines).hasSize(2);
            var series = lines.get(0).getSerList();
            assertThat(series).hasSize(2);
            assertThat(texts(book, series.get(0).getTx().getStrRef())).containsExactly("Meadow");
            assertThat(texts(book, series.get(1).getTx().getStrRef())).containsExactly("Quay");
            // 2026-05-04 as sheets count days; the week that has no value for a site is a gap.
            assertThat(values(book, series.get(0).getCat().getNumRef())).containsExactly(46146.0, 46153.0, 46160.0);
            assertThat(values(book, series.get(0).getVal().getNumRef())).containsExactly(80.0, null, 95.1);
            assertThat(values(book, series.get(1).getVal().getNumRef())).containsExactly(120.5, null, 150.25);
            var level = lines.get(1).getSerArray(0);
            assertThat(texts(book, level.getTx().getStrRef())).containsExactly("Ziel");
            assertThat(values(book, level.getVal().getNumRef())).containsExactly(100.0, 100.0, 100.0);
            assertThat(series.get(0).getVal().getNumRef().getNumCache().getFormatCode())
                    .isEqualTo("#,##0.00");
        }
    }

    @Test
    void barsStandInTheOrderOfTheTable() throws IOException {
        String pieces = "  chart bars weekly x site y back 'Zurück' values\n"
                + "  chart columns weekly x week y takings by site 'Gestapelt' stacked\n";
        String summed = HEAD.replace("report", "")
                + "table sites from weekly per site give back = sum(back) sort back\nreport\n";
        Files.writeString(folder.resolve("sales.csv"), DATA);
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (Fiesta fiesta = Fiesta.open()) {
            Brief brief = Brief.of("week", summed + pieces.replace("bars weekly", "bars sites"), folder);
            Report.of(brief, fiesta).write(Format.XLSX, out);
        }
        try (XSSFWorkbook book = new XSSFWorkbook(new ByteArrayInputStream(out.toByteArray()))) {
            List<XSSFChart> charts =
                    book.getSheet("Diagramme").getDrawingPatriarch().getCharts();
            assertThat(charts).hasSize(2);
            var bars = area(charts.get(0)).getBarChartArray(0);
            assertThat(bars.getBarDir().getVal().toString()).isEqualTo("bar");
            assertThat(texts(book, bars.getSerArray(0).getCat().getStrRef())).containsExactly("Quay", "Meadow");
            assertThat(values(book, bars.getSerArray(0).getVal().getNumRef())).containsExactly(-11.0, 2.0);
            assertThat(bars.getSerArray(0).getDLbls().getShowVal().getVal()).isTrue();
            var columns = area(charts.get(1)).getBarChartArray(0);
            assertThat(columns.getGrouping().getVal().toString()).isEqualTo("stacked");
            assertThat(columns.xmlText()).contains("overlap").contains("val=\"100\"");
        }
    }

    @Test
    void whatNoOfficeProgramDrawsIsAPicture() throws IOException {
        String pieces = "  chart heat weekly x week y takings by site 'Wärme'\n"
                + "  chart points weekly x takings y back 'Punkte'\n"
                + "  chart lines weekly x week y takings apart site 'Einzeln'\n";
        try (XSSFWorkbook book = book(pieces)) {
            var drawing = book.getSheet("Diagramme").getDrawingPatriarch();
            assertThat(drawing.getCharts()).hasSize(1);
            assertThat(drawing.getShapes().stream().filter(XSSFPicture.class::isInstance))
                    .hasSize(2);
            assertThat(book.getAllPictures())
                    .hasSize(2)
                    .allSatisfy(p -> assertThat(p.getData()).hasSizeGreaterThan(2_000));
            var points =
                    area(drawing.getCharts().get(0)).getScatterChartArray(0).getSerArray(0);
            assertThat(values(book, points.getXVal().getNumRef())).containsExactly(80.0, 95.1, 120.5, 150.25);
            assertThat(values(book, points.getYVal().getNumRef())).containsExactly(null, 2.0, -3.0, -7.0);
        }
    }

    @Test
    void theEightLargestSeriesAreDrawnAndManyPointsAreAPicture() throws IOException {
        StringBuilder many = new StringBuilder("week,site,takings,back\n");
        for (int i = 0; i < 13_500; i++) {
            many.append(LocalDate.of(1990, 1, 1).plusDays(i / 9)).append(",site " + i % 9 + "," + (i % 9 + 1) + ",0\n");
        }
        Files.writeString(folder.resolve("sales.csv"), many);
        String brief = HEAD.replace("report", "table few from weekly only week < 1990-01-04\nreport")
                + "  chart lines few x week y takings by site 'Wenige'\n"
                + "  chart lines weekly x week y takings by site 'Viele'\n";
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (Fiesta fiesta = Fiesta.open()) {
            Report.of(Brief.of("week", brief, folder), fiesta).write(Format.XLSX, out);
        }
        try (XSSFWorkbook book = new XSSFWorkbook(new ByteArrayInputStream(out.toByteArray()))) {
            XSSFSheet sheet = book.getSheet("Diagramme");
            List<XSSFChart> charts = sheet.getDrawingPatriarch().getCharts();
            assertThat(charts).hasSize(1);
            assertThat(charts.get(0).getTitleText().getString()).isEqualTo("Wenige");
            var series = area(charts.get(0)).getLineChartArray(0).getSerList();
            assertThat(series).hasSize(8);
            assertThat(texts(book, series.get(0).getTx().getStrRef())).containsExactly("site 1");
            List<String> told = new ArrayList<>();
            sheet.forEach(row -> row.forEach(cell -> told.add(cell.getStringCellValue())));
            assertThat(told).first().isEqualTo("die acht größten von 9 Reihen");
            assertThat(book.getAllPictures()).hasSize(1);
        }
    }

    @Test
    void theSameReportHasTheSameBytesWhateverTheMachineSpeaks() throws IOException {
        String pieces = "  chart lines weekly x week y takings by site 'Verlauf'\n  chart bars weekly x site y back\n";
        byte[] first = bytes(pieces);
        Locale before = Locale.getDefault();
        try {
            Locale.setDefault(Locale.JAPAN);
            assertThat(bytes(pieces)).isEqualTo(first);
        } finally {
            Locale.setDefault(before);
        }
    }

    /** Heads of printed pages hold 255 signs in office programs, and {@code &} begins a code in them. */
    @Test
    void aLongTitleIsCutAtTheHeadOfPages() throws IOException {
        Files.writeString(folder.resolve("sales.csv"), DATA);
        String title = "Takings & more, ".repeat(30).strip();
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (Fiesta fiesta = Fiesta.open()) {
            String brief = HEAD.replace("brief 'A week'", "brief '" + title + "'") + "table weekly";
            Report.of(Brief.of("week", brief, folder), fiesta).write(Format.XLSX, out);
        }
        try (XSSFWorkbook book = new XSSFWorkbook(new ByteArrayInputStream(out.toByteArray()))) {
            XSSFSheet sheet = book.getSheet("weekly");
            assertThat(sheet.getHeader().getLeft()).contains("Takings && more").endsWith("…");
            assertThat(sheet.getCTWorksheet().getHeaderFooter().getOddHeader()).hasSizeLessThanOrEqualTo(255);
        }
    }
}
