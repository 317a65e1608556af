package dev.fiesta.report.chart;

import dev.fiesta.report.text.Words;
import dev.fiesta.value.LocaleStyle;
import java.awt.FontMetrics;
import java.awt.Graphics2D;
import java.awt.geom.AffineTransform;
import java.awt.geom.Rectangle2D;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.jfree.chart.ChartRenderingInfo;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.axis.ValueAxis;
import org.jfree.chart.entity.ChartEntity;
import org.jfree.chart.plot.CategoryPlot;
import org.jfree.chart.plot.Plot;
import org.jfree.chart.plot.XYPlot;
import org.jfree.data.Range;
import org.jspecify.annotations.Nullable;

/** What is drawn for a chart of a report: one chart, or small ones side by side, which have the same axes. */
public final class ChartSheet {
    /** The least width of a small chart. */
    private static final int PANEL = 205;
    /** A chart without rows of its own is lower where it is narrow. */
    private static final int WIDE = 900;

    private static final int LOW = 320;

    private static final int PANEL_HEIGHT = 220;
    private static final int GAP = 22;
    private static final int MOST_PANELS = 24;
    /** What tells of the values above small charts. */
    private static final int HEAD = 24;

    /** A chart with the title that tells it from others; empty for one alone. */
    private record Panel(String title, JFreeChart chart) {}

    private final List<Panel> panels;
    /** What stands above all, or nothing: what is measured, and the names of series. */
    private final String measured;

    private final List<String> key;

    private final int height;
    private final int more;
    private final String note;

    /** @param more that it is higher than it would be */
    private ChartSheet(List<Panel> panels, String measured, List<String> key, int height, int more, String note) {
        this.more = more;
        this.key = key;
        this.measured = measured;
        this.panels = panels;
        this.height = height;
        this.note = note;
    }

    static ChartSheet of(Charts.Drawn drawn) {
        return new ChartSheet(List.of(new Panel("", drawn.chart())), "", List.of(), drawn.height(), 0, drawn.note());
    }

    /**
     * @param apart charts by what tells them apart
     * @param measured what their values are
     */
    static ChartSheet of(Map<String, Charts.Drawn> apart, String measured, LocaleStyle locale) {
        List<Panel> panels = new ArrayList<>();
        List<String> key = List.of();
        String note = "";
        for (Map.Entry<String, Charts.Drawn> one : apart.entrySet()) {
            if (panels.size() < MOST_PANELS) {
                panels.add(new Panel(one.getKey(), one.getValue().chart()));
                key = key.isEmpty() ? one.getValue().key() : key;
                note = note.isEmpty() ? one.getValue().note() : note;
            }
        }
        share(panels.stream().map(p -> p.chart().getPlot()).toList());
        String left = panels.size() == apart.size()
                ? note
                : Words.of(locale.tag())
                        .get(
                                "first_of",
                                Integer.toString(panels.size()),
                                locale.number(Integer.toString(apart.size())));
        return new ChartSheet(panels, measured, key, 0, 0, left);
    }

    /** What is left out, or nothing. */
    public String note() {
        return note;
    }

    /** The same, so much higher. */
    public ChartSheet taller(int by) {
        return new ChartSheet(panels, measured, key, height, by, note);
    }

    /** How high it is for a width. */
    public int height(int width) {
        return height > 0
                ? (height == Charts.USUAL_HEIGHT && width < WIDE ? LOW : height) + more
                : HEAD + rows(width) * (panelHeight(width) + GAP);
    }

    private int panelHeight(int width) {
        return PANEL_HEIGHT + more / rows(width);
    }

    private int across(int width) {
        int most = panels.size() > 6 ? 4 : 3;
        return Math.max(1, Math.min(Math.min(panels.size(), most), width / PANEL));
    }

    private int rows(int width) {
        return Math.max(1, (panels.size() + across(width) - 1) / across(width));
    }

    /** @param spots takes what tells a value, with where it stands; null where nobody asks */
    void draw(Graphics2D graphics, int width, @Nullable List<Spot> spots) {
        int across = across(width);
        double wide = (width - (across - 1.0) * GAP) / across;
        graphics.setFont(ChartInk.valueFont());
        graphics.setPaint(ChartInk.SOFT);
        graphics.drawString(measured, 2, 12);
        if (height == 0) {
            drawKey(graphics, 2 + graphics.getFontMetrics().stringWidth(measured) + GAP);
        }
        for (int i = 0; i < panels.size(); i++) {
            Panel panel = panels.get(i);
            double x = i % across * (wide + GAP);
            double y = height > 0 ? 0 : HEAD + i / across * (double) (panelHeight(width) + GAP);
            double head = panel.title().isEmpty() ? 0 : GAP;
            if (head > 0) {
                graphics.setFont(ChartInk.titleFont());
                graphics.setPaint(ChartInk.INK);
                graphics.drawString(fitted(panel.title(), graphics, wide), (float) x + 2, (float) y + 14);
            }
            double high = height > 0 ? height(width) : panelHeight(width) - head;
            AffineTransform before = graphics.getTransform();
            graphics.translate(x, y + head);
            ChartRenderingInfo info = new ChartRenderingInfo();
            panel.chart().draw(graphics, new Rectangle2D.Double(0, 0, wide, high), info);
            graphics.setTransform(before);
            if (spots != null) {
                for (Object entity : info.getEntityCollection().getEntities()) {
                    spots.add(new Spot((ChartEntity) entity, x, y + head));
                }
            }
        }
    }

    private void drawKey(Graphics2D graphics, int from) {
        int x = from;
        for (int i = 0; i < key.size(); i++) {
            graphics.setPaint(ChartInk.series(i));
            graphics.fill(new Rectangle2D.Double(x, 3, 9, 9));
            graphics.setPaint(ChartInk.INK);
            graphics.drawString(key.get(i), x + 13, 12);
            x += 13 + graphics.getFontMetrics().stringWidth(key.get(i)) + GAP / 2;
        }
    }

    private static String fitted(String title, Graphics2D graphics, double width) {
        FontMetrics metrics = graphics.getFontMetrics();
        int end = title.length();
        while (end > 1 && metrics.stringWidth(title.substring(0, end) + "…") > width) {
            end = title.offsetByCodePoints(end, -1);
        }
        return metrics.stringWidth(title) <= width ? title : title.substring(0, end) + "…";
    }

    /** Something that tells a value, and how far its chart is moved. */
    record Spot(ChartEntity entity, double x, double y) {}

    /** Gives plots the same ranges; one without any value has none of its own. */
    private static void share(List<Plot> plots) {
        Range values = null;
        Range across = null;
        for (Plot plot : plots) {
            ValueAxis axis = values(plot);
            if (plot instanceof XYPlot xy && xy.getDataRange(xy.getDomainAxis()) != null) {
                across = Range.combine(across, xy.getDomainAxis().getRange());
            }
            Range known = plot instanceof XYPlot xy ? xy.getDataRange(axis) : ((CategoryPlot) plot).getDataRange(axis);
            values = known == null ? values : Range.combine(values, axis.getRange());
        }
        for (Plot plot : plots) {
            ChartAxes.set(values(plot), values);
            if (plot instanceof XYPlot xy) {
                ChartAxes.set(xy.getDomainAxis(), across);
            }
        }
    }

    private static ValueAxis values(Plot plot) {
        return plot instanceof XYPlot xy ? xy.getRangeAxis() : ((CategoryPlot) plot).getRangeAxis();
    }
}
