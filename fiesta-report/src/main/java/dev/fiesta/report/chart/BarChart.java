package dev.fiesta.report.chart;

import dev.fiesta.report.chart.ChartData.Point;
import dev.fiesta.report.chart.ChartData.Series;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.axis.CategoryAxis;
import org.jfree.chart.axis.ValueAxis;
import org.jfree.chart.plot.CategoryPlot;
import org.jfree.chart.plot.PlotOrientation;
import org.jfree.chart.renderer.category.BarRenderer;
import org.jfree.chart.renderer.category.StackedBarRenderer;
import org.jfree.data.category.DefaultCategoryDataset;

/** Upright and lying bars. */
final class BarChart {
    private static final int ROW_HEIGHT = 30;
    /** More bars have no values at their ends. */
    private static final int MOST_VALUES = 60;

    private final Drawing asked;

    BarChart(Drawing asked) {
        this.asked = asked;
    }

    Charts.Drawn bars(PlotOrientation orientation) {
        List<Series> series = asked.largest();
        DefaultCategoryDataset bars = new DefaultCategoryDataset();
        Set<String> labels = new LinkedHashSet<>();
        for (Series one : series) {
            for (Point point : one.points()) {
                bars.addValue(point.y(), one.name(), point.label());
                labels.add(point.label());
            }
        }
        BarRenderer renderer = asked.stacked() ? new StackedBarRenderer() : new BarRenderer();
        renderer.setIncludeBaseInRange(!asked.piece().options().log());
        ValueAxis values = asked.valueAxis();
        CategoryPlot plot = new CategoryPlot(
                bars, asked.data().isTime() ? new PeriodAxis() : new CategoryAxis(null), values, renderer);
        plot.setOrientation(orientation);
        Map<String, String> shown = new LinkedHashMap<>();
        series.forEach(s -> s.points().forEach(p -> shown.put(s.name() + "\0" + p.label(), p.shown())));
        renderer.setDefaultToolTipGenerator((d, row, column) -> {
            String name = d.getRowKey(row).toString();
            String label = d.getColumnKey(column).toString();
            return (series.size() > 1 ? label + ", " + name : label) + ": " + shown.get(name + "\0" + label);
        });
        if (asked.piece().options().values() && bars.getColumnCount() * bars.getRowCount() <= MOST_VALUES) {
            ChartLook.written(renderer, orientation, values, shown::get);
        }
        List<String> key = asked.key(series);
        JFreeChart chart = ChartLook.chart(plot, series.size() > 1 && key.isEmpty(), asked.valueTitle());
        List<String> names = series.stream().map(Series::name).toList();
        int[] colours = new int[bars.getRowCount()];
        Arrays.setAll(colours, row -> names.indexOf(bars.getRowKey(row).toString()));
        ChartLook.bars(plot, renderer, colours, labels);
        int across = asked.stacked() ? 1 : series.size();
        int height = orientation == PlotOrientation.VERTICAL
                ? Charts.USUAL_HEIGHT
                : 90 + Math.max(1, labels.size()) * (across == 1 ? ROW_HEIGHT : 10 + 16 * across);
        return new Charts.Drawn(chart, height, asked.left(), key);
    }
}
