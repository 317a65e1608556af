package dev.fiesta.report.chart;

import dev.fiesta.report.text.AxisFigures;
import java.awt.BasicStroke;
import java.awt.Color;
import java.awt.geom.Ellipse2D;
import java.awt.geom.Line2D;
import java.awt.geom.Rectangle2D;
import java.util.Arrays;
import java.util.List;
import java.util.Set;
import java.util.function.UnaryOperator;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.axis.Axis;
import org.jfree.chart.axis.AxisLocation;
import org.jfree.chart.axis.CategoryAxis;
import org.jfree.chart.axis.CategoryLabelPositions;
import org.jfree.chart.axis.NumberAxis;
import org.jfree.chart.axis.SymbolAxis;
import org.jfree.chart.axis.ValueAxis;
import org.jfree.chart.block.BlockBorder;
import org.jfree.chart.labels.ItemLabelAnchor;
import org.jfree.chart.labels.ItemLabelPosition;
import org.jfree.chart.labels.StandardCategoryItemLabelGenerator;
import org.jfree.chart.plot.CategoryPlot;
import org.jfree.chart.plot.Plot;
import org.jfree.chart.plot.PlotOrientation;
import org.jfree.chart.plot.ValueMarker;
import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.renderer.LookupPaintScale;
import org.jfree.chart.renderer.category.BarRenderer;
import org.jfree.chart.renderer.category.BoxAndWhiskerRenderer;
import org.jfree.chart.renderer.category.ScatterRenderer;
import org.jfree.chart.renderer.category.StackedBarRenderer;
import org.jfree.chart.renderer.category.StandardBarPainter;
import org.jfree.chart.renderer.xy.StandardXYBarPainter;
import org.jfree.chart.renderer.xy.XYAreaRenderer;
import org.jfree.chart.renderer.xy.XYBarRenderer;
import org.jfree.chart.renderer.xy.XYBlockRenderer;
import org.jfree.chart.renderer.xy.XYLineAndShapeRenderer;
import org.jfree.chart.title.LegendTitle;
import org.jfree.chart.title.PaintScaleLegend;
import org.jfree.chart.title.TextTitle;
import org.jfree.chart.ui.HorizontalAlignment;
import org.jfree.chart.ui.RectangleAnchor;
import org.jfree.chart.ui.RectangleEdge;
import org.jfree.chart.ui.RectangleInsets;
import org.jfree.chart.ui.TextAnchor;
import org.jfree.chart.ui.VerticalAlignment;
import org.jfree.data.category.CategoryDataset;

/** How charts look: one bundled font, few lines, colours that colour-blind readers and grey print keep apart. */
final class ChartLook {
    private static final int HEAT_STEPS = 48;

    private ChartLook() {}

    /**
     * A chart of a plot, in our look.
     *
     * @param values what its values are, which stands above their axis
     */
    static JFreeChart chart(Plot plot, boolean legend, String values) {
        JFreeChart chart = new JFreeChart(null, ChartInk.FONT, plot, legend);
        common(chart, plot);
        if (!values.isEmpty()) {
            TextTitle title = new TextTitle(
                    values,
                    ChartInk.FONT.deriveFont(13f),
                    ChartInk.SOFT,
                    RectangleEdge.TOP,
                    HorizontalAlignment.LEFT,
                    VerticalAlignment.TOP,
                    new RectangleInsets(0, 2, 6, 0));
            chart.addSubtitle(0, title);
        }
        if (plot instanceof XYPlot xy) {
            xy.setDomainGridlinesVisible(false);
            xy.setRangeGridlinePaint(ChartInk.LINE);
            xy.setRangeGridlineStroke(new BasicStroke(1));
            xy.setAxisOffset(RectangleInsets.ZERO_INSETS);
            axis(xy.getDomainAxis());
            axis(xy.getRangeAxis());
            if (xy.getDomainAxis() instanceof SymbolAxis symbols) {
                symbols.setGridBandsVisible(false);
            }
        } else if (plot instanceof CategoryPlot categories) {
            categories.setRangeGridlinePaint(ChartInk.LINE);
            categories.setRangeGridlineStroke(new BasicStroke(1));
            categories.setAxisOffset(RectangleInsets.ZERO_INSETS);
            categories.setRangeAxisLocation(AxisLocation.BOTTOM_OR_LEFT);
            axis(categories.getDomainAxis());
            axis(categories.getRangeAxis());
        }
        return chart;
    }

    static void lines(XYLineAndShapeRenderer renderer, List<ChartData.Series> series, boolean joined) {
        renderer.setLegendLine(new Line2D.Double(-11, 0, 11, 0));
        for (int i = 0; i < series.size(); i++) {
            boolean other = series.get(i).other();
            renderer.setSeriesPaint(i, other ? ChartInk.LINE : ChartInk.SERIES[i % ChartInk.SERIES.length]);
            renderer.setSeriesStroke(i, other ? new BasicStroke(1.2f) : ChartInk.stroke(i));
            renderer.setSeriesVisibleInLegend(i, !other);
            if (!joined) {
                renderer.setSeriesShape(i, ChartInk.SHAPES[i % ChartInk.SHAPES.length]);
                renderer.setSeriesShapesFilled(i, i % 2 == 0);
            }
        }
    }

    /** @param order which series stands at each place of the dataset */
    static void areas(XYAreaRenderer renderer, int[] order, boolean stacked) {
        renderer.setLegendArea(new Rectangle2D.Double(-5, -5, 10, 10));
        for (int i = 0; i < order.length; i++) {
            Color colour = ChartInk.series(order[i]);
            Color light = new Color(colour.getRed(), colour.getGreen(), colour.getBlue(), 120);
            renderer.setSeriesPaint(i, stacked ? colour : light);
            renderer.setSeriesOutlinePaint(i, colour);
        }
    }

    /** The names of series at the right of a chart, where they end. */
    static void endNames(XYPlot plot, List<EndNames.Name> names) {
        plot.setRangeAxis(1, new EndNames(names, ChartInk.FONT.deriveFont(13f)));
        plot.setRangeAxisLocation(1, AxisLocation.BOTTOM_OR_RIGHT);
    }

    /**
     * Writes values at the ends of bars, for which their axis leaves room; in a stack in their middles.
     *
     * @param values by the name of the series, a null character and the label
     */
    static void written(
            BarRenderer renderer, PlotOrientation orientation, ValueAxis axis, UnaryOperator<String> values) {
        renderer.setDefaultItemLabelGenerator(new StandardCategoryItemLabelGenerator() {
            private static final long serialVersionUID = 1L;

            @Override
            public String generateLabel(CategoryDataset bars, int row, int column) {
                return values.apply(bars.getRowKey(row) + "\0" + bars.getColumnKey(column));
            }
        });
        renderer.setDefaultItemLabelFont(ChartInk.valueFont());
        renderer.setDefaultItemLabelPaint(ChartInk.INK);
        renderer.setDefaultItemLabelsVisible(true);
        if (orientation == PlotOrientation.HORIZONTAL && !(renderer instanceof StackedBarRenderer)) {
            renderer.setDefaultPositiveItemLabelPosition(
                    new ItemLabelPosition(ItemLabelAnchor.OUTSIDE3, TextAnchor.CENTER_LEFT));
            renderer.setDefaultNegativeItemLabelPosition(
                    new ItemLabelPosition(ItemLabelAnchor.OUTSIDE9, TextAnchor.CENTER_RIGHT));
        }
        if (!(renderer instanceof StackedBarRenderer)) {
            axis.setUpperMargin(orientation == PlotOrientation.HORIZONTAL ? 0.2 : 0.12);
        }
    }

    /** A line across a chart at a value. */
    static ValueMarker marker(double at, String text, boolean upright) {
        BasicStroke dashes =
                new BasicStroke(1.3f, BasicStroke.CAP_BUTT, BasicStroke.JOIN_ROUND, 1, new float[] {5, 3}, 0);
        ValueMarker marker = new ValueMarker(at, ChartInk.INK, dashes);
        marker.setLabel(text);
        marker.setLabelFont(ChartInk.FONT.deriveFont(12.5f));
        marker.setLabelPaint(ChartInk.INK);
        marker.setLabelBackgroundColor(new Color(255, 255, 255, 200)); // lines pass behind it
        marker.setLabelAnchor(upright ? RectangleAnchor.TOP_RIGHT : RectangleAnchor.TOP_LEFT);
        marker.setLabelTextAnchor(upright ? TextAnchor.TOP_LEFT : TextAnchor.BOTTOM_LEFT);
        marker.setLabelOffset(new RectangleInsets(2, 5, 2, 5));
        return marker;
    }

    /** @param colours for each row of the dataset the number of its series */
    static void bars(CategoryPlot plot, BarRenderer renderer, int[] colours, Set<String> labels) {
        renderer.setBarPainter(new StandardBarPainter());
        renderer.setShadowVisible(false);
        renderer.setItemMargin(0.06);
        renderer.setMaximumBarWidth(0.16);
        for (int i = 0; i < colours.length; i++) {
            renderer.setSeriesPaint(i, ChartInk.series(colours[i]));
        }
        categories(plot, labels);
        plot.getDomainAxis().setCategoryMargin(0.26);
    }

    private static void categories(CategoryPlot plot, Set<String> labels) {
        CategoryAxis axis = plot.getDomainAxis();
        axis.setTickLabelPaint(ChartInk.INK);
        int longest = labels.stream().mapToInt(String::length).max().orElse(0);
        boolean upright = plot.getOrientation() == PlotOrientation.VERTICAL;
        axis.setMaximumCategoryLabelLines(upright ? 2 : 1);
        axis.setMaximumCategoryLabelWidthRatio(upright ? 2 : 0.35f);
        if (upright && longest * labels.size() > 110) {
            axis.setCategoryLabelPositions(CategoryLabelPositions.UP_45);
        }
    }

    static void histogram(XYBarRenderer renderer) {
        renderer.setBarPainter(new StandardXYBarPainter());
        renderer.setShadowVisible(false);
        renderer.setSeriesPaint(0, ChartInk.SERIES[0]);
    }

    static void boxes(CategoryPlot plot, BoxAndWhiskerRenderer renderer, Set<String> labels) {
        renderer.setMeanVisible(false);
        renderer.setFillBox(true);
        renderer.setSeriesPaint(0, new Color(0x8F, 0xAF, 0xB5));
        renderer.setArtifactPaint(ChartInk.INK);
        renderer.setSeriesOutlinePaint(0, ChartInk.SERIES[0]);
        renderer.setMaximumBarWidth(0.08);
        renderer.setWhiskerWidth(0.5);
        renderer.setSeriesOutlineStroke(0, new BasicStroke(1.4f));
        renderer.setUseOutlinePaintForWhiskers(true);
        ScatterRenderer outside = new ScatterRenderer();
        outside.setUseSeriesOffset(false);
        outside.setSeriesShape(0, new Ellipse2D.Double(-3, -3, 6, 6));
        outside.setSeriesShapesFilled(0, false);
        outside.setDrawOutlines(true);
        outside.setSeriesPaint(0, ChartInk.SERIES[0]);
        plot.setRenderer(1, outside);
        renderer.setItemMargin(0.2);
        categories(plot, labels);
    }

    static void heat(JFreeChart chart, XYPlot plot, XYBlockRenderer renderer, double[] values, AxisFigures figures) {
        double least = Arrays.stream(values).min().orElse(0);
        double greatest = Arrays.stream(values).max().orElse(1);
        double from = least >= 0 && least < greatest * 0.5 ? 0 : least;
        double to = greatest > from ? greatest : from + 1;
        LookupPaintScale scale = new LookupPaintScale(from, to, ChartInk.LINE);
        for (int step = 0; step < HEAT_STEPS; step++) {
            scale.add(from + (to - from) * step / HEAT_STEPS, heat(step));
        }
        renderer.setPaintScale(scale);
        plot.setRangeGridlinesVisible(false);
        for (ValueAxis axis : new ValueAxis[] {plot.getDomainAxis(), plot.getRangeAxis()}) {
            ((SymbolAxis) axis).setGridBandsVisible(false);
            axis.setTickLabelPaint(ChartInk.INK);
        }
        if (Arrays.stream(((SymbolAxis) plot.getDomainAxis()).getSymbols())
                        .mapToInt(String::length)
                        .sum()
                > 110) {
            plot.getDomainAxis().setVerticalTickLabels(true);
        }
        NumberAxis legend = ChartAxes.numbers(null, false, figures);
        axis(legend);
        legend.setRange(from, to);
        PaintScaleLegend shown = new PaintScaleLegend(scale, legend);
        shown.setPosition(RectangleEdge.RIGHT);
        shown.setBackgroundPaint(null);
        shown.setStripWidth(12);
        shown.setStripOutlineVisible(false);
        shown.setSubdivisionCount(HEAT_STEPS);
        shown.setMargin(new RectangleInsets(6, 14, 40, 2));
        chart.addSubtitle(shown);
    }

    /** From paper to deep blue-green: lighter is less, in grey too. */
    private static Color heat(int step) {
        double part = step / (HEAT_STEPS - 1.0);
        int[] low = {0xEE, 0xEA, 0xDC};
        int[] high = {0x12, 0x4A, 0x5A};
        int[] mixed = new int[3];
        for (int c = 0; c < 3; c++) {
            mixed[c] = (int) Math.round(low[c] + (high[c] - low[c]) * part);
        }
        return new Color(mixed[0], mixed[1], mixed[2]);
    }

    private static void common(JFreeChart chart, Plot plot) {
        chart.setBackgroundPaint(null);
        chart.setPadding(new RectangleInsets(4, 0, 0, 12));
        plot.setBackgroundPaint(null);
        plot.setOutlineVisible(false);
        plot.setInsets(new RectangleInsets(4, 0, 0, 0));
        plot.setNoDataMessageFont(ChartInk.FONT.deriveFont(14f));
        plot.setNoDataMessagePaint(ChartInk.SOFT);
        LegendTitle legend = chart.getLegend();
        if (legend != null) {
            legend.setPosition(RectangleEdge.TOP);
            legend.setHorizontalAlignment(HorizontalAlignment.LEFT);
            legend.setFrame(BlockBorder.NONE);
            legend.setBackgroundPaint(null);
            legend.setItemFont(ChartInk.FONT.deriveFont(14f));
            legend.setItemPaint(ChartInk.INK);
            legend.setLegendItemGraphicPadding(new RectangleInsets(2, 10, 2, 2));
        }
    }

    private static void axis(Axis axis) {
        axis.setTickLabelFont(ChartInk.FONT.deriveFont(13f));
        axis.setTickLabelPaint(ChartInk.SOFT);
        axis.setLabelFont(ChartInk.FONT.deriveFont(13f));
        axis.setLabelPaint(ChartInk.SOFT);
        axis.setAxisLinePaint(ChartInk.LINE);
        axis.setTickMarksVisible(false);
    }
}
