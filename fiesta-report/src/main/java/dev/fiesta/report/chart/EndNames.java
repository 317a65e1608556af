package dev.fiesta.report.chart;

import java.awt.Font;
import java.awt.FontMetrics;
import java.awt.Graphics2D;
import java.awt.Paint;
import java.awt.geom.Line2D;
import java.awt.geom.Rectangle2D;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import org.jfree.chart.axis.AxisSpace;
import org.jfree.chart.axis.AxisState;
import org.jfree.chart.axis.NumberAxis;
import org.jfree.chart.axis.ValueAxis;
import org.jfree.chart.plot.Plot;
import org.jfree.chart.plot.PlotRenderingInfo;
import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.ui.RectangleEdge;

/** The names of series at the right of a chart, each where its series ends, instead of a legend. */
final class EndNames extends NumberAxis {
    private static final long serialVersionUID = 1L;
    private static final int GAP = 8;

    /**
     * A name.
     *
     * @param at the value at which its series ends
     */
    record Name(String text, double at, Paint paint) {}

    /** A name and how high it is set. */
    private record Set(Name name, double y) {}

    private final transient List<Name> names;
    private final Font font;

    EndNames(List<Name> names, Font font) {
        super(null);
        this.names = List.copyOf(names);
        this.font = font;
        setAxisLineVisible(false);
        setTickLabelsVisible(false);
        setTickMarksVisible(false);
    }

    @Override
    public AxisSpace reserveSpace(
            Graphics2D graphics, Plot plot, Rectangle2D area, RectangleEdge edge, AxisSpace space) {
        FontMetrics metrics = graphics.getFontMetrics(font);
        int width = names.stream()
                .mapToInt(n -> metrics.stringWidth(n.text()))
                .max()
                .orElse(0);
        AxisSpace all = space == null ? new AxisSpace() : space;
        all.ensureAtLeast(width + GAP + 4.0, edge);
        return all;
    }

    @Override
    public AxisState draw(
            Graphics2D graphics,
            double cursor,
            Rectangle2D whole,
            Rectangle2D area,
            RectangleEdge edge,
            PlotRenderingInfo info) {
        ValueAxis values = ((XYPlot) getPlot()).getRangeAxis();
        FontMetrics metrics = graphics.getFontMetrics(font);
        List<Set> set = new ArrayList<>();
        for (Name name : names) {
            set.add(new Set(name, values.valueToJava2D(name.at(), area, RectangleEdge.LEFT)));
        }
        graphics.setFont(font);
        double x = area.getMaxX();
        for (Set one : spread(set, metrics.getHeight(), area)) {
            double from = values.valueToJava2D(one.name().at(), area, RectangleEdge.LEFT);
            graphics.setPaint(one.name().paint());
            if (Math.abs(from - one.y()) > 3) {
                graphics.draw(new Line2D.Double(x + 1, from, x + GAP - 2.0, one.y()));
            }
            graphics.drawString(one.name().text(), (float) x + GAP, (float)
                    (one.y() + metrics.getAscent() / 2.0 - metrics.getDescent() / 2.0));
        }
        return new AxisState(cursor);
    }

    /** Names that would lie on each other move apart: each group of them stands around the middle of its ends. */
    private static List<Set> spread(List<Set> names, double height, Rectangle2D area) {
        List<Set> sorted = new ArrayList<>(names);
        sorted.sort(Comparator.comparingDouble(Set::y));
        double[] y = sorted.stream().mapToDouble(Set::y).toArray();
        for (int round = 0; round < 200; round++) {
            boolean moved = false;
            for (int i = 1; i < y.length; i++) {
                double lacking = height - (y[i] - y[i - 1]);
                if (lacking > 0.01) {
                    y[i - 1] -= lacking / 2;
                    y[i] += lacking / 2;
                    moved = true;
                }
            }
            for (int i = 0; i < y.length; i++) {
                y[i] = Math.max(area.getMinY() + 4, Math.min(area.getMaxY() - 4, y[i]));
            }
            if (!moved) {
                break;
            }
        }
        List<Set> spread = new ArrayList<>();
        for (int i = 0; i < y.length; i++) {
            spread.add(new Set(sorted.get(i).name(), y[i]));
        }
        return spread;
    }
}
