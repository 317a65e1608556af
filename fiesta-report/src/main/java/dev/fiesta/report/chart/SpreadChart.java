package dev.fiesta.report.chart;

import dev.fiesta.report.text.AxisFigures;
import dev.fiesta.report.text.CellFormat;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.axis.CategoryAxis;
import org.jfree.chart.axis.NumberAxis;
import org.jfree.chart.labels.BoxAndWhiskerToolTipGenerator;
import org.jfree.chart.plot.CategoryPlot;
import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.renderer.category.BoxAndWhiskerRenderer;
import org.jfree.chart.renderer.xy.XYBarRenderer;
import org.jfree.data.statistics.BoxAndWhiskerItem;
import org.jfree.data.statistics.DefaultBoxAndWhiskerCategoryDataset;
import org.jfree.data.statistics.DefaultMultiValueCategoryDataset;
import org.jfree.data.xy.XYIntervalSeries;
import org.jfree.data.xy.XYIntervalSeriesCollection;

/** How values are spread: a histogram, and boxes side by side. */
final class SpreadChart {
    private static final int USUAL_BINS = 20;

    private final Drawing asked;

    SpreadChart(Drawing asked) {
        this.asked = asked;
    }

    Charts.Drawn histogram() {
        double[] numbers = asked.data().numbers(asked.piece().x().name());
        int bins = asked.piece().options().bins() > 0 ? asked.piece().options().bins() : USUAL_BINS;
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
                asked.data().title(asked.piece().x().name()),
                false,
                asked.data().format(asked.piece().x().name()).figures());
        x.setAutoRangeIncludesZero(false);
        NumberAxis rows = ChartAxes.numbers(null, true, AxisFigures.plain(asked.locale()));
        XYPlot plot = new XYPlot(intervals, x, rows, renderer);
        renderer.setDefaultToolTipGenerator((d, s, i) -> asked.words()
                        .get(
                                "between",
                                ChartAxes.plain(series.getXLowValue(i), asked.locale()),
                                ChartAxes.plain(series.getXHighValue(i), asked.locale()))
                + ": " + asked.locale().number(Integer.toString(counts[i])));
        JFreeChart chart = ChartLook.chart(plot, false, asked.valueTitle());
        ChartLook.histogram(renderer);
        return new Charts.Drawn(chart, Charts.USUAL_HEIGHT, "");
    }

    Charts.Drawn boxes() {
        String field = asked.piece().y().get(0).name();
        CellFormat labels = asked.data().format(asked.piece().x().name());
        Map<String, List<Double>> groups = new LinkedHashMap<>();
        for (int row : asked.data().rows()) {
            Object at = asked.result().column(asked.piece().x().name()).get(row);
            Object value = asked.result().isHidden(field, row)
                    ? null
                    : asked.result().column(field).get(row);
            List<Double> values = groups.computeIfAbsent(
                    at == null ? asked.data().missing() : labels.print(at), l -> new ArrayList<>());
            if (value != null && asked.data().isInSight(ChartData.number(value, field))) {
                values.add(ChartData.number(value, field));
            }
        }
        DefaultBoxAndWhiskerCategoryDataset boxes = new DefaultBoxAndWhiskerCategoryDataset();
        DefaultMultiValueCategoryDataset outside = new DefaultMultiValueCategoryDataset();
        groups.forEach((label, values) -> {
            if (!values.isEmpty()) {
                boxes.add(box(values), asked.data().title(field), label);
                outside.add(outside(values), asked.data().title(field), label);
            }
        });
        BoxAndWhiskerRenderer renderer = new BoxAndWhiskerRenderer();
        CategoryPlot plot = new CategoryPlot(boxes, new CategoryAxis(null), asked.valueAxis(), renderer);
        plot.setDataset(1, outside);
        renderer.setDefaultToolTipGenerator(new BoxAndWhiskerToolTipGenerator() {
            private static final long serialVersionUID = 1L;

            @Override
            public String generateToolTip(org.jfree.data.category.CategoryDataset d, int row, int column) {
                return asked.words()
                        .get(
                                "median",
                                d.getColumnKey(column).toString(),
                                ChartAxes.plain(
                                        boxes.getMedianValue(row, column).doubleValue(), asked.locale()),
                                ChartAxes.plain(boxes.getQ1Value(row, column).doubleValue(), asked.locale()),
                                ChartAxes.plain(boxes.getQ3Value(row, column).doubleValue(), asked.locale()));
            }
        });
        JFreeChart chart = ChartLook.chart(plot, false, asked.valueTitle());
        ChartLook.boxes(plot, renderer, groups.keySet());
        return new Charts.Drawn(chart, Charts.USUAL_HEIGHT, asked.words().get("boxes"));
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
}
