package dev.fiesta.report;

import dev.fiesta.Result;
import dev.fiesta.ViewColumn;
import dev.fiesta.language.Brief;
import dev.fiesta.value.Column;
import dev.fiesta.value.Kind;
import dev.fiesta.value.Texts;
import java.awt.Dimension;
import java.awt.geom.Rectangle2D;
import java.io.IOException;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import javax.xml.parsers.DocumentBuilderFactory;
import javax.xml.parsers.ParserConfigurationException;
import org.apache.batik.svggen.SVGGeneratorContext;
import org.apache.batik.svggen.SVGGraphics2D;
import org.jfree.chart.ChartFactory;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.axis.DateAxis;
import org.jfree.chart.axis.NumberAxis;
import org.jfree.chart.plot.CategoryPlot;
import org.jfree.chart.plot.PlotOrientation;
import org.jfree.chart.plot.XYPlot;
import org.jfree.data.category.DefaultCategoryDataset;
import org.jfree.data.xy.XYSeries;
import org.jfree.data.xy.XYSeriesCollection;
import org.w3c.dom.Document;
import org.w3c.dom.Element;

/** Draws charts as SVG. */
final class Charts {
    private static final int WIDTH = 920;
    private static final int LINES_HEIGHT = 400;
    private static final int BAR_HEIGHT = 34;
    private static final int MOST_SERIES = 8;

    private Charts() {}

    /**
     * A chart as an element for a page.
     *
     * @param id its id on the page; names inside the chart start with it, so that charts do not share them
     * @throws IllegalArgumentException when the kind cannot be drawn or a field does not suit it
     */
    static String svg(String id, Brief.Chart chart, Result result, LocaleStyle locale) {
        return svg(chart, result, locale)
                .replaceAll("\\bid=\"", "id=\"" + id + "-")
                .replace("url(#", "url(#" + id + "-");
    }

    private static String svg(Brief.Chart chart, Result result, LocaleStyle locale) {
        return switch (chart.kind()) {
            case "lines" -> draw(lines(chart, result, locale), LINES_HEIGHT);
            case "bars" ->
                draw(
                        bars(chart, result, locale),
                        90 + BAR_HEIGHT * Math.max(1, result.rows()) * chart.y().size());
            default ->
                throw new IllegalArgumentException(
                        "The chart '" + chart.kind() + "' cannot be drawn yet; there are 'lines' and 'bars'.");
        };
    }

    private static JFreeChart lines(Brief.Chart chart, Result result, LocaleStyle locale) {
        Column x = result.column(chart.x().name());
        XYSeriesCollection data = new XYSeriesCollection();
        series(chart, result).forEach((name, points) -> {
            XYSeries series = new XYSeries(name, true, true);
            points.forEach(p -> series.add(p.x(), p.y()));
            data.addSeries(series);
        });
        JFreeChart drawn = ChartFactory.createXYLineChart(
                null, null, null, data, PlotOrientation.VERTICAL, data.getSeriesCount() > 1, false, false);
        XYPlot plot = drawn.getXYPlot();
        boolean time = x.type().isTime();
        plot.setDomainAxis(
                time
                        ? new DateAxis(
                                title(result, chart.x().name()),
                                java.util.TimeZone.getTimeZone("UTC"),
                                java.util.Locale.ROOT)
                        : new NumberAxis(title(result, chart.x().name())));
        if (!time) {
            ((NumberAxis) plot.getDomainAxis()).setAutoRangeIncludesZero(false);
        }
        NumberAxis values = new NumberAxis(title(result, chart.y().get(0).name()));
        values.setAutoRangeIncludesZero(true);
        plot.setRangeAxis(values);
        ChartLook.lines(
                drawn, plot, locale, x.type().kind() == Kind.DATE || x.type().kind() == Kind.DATETIME);
        return drawn;
    }

    /** A point; y is null where a gap is wanted. */
    private record Point(
            double x, @org.jspecify.annotations.Nullable Double y) {}

    /** Points by series; more than eight series become the eight with the largest sums. */
    private static Map<String, List<Point>> series(Brief.Chart chart, Result result) {
        Map<String, List<Point>> series = new LinkedHashMap<>();
        Column x = result.column(chart.x().name());
        Column by = chart.by() == null ? null : result.column(chart.by().name());
        for (var y : chart.y()) {
            Column values = result.column(y.name());
            for (int row = 0; row < result.rows(); row++) {
                Object at = x.get(row);
                if (at == null) {
                    continue;
                }
                Object part = by == null ? title(result, y.name()) : by.get(row);
                String name = part == null ? "(missing)" : Texts.of(part);
                String full = by != null && chart.y().size() > 1 ? name + " " + title(result, y.name()) : name;
                Object value = values.get(row);
                series.computeIfAbsent(full, n -> new ArrayList<>())
                        .add(new Point(position(at, chart.x().name()), value == null ? null : number(value, y.name())));
            }
        }
        return series.size() <= MOST_SERIES ? series : largest(series);
    }

    private static Map<String, List<Point>> largest(Map<String, List<Point>> series) {
        List<String> names = new ArrayList<>(series.keySet());
        names.sort((a, b) -> Double.compare(sum(series.get(b)), sum(series.get(a))));
        Map<String, List<Point>> kept = new LinkedHashMap<>();
        series.forEach((name, points) -> {
            if (names.indexOf(name) < MOST_SERIES) {
                kept.put(name, points);
            }
        });
        return kept;
    }

    private static double sum(List<Point> points) {
        return points.stream().mapToDouble(p -> p.y() == null ? 0 : p.y()).sum();
    }

    private static double position(Object value, String field) {
        if (value instanceof LocalDate date) {
            return date.atStartOfDay().toInstant(ZoneOffset.UTC).toEpochMilli();
        }
        if (value instanceof java.time.LocalDateTime time) {
            return time.toInstant(ZoneOffset.UTC).toEpochMilli();
        }
        return number(value, field);
    }

    private static double number(Object value, String field) {
        if (value instanceof Number number) {
            return number.doubleValue();
        }
        throw new IllegalArgumentException(
                "The field '" + field + "' holds no numbers, so it cannot be drawn along an axis.");
    }

    private static JFreeChart bars(Brief.Chart chart, Result result, LocaleStyle locale) {
        DefaultCategoryDataset data = new DefaultCategoryDataset();
        Column x = result.column(chart.x().name());
        Column by = chart.by() == null ? null : result.column(chart.by().name());
        for (var y : chart.y()) {
            Column values = result.column(y.name());
            for (int row = 0; row < result.rows(); row++) {
                Object label = x.get(row);
                Object value = values.get(row);
                Object part = by == null ? title(result, y.name()) : by.get(row);
                data.addValue(
                        value == null ? null : number(value, y.name()),
                        part == null ? "(missing)" : Texts.of(part),
                        label == null ? "(missing)" : Texts.of(label));
            }
        }
        JFreeChart drawn = ChartFactory.createBarChart(
                null,
                title(result, chart.x().name()),
                title(result, chart.y().get(0).name()),
                data,
                PlotOrientation.HORIZONTAL,
                data.getRowCount() > 1,
                false,
                false);
        CategoryPlot plot = drawn.getCategoryPlot();
        ChartLook.bars(drawn, plot, locale);
        return drawn;
    }

    private static String title(Result result, String field) {
        return result.view().stream()
                .filter(v -> v.field().equals(field) && v.title() != null)
                .map(ViewColumn::title)
                .findFirst()
                .orElse(field);
    }

    private static Document emptySvg() {
        try {
            return DocumentBuilderFactory.newDefaultInstance()
                    .newDocumentBuilder()
                    .getDOMImplementation()
                    .createDocument("http://www.w3.org/2000/svg", "svg", null);
        } catch (ParserConfigurationException e) {
            throw new IllegalStateException(e);
        }
    }

    private static String draw(JFreeChart chart, int height) {
        Document document = emptySvg();
        SVGGeneratorContext context = SVGGeneratorContext.createDefault(document);
        context.setComment("");
        context.setPrecision(2);
        SVGGraphics2D graphics = new SVGGraphics2D(context, false);
        graphics.setSVGCanvasSize(new Dimension(WIDTH, height));
        chart.draw(graphics, new Rectangle2D.Double(0, 0, WIDTH, height));
        Element root = graphics.getRoot();
        root.setAttribute("viewBox", "0 0 " + WIDTH + " " + height);
        root.setAttribute("role", "img");
        root.removeAttribute("width");
        root.removeAttribute("height");
        StringWriter out = new StringWriter();
        try {
            graphics.stream(root, out, true, false);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        String svg = out.toString();
        return ChartLook.inPageColours(svg.substring(svg.indexOf("<svg")));
    }
}
