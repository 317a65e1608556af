package dev.fiesta.report.chart;

import dev.fiesta.problem.RequestException;
import dev.fiesta.report.chart.ChartData.Point;
import dev.fiesta.report.chart.ChartData.Series;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Objects;
import java.util.TreeMap;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.plot.SeriesRenderingOrder;
import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.renderer.xy.XYAreaRenderer;
import org.jfree.chart.renderer.xy.XYItemRenderer;
import org.jfree.chart.renderer.xy.XYLineAndShapeRenderer;
import org.jfree.data.xy.XYSeries;
import org.jfree.data.xy.XYSeriesCollection;
import org.jspecify.annotations.Nullable;

/** Lines, points and areas: values along x, by series. */
final class SeriesChart {
    /** More points have no values beside them: they would lie on each other. */
    private static final int MOST_VALUES = 60;
    /** A longer name of a series stands in a legend. */
    private static final int LONGEST_NAME = 24;

    private final Drawing asked;

    SeriesChart(Drawing asked) {
        this.asked = asked;
    }

    Charts.Drawn lines(boolean joined) {
        List<Series> series = asked.data().series();
        XYSeriesCollection points = new XYSeriesCollection();
        series.forEach(s -> points.addSeries(line(s)));
        XYLineAndShapeRenderer renderer = new XYLineAndShapeRenderer(joined, !joined);
        renderer.setDrawSeriesLineAsPath(joined);
        XYPlot plot = new XYPlot(points, asked.xAxis(series), asked.valueAxis(), renderer);
        tips(renderer, series);
        List<String> key = asked.key(series);
        List<EndNames.Name> names = joined && key.isEmpty() ? endNames(series) : List.of();
        boolean legend = series.size() > 1 && names.isEmpty() && key.isEmpty();
        JFreeChart chart = ChartLook.chart(plot, legend, asked.valueTitle());
        ChartLook.lines(renderer, series, joined);
        if (!names.isEmpty()) {
            ChartLook.endNames(plot, names);
        }
        written(renderer, series);
        return new Charts.Drawn(chart, Charts.USUAL_HEIGHT, asked.others(series), key);
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
                names.add(new EndNames.Name(one.name(), known[known.length - 1], ChartInk.series(i)));
            }
        }
        boolean fit = series.size() > 1 && names.stream().allMatch(n -> n.text().length() <= LONGEST_NAME);
        return fit ? names : List.of();
    }

    /** Writes the values beside points, where that was asked for and they are few. */
    private void written(XYItemRenderer renderer, List<Series> series) {
        int points = series.stream().mapToInt(s -> s.points().size()).sum();
        if (!asked.piece().options().values() || points > MOST_VALUES) {
            return;
        }
        renderer.setDefaultItemLabelGenerator((d, s, i) -> series.get(s).points().stream()
                .filter(p -> p.at() == d.getXValue(s, i))
                .map(Point::shown)
                .findFirst()
                .orElse(""));
        renderer.setDefaultItemLabelFont(ChartInk.valueFont());
        renderer.setDefaultItemLabelPaint(ChartInk.INK);
        renderer.setDefaultItemLabelsVisible(true);
    }

    private static XYSeries line(Series series) {
        XYSeries line = new XYSeries(series.name(), true, true);
        series.points().forEach(p -> line.add(p.at(), p.y()));
        return line;
    }

    Charts.Drawn areas() {
        List<Series> series = asked.largest();
        boolean stacked = asked.stacked();
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
        XYPlot plot = new XYPlot(areas, asked.xAxis(series), asked.valueAxis(), renderer);
        plot.setSeriesRenderingOrder(SeriesRenderingOrder.FORWARD);
        renderer.setDefaultToolTipGenerator((d, s, i) -> tip(series, order[s], d.getXValue(s, i)));
        List<String> key = asked.key(series);
        List<EndNames.Name> names = series.size() > 1 && key.isEmpty() ? areaNames(series, sums) : List.of();
        boolean legend = series.size() > 1 && names.isEmpty() && key.isEmpty();
        JFreeChart chart = ChartLook.chart(plot, legend, asked.valueTitle());
        ChartLook.areas(renderer, order, stacked);
        if (!names.isEmpty()) {
            ChartLook.endNames(plot, names);
        }
        return new Charts.Drawn(chart, Charts.USUAL_HEIGHT, asked.left(), key);
    }

    private List<EndNames.Name> areaNames(List<Series> series, List<Series> sums) {
        List<EndNames.Name> tops = endNames(sums);
        if (!asked.stacked() || tops.size() < sums.size()) {
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
