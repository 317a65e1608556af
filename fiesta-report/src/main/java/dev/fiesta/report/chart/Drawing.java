package dev.fiesta.report.chart;

import dev.fiesta.Result;
import dev.fiesta.language.BriefTree;
import dev.fiesta.report.chart.ChartData.Point;
import dev.fiesta.report.chart.ChartData.Series;
import dev.fiesta.report.text.Words;
import dev.fiesta.value.LocaleStyle;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import org.jfree.chart.axis.NumberAxis;
import org.jfree.chart.axis.SymbolAxis;
import org.jfree.chart.axis.ValueAxis;

/**
 * A chart that is to be drawn, and what all kinds have in common.
 *
 * @param data the rows of the result that are drawn
 */
public record Drawing(BriefTree.Chart piece, Result result, LocaleStyle locale, ChartData data) {
    /** The report's own words. */
    Words words() {
        return Words.of(locale.tag());
    }

    /** What the values are. */
    String measured() {
        return piece.kind().equals("histogram") ? words().get("row_count") : data.valueTitle();
    }

    /** What stands above the axis of values; of small charts all have the same, which is told once. */
    String valueTitle() {
        return piece.apart() == null ? measured() : "";
    }

    /** The names of series that small charts do not name each: one key stands above all of them. */
    List<String> key(List<Series> series) {
        return piece.apart() == null || series.size() < 2
                ? List.of()
                : series.stream().filter(s -> !s.other()).map(Series::name).toList();
    }

    public boolean stacked() {
        return piece.options().stacked();
    }

    ValueAxis xAxis(List<Series> series) {
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

    ValueAxis valueAxis() {
        return ChartAxes.values(
                piece.options().log(),
                !piece.kind().equals("points") && !piece.kind().equals("boxes"),
                data.figures());
    }

    /** The largest series; in stacks the others as one more, because stacks add anyway. */
    public List<Series> largest() {
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
        large.add(new Series(words().get("rest"), List.copyOf(sums.values()), false));
        return large;
    }

    private Point added(Point a, Point b) {
        double sum = Objects.requireNonNull(a.y()) + Objects.requireNonNull(b.y());
        return new Point(a.at(), a.label(), sum, ChartAxes.plain(sum, locale));
    }

    public String left() {
        List<Series> all = data.series();
        long others = all.stream().filter(Series::other).count();
        return others == 0
                ? ""
                : stacked()
                        ? words().get("rest_of", locale.number(Long.toString(others)))
                        : words().get("largest_of", locale.number(Integer.toString(all.size())));
    }

    String others(List<Series> series) {
        long others = series.stream().filter(Series::other).count();
        return others == 0
                ? ""
                : words().get(others == 1 ? "one_smaller_grey" : "smaller_grey", locale.number(Long.toString(others)));
    }
}
