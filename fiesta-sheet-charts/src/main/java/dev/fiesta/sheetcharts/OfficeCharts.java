package dev.fiesta.sheetcharts;

import dev.fiesta.report.sheet.SheetChart;
import dev.fiesta.report.sheet.SheetCharts;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.Locale;
import java.util.Map;
import javax.xml.namespace.QName;
import org.apache.poi.util.LocaleUtil;
import org.apache.poi.xssf.usermodel.XSSFChart;
import org.apache.poi.xssf.usermodel.XSSFDrawing;
import org.apache.poi.xssf.usermodel.XSSFSheet;
import org.apache.poi.xssf.usermodel.XSSFWorkbook;
import org.apache.xmlbeans.XmlOptions;
import org.openxmlformats.schemas.drawingml.x2006.chart.CTChartSpace;

/** Makes charts with a library, in a workbook that is thrown away. */
public final class OfficeCharts implements SheetCharts {
    @Override
    public byte[] part(SheetChart chart) {
        LocaleUtil.setUserLocale(Locale.forLanguageTag(chart.language())); // texts say what language they are in
        try (XSSFWorkbook book = new XSSFWorkbook()) {
            XSSFSheet sheet = book.createSheet();
            XSSFDrawing drawing = sheet.createDrawingPatriarch();
            XSSFChart made = drawing.createChart(drawing.createAnchor(0, 0, 0, 0, 0, 0, 1, 1));
            new OfficeChart(chart, made).make();
            return xml(made);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        } finally {
            LocaleUtil.resetUserLocale();
        }
    }

    private static byte[] xml(XSSFChart made) throws IOException {
        XmlOptions options = new XmlOptions();
        String namespace = CTChartSpace.type.getName().getNamespaceURI();
        options.setSaveSyntheticDocumentElement(new QName(namespace, "chartSpace"));
        options.setSaveSuggestedPrefixes(Map.of(namespace, "c", namespace.replace("chart", "main"), "a"));
        options.setSaveAggressiveNamespaces();
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        made.getCTChartSpace().save(out, options);
        return out.toString(StandardCharsets.UTF_8).getBytes(StandardCharsets.UTF_8);
    }
}
