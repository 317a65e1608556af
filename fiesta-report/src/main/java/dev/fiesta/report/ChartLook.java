package dev.fiesta.report;

import java.awt.BasicStroke;
import java.awt.Color;
import java.awt.Font;
import java.awt.FontFormatException;
import java.awt.Stroke;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.text.DecimalFormat;
import java.text.DecimalFormatSymbols;
import java.text.FieldPosition;
import java.text.NumberFormat;
import java.text.ParsePosition;
import java.text.SimpleDateFormat;
import java.util.Locale;
import java.util.TimeZone;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.axis.Axis;
import org.jfree.chart.axis.DateAxis;
import org.jfree.chart.axis.DateTickUnit;
import org.jfree.chart.axis.DateTickUnitType;
import org.jfree.chart.axis.NumberAxis;
import org.jfree.chart.axis.TickUnits;
import org.jfree.chart.block.BlockBorder;
import org.jfree.chart.plot.CategoryPlot;
import org.jfree.chart.plot.Plot;
import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.renderer.category.BarRenderer;
import org.jfree.chart.renderer.category.StandardBarPainter;
import org.jfree.chart.renderer.xy.XYLineAndShapeRenderer;
import org.jfree.chart.title.LegendTitle;
import org.jfree.chart.ui.RectangleEdge;
import org.jfree.chart.ui.RectangleInsets;

/** How charts look: one bundled font, few lines, colours that colour-blind readers and grey print keep apart. */
final class ChartLook {
    private static final Color INK = new Color(0x24, 0x21, 0x1C);
    private static final Color SOFT = new Color(0x6D, 0x66, 0x5A);
    private static final Color LINE = new Color(0xD8, 0xD1, 0xC3);
    private static final Color[] SERIES = {
        new Color(0x1F5F6B),
        new Color(0xD08A1D),
        new Color(0xA63D2F),
        new Color(0x6C86C4),
        new Color(0x6F7F2A),
        new Color(0x7B4A75),
        new Color(0xB59C74),
        new Color(0x4A4A4A)
    };
    private static final float[][] DASHES = {null, null, {7, 3}, null, {2, 3}, {9, 3, 2, 3}, null, {5, 5}};
    private static final Font FONT = font();

    private ChartLook() {}

    private static Font font() {
        try (InputStream in = ChartLook.class.getResourceAsStream("LiberationSans-Regular.ttf")) {
            return Font.createFont(Font.TRUETYPE_FONT, java.util.Objects.requireNonNull(in));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        } catch (FontFormatException e) {
            throw new IllegalStateException("the bundled font cannot be read", e);
        }
    }

    private static Stroke stroke(int series) {
        float[] dash = DASHES[series % DASHES.length];
        return dash == null
                ? new BasicStroke(2.2f, BasicStroke.CAP_ROUND, BasicStroke.JOIN_ROUND)
                : new BasicStroke(2.2f, BasicStroke.CAP_BUTT, BasicStroke.JOIN_ROUND, 1, dash, 0);
    }

    static void lines(JFreeChart chart, XYPlot plot, LocaleStyle locale, boolean dates) {
        common(chart, plot);
        XYLineAndShapeRenderer renderer = new XYLineAndShapeRenderer(true, false);
        for (int i = 0; i < plot.getSeriesCount(); i++) {
            renderer.setSeriesPaint(i, SERIES[i % SERIES.length]);
            renderer.setSeriesStroke(i, stroke(i));
        }
        renderer.setDrawSeriesLineAsPath(true);
        plot.setRenderer(renderer);
        plot.setDomainGridlinesVisible(false);
        plot.setRangeGridlinePaint(LINE);
        plot.setRangeGridlineStroke(new BasicStroke(1));
        axis(plot.getDomainAxis());
        axis(plot.getRangeAxis());
        ((NumberAxis) plot.getRangeAxis()).setNumberFormatOverride(new Localised(locale));
        if (dates) {
            SimpleDateFormat format = new SimpleDateFormat("d MMM", Locale.forLanguageTag(locale.tag()));
            format.setTimeZone(TimeZone.getTimeZone("UTC"));
            DateAxis days = (DateAxis) plot.getDomainAxis();
            days.setDateFormatOverride(format);
            days.setStandardTickUnits(wholeDays());
        }
    }

    /** Ticks of whole days at least, so that no day is named twice. */
    private static TickUnits wholeDays() {
        TickUnits units = new TickUnits();
        for (int days : new int[] {1, 2, 7, 14}) {
            units.add(new DateTickUnit(DateTickUnitType.DAY, days));
        }
        for (int months : new int[] {1, 2, 3, 6}) {
            units.add(new DateTickUnit(DateTickUnitType.MONTH, months));
        }
        for (int years : new int[] {1, 2, 5, 10, 20, 50}) {
            units.add(new DateTickUnit(DateTickUnitType.YEAR, years));
        }
        return units;
    }

    static void bars(JFreeChart chart, CategoryPlot plot, LocaleStyle locale) {
        common(chart, plot);
        BarRenderer renderer = (BarRenderer) plot.getRenderer();
        renderer.setBarPainter(new StandardBarPainter());
        renderer.setShadowVisible(false);
        renderer.setItemMargin(0.08);
        renderer.setMaximumBarWidth(0.2);
        for (int i = 0; i < SERIES.length; i++) {
            renderer.setSeriesPaint(i, SERIES[i]);
        }
        plot.setRangeGridlinePaint(LINE);
        plot.setRangeGridlineStroke(new BasicStroke(1));
        plot.setRangeAxisLocation(org.jfree.chart.axis.AxisLocation.BOTTOM_OR_LEFT);
        axis(plot.getDomainAxis());
        plot.getDomainAxis().setTickLabelPaint(INK);
        plot.getDomainAxis().setCategoryMargin(0.28);
        plot.getDomainAxis().setMaximumCategoryLabelWidthRatio(0.35f);
        axis(plot.getRangeAxis());
        NumberAxis values = (NumberAxis) plot.getRangeAxis();
        values.setAutoRangeIncludesZero(true);
        values.setNumberFormatOverride(new Localised(locale));
    }

    private static void common(JFreeChart chart, Plot plot) {
        chart.setBackgroundPaint(null);
        chart.setPadding(new RectangleInsets(4, 0, 0, 12));
        plot.setBackgroundPaint(null);
        plot.setOutlineVisible(false);
        plot.setInsets(new RectangleInsets(4, 0, 0, 0));
        LegendTitle legend = chart.getLegend();
        if (legend != null) {
            legend.setPosition(RectangleEdge.TOP);
            legend.setFrame(BlockBorder.NONE);
            legend.setBackgroundPaint(null);
            legend.setItemFont(FONT.deriveFont(14f));
            legend.setItemPaint(INK);
            legend.setLegendItemGraphicPadding(new RectangleInsets(2, 10, 2, 2));
        }
    }

    private static void axis(Axis axis) {
        axis.setTickLabelFont(FONT.deriveFont(13f));
        axis.setTickLabelPaint(SOFT);
        axis.setLabelFont(FONT.deriveFont(13f));
        axis.setLabelPaint(SOFT);
        axis.setAxisLinePaint(LINE);
        axis.setTickMarksVisible(false);
    }

    /** Colours become those of the page, so that dark pages show lighter ones. */
    static String inPageColours(String svg) {
        String page = named(svg, INK, "--ink");
        page = named(page, SOFT, "--soft");
        page = named(page, LINE, "--line");
        for (int i = 0; i < SERIES.length; i++) {
            page = named(page, SERIES[i], "--series-" + (i + 1));
        }
        return page.replace("'Liberation Sans'", "'Liberation Sans', Arial, sans-serif");
    }

    private static String named(String svg, Color colour, String name) {
        String rgb = "rgb(" + colour.getRed() + "," + colour.getGreen() + "," + colour.getBlue() + ")";
        return svg.replace(rgb, "var(" + name + ")");
    }

    /** Numbers on axes in the locale of the brief. */
    private static final class Localised extends NumberFormat {
        private static final long serialVersionUID = 1L;

        private final transient LocaleStyle locale;
        private final DecimalFormat plain =
                new DecimalFormat("0.######", DecimalFormatSymbols.getInstance(Locale.ROOT));

        Localised(LocaleStyle locale) {
            this.locale = locale;
        }

        @Override
        public StringBuffer format(double number, StringBuffer to, FieldPosition position) {
            return to.append(locale.number(plain.format(number)));
        }

        @Override
        public StringBuffer format(long number, StringBuffer to, FieldPosition position) {
            return to.append(locale.number(Long.toString(number)));
        }

        @Override
        public Number parse(String source, ParsePosition position) {
            return plain.parse(source, position);
        }
    }
}
