package dev.fiesta.report;

import dev.fiesta.Result;
import dev.fiesta.language.BriefTree;
import dev.fiesta.problem.RequestException;
import dev.fiesta.report.ChartData.Point;
import dev.fiesta.report.ChartData.Series;
import dev.fiesta.value.LocaleStyle;
import dev.fiesta.value.Texts;
import java.time.temporal.Temporal;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
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
import org.jfree.chart.plot.Plot;
import org.jfree.chart.plot.PlotOrientation;
import org.jfree.chart.plot.SeriesRenderingOrder;
import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.renderer.category.BarRenderer;
import org.jfree.chart.renderer.category.BoxAndWhiskerRenderer;
import org.jfree.chart.renderer.category.StackedBarRenderer;
import org.jfree.chart.renderer.xy.XYAreaRenderer;
import org.jfree.chart.renderer.xy.XYBarRenderer;
import org.jfree.chart.renderer.xy.XYBlockRenderer;
import org.jfree.chart.renderer.xy.XYItemRenderer;
import org.jfree.chart.renderer.xy.XYLineAndShapeRenderer;
import org.jfree.data.Range;
import org.jfree.data.category.DefaultCategoryDataset;
import org.jfree.data.statistics.BoxAndWhiskerItem;
import org.jfree.data.statistics.DefaultBoxAndWhiskerCategoryDataset;
import org.jfree.data.statistics.DefaultMultiValueCategoryDataset;
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
    /** More points have no values beside them: they would lie on each other. */
    private static final int MOST_VALUES = 60;
    /** A longer name of a series stands in a legend. */
    private static final int LONGEST_NAME = 24;

    /**
     * A chart and how high it is drawn.
     *
     * @param note what it leaves out, or nothing
     */
    record Drawn(JFreeChart chart, int height, String note) {}

    /**
     * A line across the chart.
     *
     * @param value a number, or a day or time for an upright line
     */
    record Line(String text, Object value) {}

    private final BriefTree.Chart piece;
    private final Result result;
    private final LocaleStyle locale;
    private final Words words;
    private final ChartData data;
    private final List<Line> lines;

    /** @param data the rows of the result that are drawn */
    private Charts(BriefTree.Chart piece, Result result, LocaleStyle locale, ChartData data, List<Line> lines) {
        this.piece = piece;
        this.result = result;
        this.locale = locale;
        this.words = Words.of(locale.tag());
        this.data = data;
        this.lines = lines;
    }

    /**
     * A chart, or several small ones where the rows are parted.
     *
     * @param lines across it
     * @throws RequestException when a field does not suit its kind
     */
    static ChartSheet of(BriefTree.Chart piece, Result result, LocaleStyle locale, List<Line> lines) {
        ChartData data = new ChartData(piece, result, locale);
        Charts whole = new Charts(piece, result, locale, data, lines);
        if (piece.apart() == null) {
            return ChartSheet.of(whole.draw());
        }
        Map<String, Drawn> panels = new LinkedHashMap<>();
        data.parted(piece.apart().name())
                .forEach((name, part) -> panels.put(name, new Charts(piece, result, locale, part, lines).draw()));
        return ChartSheet.of(panels, whole.measured(), locale);
    }

    private Drawn draw() {
        Drawn drawn = switch (piece.kind()) {
            case "lines" -> lines(true);
            case "points" -> lines(false);
            case "areas" -> areas();
            case "columns" -> bars(PlotOrientation.VERTICAL);
            case "bars" -> bars(PlotOrientation.HORIZONTAL);
            case "histogram" -> histogram();
            case "boxes" -> boxes();
            default -> heat();
        };
        drawn.chart().getPlot().setNoDataMessage(words.get("no_rows"));
        lines.forEach(line -> mark(drawn.chart().getPlot(), line));
        return drawn;
    }

    /** What the values are. */
    private String measured() {
        return piece.kind().equals("histogram") ? words.get("row_count") : data.valueTitle();
    }

    /** What stands above the axis of values; of small charts all have the same, which is told once. */
    private String valueTitle() {
        return piece.apart() == null ? measured() : "";
    }

    private boolean stacked() {
        return piece.options().stacked();
    }

    /** Draws a line across a chart; what it stands at is in sight. */
    private void mark(Plot plot, Line line) {
        boolean time = line.value() instanceof Temporal;
        double at = ChartData.position(line.value());
        if (plot instanceof XYPlot xy && time == data.isTime() && time) {
            xy.addDomainMarker(ChartLook.marker(at, line.text(), true));
            xy.getDomainAxis().setRange(Range.expandToInclude(xy.getDomainAxis().getRange(), at));
        } else if (plot instanceof XYPlot xy && !time && !piece.kind().equals("heat")) {
            xy.addRangeMarker(ChartLook.marker(at, line.text(), false));
            xy.getRangeAxis().setRange(Range.expandToInclude(xy.getRangeAxis().getRange(), at));
        } else if (plot instanceof CategoryPlot bars && !time) {
            bars.addRangeMarker(ChartLook.marker(at, line.text(), bars.getOrientation() == PlotOrientation.HORIZONTAL));
            bars.getRangeAxis()
                    .setRange(Range.expandToInclude(bars.getRangeAxis().getRange(), at));
        } else {
            throw new RequestException("The line '" + line.text() + "' stands at " + Texts.of(line.value())
                    + ", for which the chart '" + piece.kind() + "' of '" + result.name() + "' has no axis.");
        }
    }

    private Drawn lines(boolean joined) {
        List<Series> series = data.series();
        XYSeriesCollection points = new XYSeriesCollection();
        series.forEach(s -> points.addSeries(line(s)));
        XYLineAndShapeRenderer renderer = new XYLineAndShapeRenderer(joined, !joined);
        renderer.setDrawSeriesLineAsPath(joined);
        XYPlot plot = new XYPlot(points, xAxis(series), valueAxis(), renderer);
        tips(renderer, series);
        List<EndNames.Name> names = joined ? endNames(series) : List.of();
        JFreeChart chart = ChartLook.chart(plot, series.size() > 1 && names.isEmpty(), valueTitle());
        ChartLook.lines(renderer, series, joined);
        if (!names.isEmpty()) {
            ChartLook.endNames(plot, names);
        }
        written(renderer, series);
        return new Drawn(chart, USUAL_HEIGHT, others(series));
    }

    /** The names of several series where they end; none where a name is too long to stand there. */
    private static List<EndNames.Name> endNames(List<Series> series) {
        List<EndNames.Name> names = new ArrayList<>();
        for (int i = 0; i < series.size(); i++) {
            Series one = series.get(i);
            double[] known = one.points().stream()
                    .filter(p -> p.y() != null)
                    .sorted(Comparator.comparingDouble(Point::at))
                    .mapToDouble(p -> Objects.requireNonNull(p.y()))
                    .toArray();
            if (!one.other() && known.length > 0) {
                names.add(new EndNames.Name(one.name(), known[known.length - 1], ChartLook.series(i)));
            }
        }
        boolean fit = series.size() > 1 && names.stream().allMatch(n -> n.text().length() <= LONGEST_NAME);
        return fit ? names : List.of();
    }

    /** Writes the values beside points, where that was asked for and they are few. */
    private void written(XYItemRenderer renderer, List<Series> series) {
        int points = series.stream().mapToInt(s -> s.points().size()).sum();
        if (!piece.options().values() || points > MOST_VALUES) {
            return;
        }
        renderer.setDefaultItemLabelGenerator((d, s, i) -> series.get(s).points().stream()
                .filter(p -> p.at() == d.getXValue(s, i))
                .map(Point::shown)
                .findFirst()
                .orElse(""));
        renderer.setDefaultItemLabelFont(ChartLook.valueFont());
        renderer.setDefaultItemLabelPaint(ChartLook.ink());
        renderer.setDefaultItemLabelsVisible(true);
    }

    private static XYSeries line(Series series) {
        XYSeries line = new XYSeries(series.name(), true, true);
        series.points().forEach(p -> line.add(p.at(), p.y()));
        return line;
    }

    private String others(List<Series> series) {
        long others = series.stream().filter(Series::other).count();
        return others == 0
                ? ""
                : words.get(others == 1 ? "one_smaller_grey" : "smaller_grey", locale.number(Long.toString(others)));
    }

    private Drawn areas() {
        List<Series> series = largest();
        boolean stacked = stacked();
        XYSeriesCollection areas = new XYSeriesCollection();
        int[] order = new int[series.size()];
        List<Series> sums = stacked ? sums(series) : series;
        for (int i = 0; i < order.length; i++) {
            // A stack is drawn from its top: each area, from zero to its sum, covers what lies below it of those
            // before.
            order[i] = stacked ? order.length - 1 - i : i;
            areas.addSeries(line(sums.get(order[i])));
        }
        XYAreaRenderer renderer = new XYAreaRenderer(XYAreaRenderer.AREA);
        XYPlot plot = new XYPlot(areas, xAxis(series), valueAxis(), renderer);
        plot.setSeriesRenderingOrder(SeriesRenderingOrder.FORWARD);
        renderer.setDefaultToolTipGenerator((d, s, i) -> tip(series, order[s], d.getXValue(s, i)));
        List<EndNames.Name> names = series.size() > 1 ? areaNames(series, sums) : List.of();
        JFreeChart chart = ChartLook.chart(plot, series.size() > 1 && names.isEmpty(), valueTitle());
        ChartLook.areas(renderer, order, stacked);
        if (!names.isEmpty()) {
            ChartLook.endNames(plot, names);
        }
        return new Drawn(chart, USUAL_HEIGHT, left());
    }

    private List<EndNames.Name> areaNames(List<Series> series, List<Series> sums) {
        List<EndNames.Name> tops = endNames(sums);
        if (!stacked() || tops.size() < sums.size()) {
            return tops;
        }
        List<EndNames.Name> middles = new ArrayList<>();
        double below = 0;
        for (EndNames.Name top : tops) {
            middles.add(new EndNames.Name(top.text(), (below + top.at()) / 2, top.paint()));
            below = top.at();
        }
        return middles;
    }

    /** Each series with those below it added; what is missing adds nothing. */
    private List<Series> sums(List<Series> series) {
        TreeMap<Double, Double> all = new TreeMap<>();
        series.forEach(s -> s.points().forEach(p -> all.put(p.at(), 0.0)));
        List<Series> sums = new ArrayList<>();
        for (Series one : series) {
            for (Point point : one.points()) {
                double y = point.y() == null ? 0 : Objects.requireNonNull(point.y());
                if (y < 0) {
                    throw new RequestException("Areas stand on one another only where no value is negative; '"
                            + one.name() + "' has " + point.shown() + " at " + point.label() + ".");
                }
                all.merge(point.at(), y, Double::sum);
            }
            List<Point> points = new ArrayList<>();
            all.forEach((at, sum) -> points.add(new Point(at, "", sum, "")));
            sums.add(new Series(one.name(), points, false));
        }
        return sums;
    }

    /** The largest series; in stacks the others as one more, because stacks add anyway. */
    private List<Series> largest() {
        List<Series> all = data.series();
        List<Series> large =
                new ArrayList<>(all.stream().filter(s -> !s.other()).toList());
        if (!stacked() || large.size() == all.size()) {
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
        large.add(new Series(words.get("rest"), List.copyOf(sums.values()), false));
        return large;
    }

    private Point added(Point a, Point b) {
        double sum = Objects.requireNonNull(a.y()) + Objects.requireNonNull(b.y());
        return new Point(a.at(), a.label(), sum, ChartAxes.plain(sum, locale));
    }

    private String left() {
        List<Series> all = data.series();
        long others = all.stream().filter(Series::other).count();
        return others == 0
                ? ""
                : stacked()
                        ? words.get("rest_of", locale.number(Long.toString(others)))
                        : words.get("largest_of", locale.number(Integer.toString(all.size())));
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
        BarRenderer renderer = stacked() ? new StackedBarRenderer() : new BarRenderer();
        ValueAxis values = valueAxis();
        CategoryPlot plot = new CategoryPlot(bars, new CategoryAxis(null), values, renderer);
        plot.setOrientation(orientation);
        Map<String, String> shown = new LinkedHashMap<>();
        series.forEach(s -> s.points().forEach(p -> shown.put(s.name() + "\0" + p.label(), p.shown())));
        renderer.setDefaultToolTipGenerator((d, row, column) -> {
            String name = d.getRowKey(row).toString();
            String label = d.getColumnKey(column).toString();
            return (series.size() > 1 ? label + ", " + name : label) + ": " + shown.get(name + "\0" + label);
        });
        if (piece.options().values() && bars.getColumnCount() * bars.getRowCount() <= MOST_VALUES) {
            ChartLook.written(renderer, orientation, values, shown::get);
        }
        JFreeChart chart = ChartLook.chart(plot, series.size() > 1, valueTitle());
        ChartLook.bars(plot, renderer, series.size(), labels);
        int across = stacked() ? 1 : series.size();
        int height = orientation == PlotOrientation.VERTICAL
                ? USUAL_HEIGHT
                : 90 + Math.max(1, labels.size()) * (across == 1 ? ROW_HEIGHT : 10 + 16 * across);
        return new Drawn(chart, height, left());
    }

    private Drawn histogram() {
        double[] numbers = data.numbers(piece.x().name());
        int bins = piece.options().bins() > 0 ? piece.options().bins() : USUAL_BINS;
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
        NumberAxis x = ChartAxes.numbers(
                data.title(piece.x().name()),
                false,
                data.format(piece.x().name()).figures());
        x.setAutoRangeIncludesZero(false);
        NumberAxis rows = ChartAxes.numbers(null, true, ChartAxes.Figures.plain(locale));
        XYPlot plot = new XYPlot(intervals, x, rows, renderer);
        renderer.setDefaultToolTipGenerator((d, s, i) -> words.get(
                        "between",
                        ChartAxes.plain(series.getXLowValue(i), locale),
                        ChartAxes.plain(series.getXHighValue(i), locale))
                + ": " + locale.number(Integer.toString(counts[i])));
        JFreeChart chart = ChartLook.chart(plot, false, valueTitle());
        ChartLook.histogram(renderer);
        return new Drawn(chart, USUAL_HEIGHT, "");
    }

    private Drawn boxes() {
        String field = piece.y().get(0).name();
        CellFormat labels = data.format(piece.x().name());
        Map<String, List<Double>> groups = new LinkedHashMap<>();
        for (int row : data.rows()) {
            Object at = result.column(piece.x().name()).get(row);
            Object value =
                    result.isHidden(field, row) ? null : result.column(field).get(row);
            List<Double> values =
                    groups.computeIfAbsent(at == null ? data.missing() : labels.print(at), l -> new ArrayList<>());
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
        CategoryPlot plot = new CategoryPlot(boxes, new CategoryAxis(null), valueAxis(), renderer);
        plot.setDataset(1, outside);
        renderer.setDefaultToolTipGenerator(new BoxAndWhiskerToolTipGenerator() {
            private static final long serialVersionUID = 1L;

            @Override
            public String generateToolTip(org.jfree.data.category.CategoryDataset d, int row, int column) {
                return words.get(
                        "median",
                        d.getColumnKey(column).toString(),
                        ChartAxes.plain(boxes.getMedianValue(row, column).doubleValue(), locale),
                        ChartAxes.plain(boxes.getQ1Value(row, column).doubleValue(), locale),
                        ChartAxes.plain(boxes.getQ3Value(row, column).doubleValue(), locale));
            }
        });
        JFreeChart chart = ChartLook.chart(plot, false, valueTitle());
        ChartLook.boxes(plot, renderer, groups.keySet());
        return new Drawn(chart, USUAL_HEIGHT, words.get("boxes"));
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
        for (int row : data.rows()) {
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
        SymbolAxis y = new SymbolAxis(null, down.toArray(String[]::new));
        y.setInverted(true);
        XYPlot plot = new XYPlot(dataset, x, y, renderer);
        renderer.setDefaultToolTipGenerator((d, s, i) -> tips.get(i));
        JFreeChart chart = ChartLook.chart(plot, false, valueTitle());
        ChartLook.heat(chart, plot, renderer, columns[2], data.figures());
        return new Drawn(chart, 150 + 34 * Math.max(1, down.size()), "");
    }

    private String label(String field, CellFormat format, int row) {
        Object value = result.column(field).get(row);
        return value == null ? data.missing() : format.print(value);
    }

    /** The values of a key in their order: ascending for times and numbers, as met for texts. */
    private List<String> labels(String field, CellFormat format) {
        Integer[] rows = Arrays.stream(data.rows()).boxed().toArray(Integer[]::new);
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
        String field = piece.x().name();
        if (data.isTime()) {
            double[] days = series.stream()
                    .flatMap(s -> s.points().stream())
                    .mapToDouble(Point::at)
                    .distinct()
                    .sorted()
                    .toArray();
            return ChartAxes.times(days, data.isDay(), data.format(field).datePattern(), locale);
        }
        if (data.isPlaces()) {
            return new SymbolAxis(null, data.places().toArray(String[]::new));
        }
        NumberAxis axis =
                ChartAxes.numbers(data.title(field), false, data.format(field).figures());
        axis.setAutoRangeIncludesZero(false);
        return axis;
    }

    private ValueAxis valueAxis() {
        return ChartAxes.values(
                piece.options().log(),
                !piece.kind().equals("points") && !piece.kind().equals("boxes"),
                data.figures());
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
