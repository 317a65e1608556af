package dev.fiesta.report.chart;

import dev.fiesta.Result;
import dev.fiesta.language.BriefTree;
import dev.fiesta.problem.RequestException;
import dev.fiesta.value.LocaleStyle;
import dev.fiesta.value.Texts;
import java.time.temporal.Temporal;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.axis.ValueAxis;
import org.jfree.chart.plot.CategoryPlot;
import org.jfree.chart.plot.Plot;
import org.jfree.chart.plot.PlotOrientation;
import org.jfree.chart.plot.XYPlot;
import org.jfree.data.Range;

/** Makes the charts of a report. */
public final class Charts {
    /** How high a chart is drawn that has no rows of its own. */
    static final int USUAL_HEIGHT = 400;

    private Charts() {}

    /**
     * A chart and how high it is drawn.
     *
     * @param note what it leaves out, or nothing
     * @param key the names of its series in their order, where it does not name them itself
     */
    record Drawn(JFreeChart chart, int height, String note, List<String> key) {
        Drawn(JFreeChart chart, int height, String note) {
            this(chart, height, note, List.of());
        }
    }

    /**
     * A line across the chart.
     *
     * @param value a number, or a day or time for an upright line
     */
    public record Line(String text, Object value) {}

    /**
     * A chart, or several small ones where the rows are parted.
     *
     * @param lines across it
     * @throws RequestException when a field does not suit its kind
     */
    public static ChartSheet of(BriefTree.Chart piece, Result result, LocaleStyle locale, List<Line> lines) {
        Drawing whole = new Drawing(piece, result, locale, new ChartData(piece, result, locale));
        if (piece.apart() == null || whole.data().rows().length == 0) {
            return ChartSheet.of(draw(whole, lines));
        }
        if (piece.kind().equals("heat")) {
            throw new RequestException(
                    "The chart 'heat' of '" + result.name() + "' is not parted by 'apart': it has two keys as it is.");
        }
        Map<String, Drawn> panels = new LinkedHashMap<>();
        whole.data()
                .parted(piece.apart().name())
                .forEach((name, part) -> panels.put(name, draw(new Drawing(piece, result, locale, part), lines)));
        return ChartSheet.of(panels, whole.measured(), locale);
    }

    private static Drawn draw(Drawing asked, List<Line> lines) {
        if (asked.stacked() && asked.piece().options().log()) {
            throw new RequestException("The chart '" + asked.piece().kind() + "' of '"
                    + asked.result().name()
                    + "' is stacked, which adds up, and a logarithmic axis does not: leave one of both out.");
        }
        Drawn drawn = switch (asked.piece().kind()) {
            case "lines" -> new SeriesChart(asked).lines(true);
            case "points" -> new SeriesChart(asked).lines(false);
            case "areas" -> new SeriesChart(asked).areas();
            case "columns" -> new BarChart(asked).bars(PlotOrientation.VERTICAL);
            case "bars" -> new BarChart(asked).bars(PlotOrientation.HORIZONTAL);
            case "histogram" -> new SpreadChart(asked).histogram();
            case "boxes" -> new SpreadChart(asked).boxes();
            default -> new HeatChart(asked).heat();
        };
        drawn.chart().getPlot().setNoDataMessage(asked.words().get("no_rows"));
        lines.forEach(line -> mark(asked, drawn.chart().getPlot(), line));
        return drawn;
    }

    /** Draws a line across a chart; what it stands at is in sight. */
    private static void mark(Drawing asked, Plot plot, Line line) {
        boolean time = line.value() instanceof Temporal;
        double at = ChartData.position(line.value());
        if (asked.piece().options().log() && !time && at <= 0) {
            throw new RequestException("The line '" + line.text() + "' stands at " + Texts.of(line.value())
                    + ", where a logarithmic axis never comes.");
        }
        if (plot instanceof XYPlot xy && time == asked.data().isTime() && time) {
            xy.addDomainMarker(ChartLook.marker(at, line.text(), true));
            include(xy.getDomainAxis(), at);
        } else if (plot instanceof XYPlot xy && !time && !asked.piece().kind().equals("heat")) {
            xy.addRangeMarker(ChartLook.marker(at, line.text(), false));
            include(xy.getRangeAxis(), at);
        } else if (plot instanceof CategoryPlot bars && !time) {
            bars.addRangeMarker(ChartLook.marker(at, line.text(), bars.getOrientation() == PlotOrientation.HORIZONTAL));
            include(bars.getRangeAxis(), at);
        } else {
            throw new RequestException(
                    "The line '" + line.text() + "' stands at " + Texts.of(line.value()) + ", for which the chart '"
                            + asked.piece().kind() + "' of '" + asked.result().name() + "' has no axis.");
        }
    }

    private static void include(ValueAxis axis, double at) {
        ChartAxes.set(axis, Range.expandToInclude(axis.getRange(), at));
    }
}
