package dev.fiesta.report.workbook;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.LocalDateTime;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.zip.ZipEntry;
import java.util.zip.ZipFile;
import java.util.zip.ZipOutputStream;

/**
 * The parts of a workbook on their way out: charts come where pictures stand for them, and times of the making become those of 1980
 * (February: earlier ones are kept with a zone), so that the same workbook always has the same bytes.
 */
final class WorkbookParts {
    private static final Pattern PICTURE = Pattern.compile("<xdr:pic>.*?</xdr:pic>", Pattern.DOTALL);
    private static final Pattern DRAWING = Pattern.compile("xl/drawings/drawing\\d+\\.xml");
    private static final Pattern RELATIONS = Pattern.compile("xl/drawings/_rels/drawing\\d+\\.xml\\.rels");
    /** The sheet of charts: the second. */
    private static final String SHEET = "xl/worksheets/sheet2.xml";

    private static final String CHARTS = "http://schemas.openxmlformats.org/drawingml/2006/chart";
    private static final String RELATION = "http://schemas.openxmlformats.org/officeDocument/2006/relationships";

    private final Map<Integer, byte[]> charts;
    private final List<Integer> breaks;

    /**
     * @param charts those that come for pictures of the only sheet that has some, by their numbers from 1
     * @param breaks the rows of that sheet before which a page of paper ends
     */
    WorkbookParts(Map<Integer, byte[]> charts, List<Integer> breaks) {
        this.charts = charts;
        this.breaks = breaks;
    }

    void copy(Path book, OutputStream out) throws IOException {
        try (ZipFile from = new ZipFile(book.toFile())) {
            ZipOutputStream to = new ZipOutputStream(out);
            for (ZipEntry entry : Collections.list(from.entries())) {
                String name = entry.getName();
                if (charts.keySet().stream().noneMatch(n -> name.matches("xl/media/image\\d+_" + n + "\\.png"))) {
                    begin(to, name);
                    if (isChanged(name)) {
                        String text = new String(from.getInputStream(entry).readAllBytes(), StandardCharsets.UTF_8);
                        to.write(changed(name, text).getBytes(StandardCharsets.UTF_8));
                    } else {
                        from.getInputStream(entry).transferTo(to);
                    }
                    to.closeEntry();
                }
            }
            for (Map.Entry<Integer, byte[]> chart : charts.entrySet()) {
                begin(to, "xl/charts/chart" + chart.getKey() + ".xml");
                to.write(chart.getValue());
                to.closeEntry();
            }
            to.finish();
        }
    }

    private static void begin(ZipOutputStream to, String name) throws IOException {
        ZipEntry entry = new ZipEntry(name);
        entry.setTimeLocal(LocalDateTime.of(1980, 2, 1, 0, 0));
        to.putNextEntry(entry);
    }

    private boolean isChanged(String name) {
        return name.equals("docProps/core.xml")
                || name.equals(SHEET) && !breaks.isEmpty()
                || name.equals("[Content_Types].xml")
                || DRAWING.matcher(name).matches()
                || RELATIONS.matcher(name).matches();
    }

    private String changed(String name, String text) {
        if (name.equals("docProps/core.xml")) {
            return text.replaceAll("\\d{4}-\\d{2}-\\d{2}T[0-9:.]+Z", "1980-01-01T00:00:00Z");
        }
        if (name.equals("[Content_Types].xml")) {
            StringBuilder types = new StringBuilder();
            charts.keySet()
                    .forEach(n -> types.append("<Override PartName=\"/xl/charts/chart" + n + ".xml\" ContentType=\""
                            + "application/vnd.openxmlformats-officedocument.drawingml.chart+xml\"/>"));
            return text.replace("</Types>", types + "</Types>");
        }
        if (name.equals(SHEET)) {
            return text.replaceFirst("(<drawing )", Matcher.quoteReplacement(ends()) + "$1");
        }
        return RELATIONS.matcher(name).matches() ? related(text) : drawn(text);
    }

    private String ends() {
        StringBuilder ends = new StringBuilder(
                "<rowBreaks count=\"" + breaks.size() + "\" manualBreakCount=\"" + breaks.size() + "\">");
        breaks.forEach(row -> ends.append("<brk id=\"" + row + "\" max=\"16383\" man=\"1\"/>"));
        return ends.append("</rowBreaks>").toString();
    }

    private String related(String text) {
        String related = text;
        for (int n : charts.keySet()) {
            related = related.replaceAll(
                    "Type=\"[^\"]*\" Target=\"\\.\\./media/image\\d+_" + n + "\\.png\"",
                    "Type=\"" + RELATION + "/chart\" Target=\"../charts/chart" + n + ".xml\"");
        }
        return related;
    }

    private String drawn(String text) {
        Matcher pictures = PICTURE.matcher(text);
        StringBuilder drawn = new StringBuilder();
        for (int n = 1; pictures.find(); n++) {
            String stands = charts.containsKey(n) ? frame(n) : pictures.group();
            pictures.appendReplacement(drawn, Matcher.quoteReplacement(stands));
        }
        return pictures.appendTail(drawn).toString();
    }

    /** What frames the chart that has the number of a picture, and its relation. */
    private static String frame(int number) {
        return "<xdr:graphicFrame macro=\"\"><xdr:nvGraphicFramePr><xdr:cNvPr id=\"" + number + "\" name=\"Chart "
                + number
                + "\"/><xdr:cNvGraphicFramePr/></xdr:nvGraphicFramePr>"
                + "<xdr:xfrm><a:off x=\"0\" y=\"0\"/><a:ext cx=\"0\" cy=\"0\"/></xdr:xfrm>"
                + "<a:graphic><a:graphicData uri=\"" + CHARTS + "\"><c:chart xmlns:c=\"" + CHARTS + "\" xmlns:r=\""
                + RELATION + "\" r:id=\"rId" + number + "\"/></a:graphicData></a:graphic></xdr:graphicFrame>";
    }
}
