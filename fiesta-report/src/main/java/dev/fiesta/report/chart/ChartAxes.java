package dev.fiesta.report.chart;

import dev.fiesta.report.text.AxisFigures;
import dev.fiesta.value.CalendarNames;
import dev.fiesta.value.LocaleStyle;
import java.awt.Graphics2D;
import java.awt.geom.Rectangle2D;
import java.text.DateFormat;
import java.text.DecimalFormat;
import java.text.DecimalFormatSymbols;
import java.text.FieldPosition;
import java.text.NumberFormat;
import java.text.ParsePosition;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.Date;
import java.util.List;
import java.util.Locale;
import java.util.TimeZone;
import org.jfree.chart.axis.AxisState;
import org.jfree.chart.axis.DateAxis;
import org.jfree.chart.axis.DateTick;
import org.jfree.chart.axis.DateTickUnit;
import org.jfree.chart.axis.DateTickUnitType;
import org.jfree.chart.axis.LogAxis;
import org.jfree.chart.axis.NumberAxis;
import org.jfree.chart.axis.NumberTick;
import org.jfree.chart.axis.NumberTickUnit;
import org.jfree.chart.axis.TickUnits;
import org.jfree.chart.axis.ValueAxis;
import org.jfree.chart.plot.ValueAxisPlot;
import org.jfree.chart.ui.RectangleEdge;
import org.jfree.chart.ui.TextAnchor;
import org.jfree.data.Range;
import org.jspecify.annotations.Nullable;

/** Axes of charts: few ticks, on round numbers and whole days, written as the locale of the brief does. */
final class ChartAxes {
    private static final int MOST_NAMED = 60;
    /** The room that a name of a tick wants along an axis. */
    private static final int UPRIGHT = 58;

    private static final int LYING = 96;

    private ChartAxes() {}

    /** The axis of values: from zero unless it is logarithmic or the kind compares places, not sizes. */
    static ValueAxis values(boolean log, boolean fromZero, AxisFigures figures) {
        if (log) {
            return new PowerAxis(figures);
        }
        NumberAxis axis = numbers(null, false, figures);
        axis.setAutoRangeIncludesZero(fromZero);
        return axis;
    }

    /**
     * An axis of numbers.
     *
     * @param whole whether only whole numbers are named
     */
    static NumberAxis numbers(@Nullable String title, boolean whole, AxisFigures figures) {
        NumberAxis axis = new FewTicks(title, whole);
        axis.setNumberFormatOverride(new Localised(figures));
        return axis;
    }

    /** The range of values that all lie so near each other that an axis of its own would have no length; null where they do not. */
    private static @Nullable Range flat(ValueAxis axis) {
        Range range = axis.getPlot() instanceof ValueAxisPlot plot ? plot.getDataRange(axis) : null;
        double size = range == null ? 0 : Math.max(Math.abs(range.getLowerBound()), Math.abs(range.getUpperBound()));
        return range != null && range.getLength() <= size * 1e-9 ? range : null;
    }

    /** Sets the range of an axis; one that has no length is given some, and none leaves it as it is. */
    static void set(ValueAxis axis, @Nullable Range range) {
        if (range == null) {
            return;
        }
        double low = range.getLowerBound();
        double high = range.getUpperBound();
        if (high - low > Math.abs(high) * 1e-9) {
            axis.setRange(range);
        } else if (axis instanceof LogAxis && low > 0) {
            axis.setRange(low / 2, high * 2);
        } else {
            double room = Math.max(0.5, Math.abs(low) / 20);
            axis.setRange(low - room, high + room);
        }
    }

    /** An axis of times. Few values are named themselves, every so many of them; many by weeks, months or years. */
    static DateAxis times(double[] at, boolean days, @Nullable String pattern, LocaleStyle locale) {
        DateAxis axis = new DateAxis(null, TimeZone.getTimeZone("UTC"), Locale.ROOT) {
            private static final long serialVersionUID = 1L;

            @Override
            protected List<?> refreshTicksHorizontal(Graphics2D graphics, Rectangle2D area, RectangleEdge edge) {
                return at.length > MOST_NAMED || at.length == 0
                        ? super.refreshTicksHorizontal(graphics, area, edge)
                        : named(at, getDateFormatOverride(), area.getWidth());
            }
        };
        double span = at.length == 0 ? 0 : at[at.length - 1] - at[0];
        String usual = !days && span < 2 * 86_400_000.0 ? "HH:mm" : span > 400 * 86_400_000.0 ? "MMM yyyy" : "d MMM";
        axis.setDateFormatOverride(new Times(pattern == null ? usual : pattern, locale));
        if (days) {
            axis.setStandardTickUnits(wholeDays());
        }
        return axis;
    }

    private static List<DateTick> named(double[] at, DateFormat format, double width) {
        int most = Math.max(2, (int) (width / LYING) + 1);
        int every = (at.length + most - 1) / most;
        List<DateTick> ticks = new ArrayList<>();
        for (int i = 0; i < at.length; i += every) {
            Date date = new Date((long) at[i]);
            ticks.add(new DateTick(date, format.format(date), TextAnchor.TOP_CENTER, TextAnchor.CENTER, 0));
        }
        return ticks;
    }

    /** A number with few digits, as the locale writes it. */
    static String plain(double value, LocaleStyle locale) {
        return new Localised(AxisFigures.plain(locale)).format(value);
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

    /** An axis with few ticks, on round numbers. */
    private static final class FewTicks extends NumberAxis {
        private static final long serialVersionUID = 1L;

        private final boolean whole;

        FewTicks(@Nullable String title, boolean whole) {
            super(title);
            this.whole = whole;
        }

        @Override
        protected void autoAdjustRange() {
            Range flat = flat(this);
            if (flat == null) {
                super.autoAdjustRange();
            } else {
                set(this, getAutoRangeIncludesZero() ? Range.expand(Range.expandToInclude(flat, 0), 0, 0.05) : flat);
            }
        }

        @Override
        protected void selectAutoTickUnit(Graphics2D graphics, Rectangle2D area, RectangleEdge edge) {
            boolean upright = RectangleEdge.isLeftOrRight(edge);
            double room = upright ? area.getHeight() / UPRIGHT : area.getWidth() / LYING;
            double step = round(getRange().getLength() / Math.max(2, room));
            setTickUnit(new NumberTickUnit(whole ? Math.max(1, step) : step), false, false);
        }

        /** The next greater of 1, 2 and 5 times a power of ten. */
        private static double round(double least) {
            double power = Math.pow(10, Math.floor(Math.log10(least)));
            double times = least / power;
            return (times <= 1 ? 1 : times <= 2 ? 2 : times <= 5 ? 5 : 10) * power;
        }
    }

    /** Numbers on axes in the locale of the brief. */
    private static final class Localised extends NumberFormat {
        private static final long serialVersionUID = 1L;

        private final transient AxisFigures figures;
        private final DecimalFormat plain =
                new DecimalFormat("0.######", DecimalFormatSymbols.getInstance(Locale.ROOT));

        Localised(AxisFigures figures) {
            this.figures = figures;
        }

        @Override
        public StringBuffer format(double number, StringBuffer to, FieldPosition position) {
            return to.append(figures.write(plain.format(number * figures.factor())));
        }

        @Override
        public StringBuffer format(long number, StringBuffer to, FieldPosition position) {
            return format((double) number, to, position);
        }

        @Override
        public Number parse(String source, ParsePosition position) {
            return plain.parse(source, position);
        }
    }

    /** A logarithmic axis that names 1, 2 and 5 times the powers of ten. */
    private static final class PowerAxis extends LogAxis {
        private static final long serialVersionUID = 1L;

        private final transient Localised written;

        PowerAxis(AxisFigures figures) {
            super(null);
            this.written = new Localised(figures);
            setSmallestValue(1e-9);
        }

        @Override
        protected void autoAdjustRange() {
            Range flat = flat(this);
            if (flat == null) {
                super.autoAdjustRange();
            } else {
                set(this, flat);
            }
        }

        @Override
        public List<?> refreshTicks(Graphics2D graphics, AxisState state, Rectangle2D area, RectangleEdge edge) {
            List<NumberTick> ticks = new ArrayList<>();
            double least = getRange().getLowerBound();
            double most = getRange().getUpperBound();
            boolean wide = most / least > 1e4;
            TextAnchor anchor = RectangleEdge.isLeftOrRight(edge) ? TextAnchor.CENTER_RIGHT : TextAnchor.TOP_CENTER;
            for (double power = Math.pow(10, Math.floor(Math.log10(least))); power <= most; power *= 10) {
                for (int times : wide ? new int[] {1} : new int[] {1, 2, 5}) {
                    double value = times * power;
                    if (value >= least && value <= most) {
                        ticks.add(new NumberTick(value, written.format(value), anchor, TextAnchor.CENTER, 0));
                    }
                }
            }
            return ticks;
        }
    }

    /** Times on axes, with the month names of the brief's language. */
    private static final class Times extends DateFormat {
        private static final long serialVersionUID = 1L;

        private final transient DateTimeFormatter format;

        Times(String pattern, LocaleStyle locale) {
            this.format = CalendarNames.formatter(pattern, locale.tag()).withZone(ZoneOffset.UTC);
        }

        @Override
        public StringBuffer format(Date date, StringBuffer to, FieldPosition position) {
            return to.append(format.format(date.toInstant()));
        }

        @Override
        public Date parse(String source, ParsePosition position) {
            throw new UnsupportedOperationException("axes are never read");
        }
    }
}
