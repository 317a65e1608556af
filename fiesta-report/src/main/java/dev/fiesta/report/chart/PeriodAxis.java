package dev.fiesta.report.chart;

import java.awt.Graphics2D;
import java.awt.geom.Rectangle2D;
import java.util.List;
import java.util.stream.IntStream;
import org.jfree.chart.axis.AxisState;
import org.jfree.chart.axis.CategoryAxis;
import org.jfree.chart.axis.CategoryLabelPositions;
import org.jfree.chart.axis.CategoryTick;
import org.jfree.chart.plot.CategoryPlot;
import org.jfree.chart.text.TextBlock;
import org.jfree.chart.text.TextBlockAnchor;
import org.jfree.chart.ui.RectangleEdge;
import org.jfree.chart.ui.TextAnchor;

/** Days and times side by side: where not all can be written, every second or third is, as one reads them along any axis of time. */
final class PeriodAxis extends CategoryAxis {
    private static final long serialVersionUID = 1L;
    /** What a label that stands aslant takes along the axis, in lines. */
    private static final double ASLANT = 1.7;

    PeriodAxis() {
        super(null);
    }

    @Override
    public List<CategoryTick> refreshTicks(Graphics2D graphics, AxisState state, Rectangle2D area, RectangleEdge edge) {
        List<CategoryTick> ticks = List.copyOf(written(graphics, state, area, edge));
        boolean aslant = getCategoryLabelPositions() == CategoryLabelPositions.UP_45;
        if (!RectangleEdge.isTopOrBottom(edge) || !aslant || ticks.isEmpty()) {
            return ticks;
        }
        double each =
                area.getWidth() / ((CategoryPlot) getPlot()).getCategories().size();
        int step = (int) Math.max(1, Math.ceil(ASLANT * getTickLabelFont().getSize2D() / each));
        return IntStream.range(0, ticks.size())
                .mapToObj(i -> i % step == 0 ? ticks.get(i) : blank(ticks.get(i)))
                .toList();
    }

    @SuppressWarnings("unchecked") // the library declares no type
    private List<CategoryTick> written(Graphics2D graphics, AxisState state, Rectangle2D area, RectangleEdge edge) {
        return super.refreshTicks(graphics, state, area, edge);
    }

    private static CategoryTick blank(CategoryTick tick) {
        return new CategoryTick(
                tick.getCategory(), new TextBlock(), TextBlockAnchor.TOP_CENTER, TextAnchor.CENTER, tick.getAngle());
    }
}
