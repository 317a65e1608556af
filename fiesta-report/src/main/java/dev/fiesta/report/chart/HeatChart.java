package dev.fiesta.report.chart;

import dev.fiesta.problem.RequestException;
import dev.fiesta.report.text.CellFormat;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.axis.SymbolAxis;
import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.renderer.xy.XYBlockRenderer;
import org.jfree.data.xy.DefaultXYZDataset;

/** A coloured field for each pair of keys. */
final class HeatChart {
    private final Drawing asked;

    HeatChart(Drawing asked) {
        this.asked = asked;
    }

    /** A coloured field for each pair of keys: x across, {@code by} down. */
    Charts.Drawn heat() {
        if (asked.piece().by() == null) {
            throw new RequestException("The chart 'heat' shows two keys and a figure: x FIELD y FIGURE by FIELD.");
        }
        String figure = asked.piece().y().get(0).name();
        CellFormat xs = asked.data().format(asked.piece().x().name());
        CellFormat ys = asked.data().format(asked.piece().by().name());
        CellFormat figures = asked.data().format(figure);
        List<String> across = labels(asked.piece().x().name(), xs);
        List<String> down = labels(asked.piece().by().name(), ys);
        List<double[]> cells = new ArrayList<>();
        List<String> tips = new ArrayList<>();
        for (int row : asked.data().rows()) {
            Object value = asked.result().isHidden(figure, row)
                    ? null
                    : asked.result().column(figure).get(row);
            if (value != null) {
                String x = label(asked.piece().x().name(), xs, row);
                String y = label(asked.piece().by().name(), ys, row);
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
        dataset.addSeries(asked.data().title(figure), columns);
        XYBlockRenderer renderer = new XYBlockRenderer();
        renderer.setBlockWidth(0.96);
        renderer.setBlockHeight(0.94);
        SymbolAxis x = new SymbolAxis(asked.data().title(asked.piece().x().name()), across.toArray(String[]::new));
        SymbolAxis y = new SymbolAxis(null, down.toArray(String[]::new));
        y.setInverted(true);
        XYPlot plot = new XYPlot(dataset, x, y, renderer);
        renderer.setDefaultToolTipGenerator((d, s, i) -> tips.get(i));
        JFreeChart chart = ChartLook.chart(plot, false, asked.valueTitle());
        ChartLook.heat(chart, plot, renderer, columns[2], asked.data().figures());
        return new Charts.Drawn(chart, 150 + 34 * Math.max(1, down.size()), "");
    }

    private String label(String field, CellFormat format, int row) {
        Object value = asked.result().column(field).get(row);
        return value == null ? asked.data().missing() : format.print(value);
    }

    /** The values of a key in their order: ascending for times and numbers, as met for texts. */
    private List<String> labels(String field, CellFormat format) {
        Integer[] rows = Arrays.stream(asked.data().rows()).boxed().toArray(Integer[]::new);
        if (!asked.result().column(field).type().equals(dev.fiesta.value.Type.TEXT)) {
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
        Object left = asked.result().column(field).get(a);
        Object right = asked.result().column(field).get(b);
        return left == null || right == null
                ? Boolean.compare(left == null, right == null)
                : ((Comparable<Object>) left).compareTo(right);
    }
}
