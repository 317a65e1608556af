package dev.fiesta.report;

import dev.fiesta.Result;
import dev.fiesta.language.BriefTree;
import dev.fiesta.problem.RequestException;
import dev.fiesta.report.ChartData.Point;
import dev.fiesta.report.ChartData.Series;
import dev.fiesta.value.LocaleStyle;
import dev.fiesta.value.Texts;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.axis.CategoryAxis;
import org.jfree.chart.axis.NumberAxis;
import org.jfree.chart.axis.SymbolAxis;
import org.jfree.chart.axis.ValueAxis;
import org.jfree.chart.labels.BoxAndWhiskerToolTipGenerator;
import org.jfree.chart.plot.CategoryPlot;
import org.jfree.chart.plot.PlotOrientation;
import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.renderer.category.BarRenderer;
import org.jfree.chart.renderer.category.BoxAndWhiskerRenderer;
import org.jfree.chart.renderer.category.StackedBarRenderer;
import org.jfree.chart.renderer.xy.StackedXYAreaRenderer2;
import org.jfree.chart.renderer.xy.XYAreaRenderer;
import org.jfree.chart.renderer.xy.XYBarRenderer;
import org.jfree.chart.renderer.xy.XYBlockRenderer;
import org.jfree.chart.renderer.xy.XYItemRenderer;
import org.jfree.chart.renderer.xy.XYLineAndShapeRenderer;
import org.jfree.data.category.DefaultCategoryDataset;
import org.jfree.data.statistics.BoxAndWhiskerItem;
import org.jfree.data.statistics.DefaultBoxAndWhiskerCategoryDataset;
import org.jfree.data.statistics.DefaultMultiValueCategoryDataset;
import org.jfree.data.xy.CategoryTableXYDataset;
import org.jfree.data.xy.DefaultXYZDataset;
import org.jfree.data.xy.XYIntervalSeries;
import org.jfree.data.xy.XYIntervalSeriesCollection;
import org.jfree.data.xy.XYSeries;
import org.jfree.data.xy.XYSeriesCollection;
import org.jspecify.annotations.Nullable;

/** Makes the charts of a report. */
final class Charts {
    private static final int USUAL_BINS = 20;
    private static final int ROW_HEIGHT = 30;
    private static final int USUAL_HEIGHT = 400;
    private static final String REST = "Rest";

    /**
     * A chart and how high it is drawn.
     *
     * @param note what it leaves out, or nothing
     */
    record Drawn(JFreeChart chart, int height, String note) {}

    private final BriefTree.Chart piece;
    private final Result result;
    private final LocaleStyle locale;
    private final ChartData data;

    private Charts(BriefTree.Chart piece, Result result, LocaleStyle locale) {
        this.piece = piece;
        this.result = result;
        this.locale = locale;
        this.data = new ChartData(piece, result, locale);
    }

    /**
     * A chart.
     *
     * @throws RequestException when a field does not suit its kind
     */
    static Drawn of(BriefTree.Chart piece, Result result, LocaleStyle locale) {
        return new Charts(piece, result, locale).draw();
    }

    private Drawn draw() {
        return switch (piece.kind()) {
            case "lines" -> lines(true);
            case "points" -> lines(false);
            case "areas" -> areas();
            case "columns" -> bars(PlotOrientation.VERTICAL);
            case "bars" -> bars(PlotOrientation.HORIZONTAL);
            case "histogram" -> histogram();
            case "boxes" -> boxes();
            default -> heat();
        };
    }

    private Drawn lines(boolean joined) {
        List<Series> series = data.series();
        XYSeriesCollection points = new XYSeriesCollection();
        series.forEach(s -> points.addSeries(line(s)));
        XYLineAndShapeRenderer renderer = new XYLineAndShapeRenderer(joined, !joined);
        renderer.setDrawSeriesLineAsPath(joined);
        XYPlot plot = new XYPlot(points, xAxis(series), values(data.valueTitle()), renderer);
        tips(renderer, series);
        JFreeChart chart = ChartLook.chart(plot, series.size() > 1);
        ChartLook.lines(renderer, series, joined);
        return new Drawn(chart, USUAL_HEIGHT, others(series, " in grey"));
    }

    private static XYSeries line(Series series) {
        XYSeries line = new XYSeries(series.name(), true, true);
        series.points().forEach(p -> line.add(p.at(), p.y()));
        return line;
    }

    private static String others(List<Series> series, String how) {
        long others = series.stream().filter(Series::other).count();
        return others == 0 ? "" : others + (others == 1 ? " smaller series" : " smaller series, all") + how;
    }

    private Drawn areas() {
        List<Series> series = largest();
        ValueAxis x = xAxis(series);
        XYItemRenderer renderer =
                piece.stacked() ? new StackedXYAreaRenderer2() : new XYAreaRenderer(XYAreaRenderer.AREA);
        CategoryTableXYDataset stacked = new CategoryTableXYDataset();
        XYSeriesCollection plain = new XYSeriesCollection();
        for (Series one : series) {
            one.points().stream().filter(p -> p.y() != null).forEach(p -> stacked.add(p.at(), p.y(), one.name()));
            plain.addSeries(line(one));
        }
        XYPlot plot = new XYPlot(piece.stacked() ? stacked : plain, x, values(data.valueTitle()), renderer);
        tips(renderer, series);
        JFreeChart chart = ChartLook.chart(plot, series.size() > 1);
        ChartLook.areas(renderer, series.size(), piece.stacked());
        return new Drawn(chart, USUAL_HEIGHT, left());
    }

    /** The largest series; in stacks the others as one more, because stacks add anyway. */
    private List<Series> largest() {
        List<Series> all = data.series();
        List<Series> large =
                new ArrayList<>(all.stream().filter(s -> !s.other()).toList());
        if (!piece.stacked() || large.size() == all.size()) {
            return large;
        }
        Map<Double, Point> sums = new TreeMap<>();
        for (Series series : all) {
            for (Point point : series.points()) {
                if (series.other() && point.y() != null) {
                    sums.merge(point.at(), point, this::added);
                }
            }
        }
        large.add(new Series(REST, List.copyOf(sums.values()), false));
        return large;
    }

    private Point added(Point a, Point b) {
        double sum = Objects.requireNonNull(a.y()) + Objects.requireNonNull(b.y());
        return new Point(a.at(), a.label(), sum, ChartLook.plain(sum, locale));
    }

    private String left() {
        List<Series> all = data.series();
        long others = all.stream().filter(Series::other).count();
        return others == 0 || piece.stacked()
                ? others == 0 ? "" : REST + ": " + others + " smaller series together"
                : "the eight largest of " + all.size() + " series";
    }

    private Drawn bars(PlotOrientation orientation) {
        List<Series> series = largest();
        DefaultCategoryDataset bars = new DefaultCategoryDataset();
        Set<String> labels = new LinkedHashSet<>();
        for (Series one : series) {
            for (Point point : one.points()) {
                bars.addValue(point.y(), one.name(), point.label());
                labels.add(point.label());
            }
        }
        BarRenderer renderer = piece.stacked() ? new StackedBarRenderer() : new BarRenderer();
        CategoryPlot plot = new CategoryPlot(
                bars, new CategoryAxis(data.title(piece.x().name())), values(data.valueTitle()), renderer);
        plot.setOrientation(orientation);
        Map<String, String> shown = new LinkedHashMap<>();
        series.forEach(s -> s.points().forEach(p -> shown.put(s.name() + "\0" + p.label(), p.shown())));
        renderer.setDefaultToolTipGenerator((d, row, column) -> {
            String name = d.getRowKey(row).toString();
            String label = d.getColumnKey(column).toString();
            return (series.size() > 1 ? label + ", " + name : label) + ": " + shown.get(name + "\0" + label);
        });
        JFreeChart chart = ChartLook.chart(plot, series.size() > 1);
        ChartLook.bars(plot, renderer, series.size(), labels);
        int across = piece.stacked() ? 1 : series.size();
        int height = orientation == PlotOrientation.VERTICAL
                ? USUAL_HEIGHT
                : 90 + Math.max(1, labels.size()) * (across == 1 ? ROW_HEIGHT : 10 + 16 * across);
        return new Drawn(chart, height, left());
    }

    private Drawn histogram() {
        double[] numbers = ChartData.numbers(result, piece.x().name());
        int bins = piece.bins() > 0 ? piece.bins() : USUAL_BINS;
        double least = Arrays.stream(numbers).min().orElse(0);
        double greatest = Arrays.stream(numbers).max().orElse(1);
        double width = greatest > least ? (greatest - least) / bins : 1;
        int[] counts = new int[bins];
        for (double number : numbers) {
            counts[Math.min(bins - 1, (int) ((number - least) / width))]++;
        }
        XYIntervalSeries series = new XYIntervalSeries("count");
        for (int b = 0; b < bins; b++) {
            double from = least + b * width;
            series.add(from + width / 2, from, from + width, counts[b], 0, counts[b]);
        }
        XYIntervalSeriesCollection intervals = new XYIntervalSeriesCollection();
        intervals.addSeries(series);
        XYBarRenderer renderer = new XYBarRenderer(0.04);
        NumberAxis x = new NumberAxis(data.title(piece.x().name()));
        x.setAutoRangeIncludesZero(false);
        ValueAxis rows = values("Rows");
        rows.setStandardTickUnits(NumberAxis.createIntegerTickUnits());
        XYPlot plot = new XYPlot(intervals, ChartLook.numbers(x, locale), rows, renderer);
        renderer.setDefaultToolTipGenerator((d, s, i) -> ChartLook.plain(series.getXLowValue(i), locale) + " to "
                + ChartLook.plain(series.getXHighValue(i), locale) + ": "
                + locale.number(Integer.toString(counts[i])));
        JFreeChart chart = ChartLook.chart(plot, false);
        ChartLook.histogram(renderer);
        return new Drawn(chart, USUAL_HEIGHT, "");
    }

    private Drawn boxes() {
        String field = piece.y().get(0).name();
        CellFormat labels = data.format(piece.x().name());
        Map<String, List<Double>> groups = new LinkedHashMap<>();
        for (int row = 0; row < result.rows(); row++) {
            Object at = result.column(piece.x().name()).get(row);
            Object value =
                    result.isHidden(field, row) ? null : result.column(field).get(row);
            List<Double> values =
                    groups.computeIfAbsent(at == null ? Texts.MISSING_KEY : labels.print(at), l -> new ArrayList<>());
            if (value != null) {
                values.add(ChartData.number(value, field));
            }
        }
        DefaultBoxAndWhiskerCategoryDataset boxes = new DefaultBoxAndWhiskerCategoryDataset();
        DefaultMultiValueCategoryDataset outside = new DefaultMultiValueCategoryDataset();
        groups.forEach((label, values) -> {
            if (!values.isEmpty()) {
                boxes.add(box(values), data.title(field), label);
                outside.add(outside(values), data.title(field), label);
            }
        });
        BoxAndWhiskerRenderer renderer = new BoxAndWhiskerRenderer();
        CategoryPlot plot = new CategoryPlot(
                boxes, new CategoryAxis(data.title(piece.x().name())), values(data.title(field)), renderer);
        plot.setDataset(1, outside);
        renderer.setDefaultToolTipGenerator(new BoxAndWhiskerToolTipGenerator() {
            private static final long serialVersionUID = 1L;

            @Override
            public String generateToolTip(org.jfree.data.category.CategoryDataset d, int row, int column) {
                return d.getColumnKey(column) + ": median "
                        + ChartLook.plain(boxes.getMedianValue(row, column).doubleValue(), locale) + ", half between "
                        + ChartLook.plain(boxes.getQ1Value(row, column).doubleValue(), locale) + " and "
                        + ChartLook.plain(boxes.getQ3Value(row, column).doubleValue(), locale);
            }
        });
        JFreeChart chart = ChartLook.chart(plot, false);
        ChartLook.boxes(plot, renderer, groups.keySet());
        return new Drawn(
                chart,
                USUAL_HEIGHT,
                "box: the middle half, line: the median, whiskers: to the last value within 1.5 times the box, rings: values beyond");
    }

    private static BoxAndWhiskerItem box(List<Double> values) {
        double[] sorted = values.stream().mapToDouble(d -> d).sorted().toArray();
        double low = quantile(sorted, 0.25);
        double high = quantile(sorted, 0.75);
        double reach = 1.5 * (high - low);
        double least = Arrays.stream(sorted).filter(v -> v >= low - reach).min().orElse(low);
        double most = Arrays.stream(sorted).filter(v -> v <= high + reach).max().orElse(high);
        return new BoxAndWhiskerItem(null, quantile(sorted, 0.5), low, high, least, most, least, most, List.of());
    }

    /** The values beyond the whiskers. */
    private static List<Double> outside(List<Double> values) {
        BoxAndWhiskerItem box = box(values);
        double least = box.getMinRegularValue().doubleValue();
        double most = box.getMaxRegularValue().doubleValue();
        return values.stream().filter(v -> v < least || v > most).toList();
    }

    private static double quantile(double[] sorted, double part) {
        double place = part * (sorted.length - 1);
        int below = (int) Math.floor(place);
        int above = Math.min(below + 1, sorted.length - 1);
        return sorted[below] + (place - below) * (sorted[above] - sorted[below]);
    }

    /** A coloured field for each pair of keys: x across, {@code by} down. */
    private Drawn heat() {
        if (piece.by() == null) {
            throw new RequestException("The chart 'heat' shows two keys and a figure: x FIELD y FIGURE by FIELD.");
        }
        String figure = piece.y().get(0).name();
        CellFormat xs = data.format(piece.x().name());
        CellFormat ys = data.format(piece.by().name());
        CellFormat figures = data.format(figure);
        List<String> across = labels(piece.x().name(), xs);
        List<String> down = labels(piece.by().name(), ys);
        List<double[]> cells = new ArrayList<>();
        List<String> tips = new ArrayList<>();
        for (int row = 0; row < result.rows(); row++) {
            Object value =
                    result.isHidden(figure, row) ? null : result.column(figure).get(row);
            if (value != null) {
                String x = label(piece.x().name(), xs, row);
                String y = label(piece.by().name(), ys, row);
                cells.add(new double[] {across.indexOf(x), down.indexOf(y), ChartData.number(value, figure)});
                tips.add(x + ", " + y + ": " + figures.print(value));
            }
        }
        double[][] columns = new double[3][cells.size()];
        for (int i = 0; i < cells.size(); i++) {
            for (int d = 0; d < 3; d++) {
                columns[d][i] = cells.get(i)[d];
            }
        }
        DefaultXYZDataset dataset = new DefaultXYZDataset();
        dataset.addSeries(data.title(figure), columns);
        XYBlockRenderer renderer = new XYBlockRenderer();
        renderer.setBlockWidth(0.96);
        renderer.setBlockHeight(0.94);
        SymbolAxis x = new SymbolAxis(data.title(piece.x().name()), across.toArray(String[]::new));
        SymbolAxis y = new SymbolAxis(data.title(piece.by().name()), down.toArray(String[]::new));
        y.setInverted(true);
        XYPlot plot = new XYPlot(dataset, x, y, renderer);
        renderer.setDefaultToolTipGenerator((d, s, i) -> tips.get(i));
        JFreeChart chart = ChartLook.chart(plot, false);
        ChartLook.heat(chart, plot, renderer, columns[2], data.title(figure), locale);
        return new Drawn(chart, 150 + 34 * Math.max(1, down.size()), "");
    }

    private String label(String field, CellFormat format, int row) {
        Object value = result.column(field).get(row);
        return value == null ? Texts.MISSING_KEY : format.print(value);
    }

    /** The values of a key in their order: ascending for times and numbers, as met for texts. */
    private List<String> labels(String field, CellFormat format) {
        Integer[] rows = new Integer[result.rows()];
        Arrays.setAll(rows, i -> i);
        if (!result.column(field).type().equals(dev.fiesta.value.Type.TEXT)) {
            Arrays.sort(rows, (a, b) -> compare(field, a, b));
        }
        Set<String> labels = new LinkedHashSet<>();
        for (int row : rows) {
            labels.add(label(field, format, row));
        }
        return List.copyOf(labels);
    }

    @SuppressWarnings("unchecked")
    private int compare(String field, int a, int b) {
        Object left = result.column(field).get(a);
        Object right = result.column(field).get(b);
        return left == null || right == null
                ? Boolean.compare(left == null, right == null)
                : ((Comparable<Object>) left).compareTo(right);
    }

    private ValueAxis xAxis(List<Series> series) {
        String title = data.title(piece.x().name());
        if (data.isTime()) {
            double[] days = series.stream()
                    .flatMap(s -> s.points().stream())
                    .mapToDouble(Point::at)
                    .distinct()
                    .sorted()
                    .toArray();
            return ChartLook.times(title, days, data.isDay(), locale);
        }
        if (data.isPlaces()) {
            return new SymbolAxis(title, data.places().toArray(String[]::new));
        }
        NumberAxis axis = new NumberAxis(title);
        axis.setAutoRangeIncludesZero(false);
        return ChartLook.numbers(axis, locale);
    }

    private ValueAxis values(String title) {
        return ChartLook.values(
                title,
                piece.log(),
                !piece.kind().equals("points") && !piece.kind().equals("boxes"),
                locale);
    }

    private static void tips(XYItemRenderer renderer, List<Series> series) {
        renderer.setDefaultToolTipGenerator((d, s, i) -> tip(series, s, d.getXValue(s, i)));
    }

    private static @Nullable String tip(List<Series> series, int number, double at) {
        Series one = series.get(number);
        String name = series.size() > 1 ? one.name() + ", " : "";
        return one.points().stream()
                .filter(p -> p.at() == at && p.y() != null)
                .map(p -> name + p.label() + ": " + p.shown())
                .findFirst()
                .orElse(null);
    }
}
