package dev.fiesta.sheetcharts;

import dev.fiesta.report.sheet.SheetChart;
import dev.fiesta.report.sheet.SheetChart.Cells;
import dev.fiesta.report.sheet.SheetChart.Kind;
import java.math.BigInteger;
import java.time.LocalDate;
import java.util.List;
import java.util.Objects;
import java.util.function.Supplier;
import org.apache.poi.ss.util.CellRangeAddress;
import org.apache.poi.ss.util.CellReference;
import org.apache.poi.xddf.usermodel.PresetLineDash;
import org.apache.poi.xddf.usermodel.XDDFColor;
import org.apache.poi.xddf.usermodel.XDDFLineProperties;
import org.apache.poi.xddf.usermodel.XDDFNoFillProperties;
import org.apache.poi.xddf.usermodel.XDDFPresetLineDash;
import org.apache.poi.xddf.usermodel.XDDFShapeProperties;
import org.apache.poi.xddf.usermodel.XDDFSolidFillProperties;
import org.apache.poi.xddf.usermodel.chart.AxisCrossBetween;
import org.apache.poi.xddf.usermodel.chart.AxisCrosses;
import org.apache.poi.xddf.usermodel.chart.AxisOrientation;
import org.apache.poi.xddf.usermodel.chart.AxisPosition;
import org.apache.poi.xddf.usermodel.chart.AxisTickLabelPosition;
import org.apache.poi.xddf.usermodel.chart.AxisTickMark;
import org.apache.poi.xddf.usermodel.chart.BarDirection;
import org.apache.poi.xddf.usermodel.chart.BarGrouping;
import org.apache.poi.xddf.usermodel.chart.ChartTypes;
import org.apache.poi.xddf.usermodel.chart.DisplayBlanks;
import org.apache.poi.xddf.usermodel.chart.Grouping;
import org.apache.poi.xddf.usermodel.chart.LegendPosition;
import org.apache.poi.xddf.usermodel.chart.MarkerStyle;
import org.apache.poi.xddf.usermodel.chart.ScatterStyle;
import org.apache.poi.xddf.usermodel.chart.XDDFAreaChartData;
import org.apache.poi.xddf.usermodel.chart.XDDFBarChartData;
import org.apache.poi.xddf.usermodel.chart.XDDFChartAxis;
import org.apache.poi.xddf.usermodel.chart.XDDFChartData;
import org.apache.poi.xddf.usermodel.chart.XDDFDataSource;
import org.apache.poi.xddf.usermodel.chart.XDDFDataSourcesFactory;
import org.apache.poi.xddf.usermodel.chart.XDDFDateAxis;
import org.apache.poi.xddf.usermodel.chart.XDDFLineChartData;
import org.apache.poi.xddf.usermodel.chart.XDDFNumericalDataSource;
import org.apache.poi.xddf.usermodel.chart.XDDFScatterChartData;
import org.apache.poi.xddf.usermodel.chart.XDDFValueAxis;
import org.apache.poi.xssf.usermodel.XSSFChart;
import org.apache.xmlbeans.XmlCursor;
import org.apache.xmlbeans.XmlObject;
import org.openxmlformats.schemas.drawingml.x2006.chart.CTBarChart;
import org.openxmlformats.schemas.drawingml.x2006.chart.CTDLbls;
import org.openxmlformats.schemas.drawingml.x2006.chart.CTValAx;
import org.openxmlformats.schemas.drawingml.x2006.main.CTTextCharacterProperties;

/** One chart on its way: series, axes and looks. */
final class OfficeChart {
    private static final byte[] SOFT = rgb(0x6D665A);
    private static final byte[] LINE = rgb(0xD8D1C3);
    private static final String NAMESPACE = "http://schemas.openxmlformats.org/drawingml/2006/chart";
    private static final LocalDate SERIAL_ZERO = LocalDate.of(1899, 12, 30);
    private static final int DAYS_A_MONTH = 30;
    private static final int MOST_TICKS = 12;
    private static final int TITLE_SIZE = 1300; // in hundredths of a point
    private static final double LINE_POINTS = 1.75;

    private final SheetChart asked;
    private final XSSFChart chart;
    private final boolean numbers;

    OfficeChart(SheetChart asked, XSSFChart chart) {
        this.asked = asked;
        this.chart = chart;
        this.numbers = asked.kind() == Kind.POINTS || asked.kind() == Kind.CURVES;
    }

    void make() {
        chart.setTitleText(asked.title());
        chart.setTitleOverlay(false);
        CTTextCharacterProperties title = chart.getCTChart()
                .getTitle()
                .getTx()
                .getRich()
                .getPArray(0)
                .getRArray(0)
                .getRPr();
        title.setSz(TITLE_SIZE);
        title.setB(false);
        new XDDFShapeProperties(chart.getCTChartSpace().addNewSpPr()).setLineProperties(none());
        chart.displayBlanksAs(DisplayBlanks.GAP);
        boolean lying = asked.kind() == Kind.BARS;
        XDDFChartAxis across = across(lying ? AxisPosition.LEFT : AxisPosition.BOTTOM);
        XDDFValueAxis values = chart.createValueAxis(lying ? AxisPosition.BOTTOM : AxisPosition.LEFT);
        values(values, lying);
        XDDFChartData data = chart.createData(type(), across, values);
        set(data);
        asked.series().forEach(s -> look(added(data, s), s));
        chart.plot(data);
        for (CTValAx axis : chart.getCTChart().getPlotArea().getValAxArray()) {
            if (axis.isSetNumFmt()) {
                axis.getNumFmt().setSourceLinked(false); // round values are written shorter than those in cells
            }
        }
        if (data instanceof XDDFBarChartData) {
            thicken(chart.getCTChart().getPlotArea().getBarChartArray(0));
        }
        if (!asked.lines().isEmpty()) {
            XDDFLineChartData levels = (XDDFLineChartData) chart.createData(ChartTypes.LINE, across, values);
            levels.setVaryColors(false);
            asked.lines().forEach(s -> line((XDDFLineChartData.Series) added(levels, s), s));
            chart.plot(levels);
        }
        if (asked.series().size() + asked.lines().size() > 1) {
            chart.getOrAddLegend().setPosition(LegendPosition.BOTTOM);
        }
    }

    /** Bars with little between them, in stacks at one place. */
    private void thicken(CTBarChart bars) {
        put(bars, "axId", "gapWidth", "60");
        put(bars, "axId", "overlap", asked.stacked() ? "100" : "0");
    }

    /** Puts an element before another, for which the library has no type. */
    private static void put(XmlObject parent, String before, String name, String value) {
        try (XmlCursor cursor = parent.newCursor()) {
            cursor.toChild(NAMESPACE, before);
            put(cursor, name, value);
        }
    }

    /** Puts one behind all others. */
    private static void put(XmlObject parent, String name, String value) {
        try (XmlCursor cursor = parent.newCursor()) {
            cursor.toEndToken();
            put(cursor, name, value);
        }
    }

    private static void put(XmlCursor cursor, String name, String value) {
        cursor.beginElement(name, NAMESPACE);
        cursor.insertAttributeWithValue("val", value);
    }

    private ChartTypes type() {
        return switch (asked.kind()) {
            case LINES -> ChartTypes.LINE;
            case CURVES, POINTS -> ChartTypes.SCATTER;
            case AREAS -> ChartTypes.AREA;
            case COLUMNS, BARS -> ChartTypes.BAR;
        };
    }

    private XDDFChartAxis across(AxisPosition at) {
        XDDFChartAxis axis = numbers
                ? chart.createValueAxis(at)
                : asked.days() ? chart.createDateAxis(at) : chart.createCategoryAxis(at);
        plain(axis);
        if (!asked.xTitle().isEmpty()) {
            axis.setTitle(asked.xTitle());
        }
        if (asked.days()) {
            ticks((XDDFDateAxis) axis);
        }
        String format = asked.series().get(0).x().format();
        if (!format.isEmpty()) {
            axis.setNumberFormat(format);
        }
        if (at == AxisPosition.LEFT) {
            axis.setOrientation(AxisOrientation.MAX_MIN); // the first row stands on top
        }
        return axis;
    }

    /** Ticks at whole months, weeks or steps of the days that there are. */
    private void ticks(XDDFDateAxis axis) {
        List<Long> days = asked.series().get(0).x().values().stream()
                .map(d -> ((Double) d).longValue())
                .toList();
        boolean months = days.size() > 1
                && days.stream().allMatch(d -> SERIAL_ZERO.plusDays(d).getDayOfMonth() == 1);
        long step = 0;
        for (int i = 1; i < days.size(); i++) {
            step = BigInteger.valueOf(step)
                    .gcd(BigInteger.valueOf(days.get(i) - days.get(i - 1)))
                    .longValue();
        }
        step = Math.max(1, step);
        if (!days.isEmpty()) {
            long all = (days.get(days.size() - 1) - days.get(0)) / (months ? DAYS_A_MONTH : step);
            axis.setMajorUnit((months ? 1 : step) * (double) (1 + all / MOST_TICKS));
        }
        XmlObject dates = chart.getCTChart().getPlotArea().getDateAxArray(0);
        put(dates, "majorUnit", "baseTimeUnit", months ? "months" : "days");
        put(dates, "majorTimeUnit", months ? "months" : "days");
    }

    private void values(XDDFValueAxis axis, boolean lying) {
        plain(axis);
        axis.setTitle(asked.valueTitle());
        if (!asked.valueFormat().isEmpty()) {
            axis.setNumberFormat(asked.valueFormat());
        }
        if (asked.log()) {
            axis.setLogBase(10);
        }
        boolean side = asked.kind() == Kind.COLUMNS || lying || asked.kind() == Kind.LINES;
        axis.setCrossBetween(side ? AxisCrossBetween.BETWEEN : AxisCrossBetween.MIDPOINT_CATEGORY);
        axis.setCrosses(lying ? AxisCrosses.MAX : AxisCrosses.AUTO_ZERO);
        axis.getOrAddMajorGridProperties().setLineProperties(stroke(LINE, 0.75));
    }

    private static void plain(XDDFChartAxis axis) {
        axis.setMajorTickMark(AxisTickMark.NONE);
        axis.setMinorTickMark(AxisTickMark.NONE);
        axis.setTickLabelPosition(AxisTickLabelPosition.LOW); // below negative values, not among them
        axis.getOrAddShapeProperties().setLineProperties(stroke(LINE, 0.75));
        axis.getOrAddTextProperties().setFillProperties(fill(SOFT));
    }

    private void set(XDDFChartData data) {
        data.setVaryColors(false);
        if (data instanceof XDDFBarChartData bars) {
            bars.setBarDirection(asked.kind() == Kind.BARS ? BarDirection.BAR : BarDirection.COL);
            bars.setBarGrouping(asked.stacked() ? BarGrouping.STACKED : BarGrouping.CLUSTERED);
        } else if (data instanceof XDDFAreaChartData areas) {
            areas.setGrouping(asked.stacked() ? Grouping.STACKED : Grouping.STANDARD);
        } else if (data instanceof XDDFLineChartData lines) {
            lines.setGrouping(Grouping.STANDARD);
        } else if (data instanceof XDDFScatterChartData points) {
            points.setStyle(ScatterStyle.LINE_MARKER);
        }
    }

    private static XDDFChartData.Series added(XDDFChartData data, SheetChart.Series series) {
        XDDFChartData.Series added = data.addSeries(source(series.x()), numbers(series.y()));
        Cells name = series.name();
        added.setTitle(
                name.values().get(0).toString(),
                new CellReference(name.sheet(), name.first(), name.column(), true, true));
        return added;
    }

    private static XDDFDataSource<?> source(Cells cells) {
        return cells.values().stream().allMatch(Double.class::isInstance)
                ? numbers(cells)
                : XDDFDataSourcesFactory.fromArray(
                        cells.values().stream().map(String::valueOf).toArray(String[]::new), range(cells));
    }

    private static XDDFNumericalDataSource<Double> numbers(Cells cells) {
        XDDFNumericalDataSource<Double> numbers =
                XDDFDataSourcesFactory.fromArray(cells.values().toArray(Double[]::new), range(cells));
        numbers.setFormatCode(cells.format().isEmpty() ? "General" : cells.format());
        return numbers;
    }

    private static String range(Cells cells) {
        int last = cells.first() + cells.values().size() - 1;
        return new CellRangeAddress(cells.first(), last, cells.column(), cells.column())
                .formatAsString(cells.sheet(), true);
    }

    private void look(XDDFChartData.Series made, SheetChart.Series series) {
        if (made instanceof XDDFLineChartData.Series line) {
            line(line, series);
            label(line.getCTLineSer()::addNewDLbls);
        } else if (made instanceof XDDFScatterChartData.Series points) {
            boolean joined = asked.kind() == Kind.CURVES;
            points.setSmooth(false);
            points.setMarkerStyle(joined ? MarkerStyle.NONE : MarkerStyle.CIRCLE);
            XDDFShapeProperties shape = new XDDFShapeProperties();
            shape.setLineProperties(joined ? line(series) : none());
            points.setShapeProperties(shape);
            if (!joined) {
                XDDFShapeProperties marker = new XDDFShapeProperties(
                        points.getCTScatterSer().getMarker().addNewSpPr());
                marker.setFillProperties(fill(rgb(series.colour())));
                marker.setLineProperties(none());
            }
            label(points.getCTScatterSer()::addNewDLbls);
        } else {
            XDDFShapeProperties shape = new XDDFShapeProperties();
            shape.setFillProperties(fill(rgb(series.colour())));
            made.setShapeProperties(shape);
            if (made instanceof XDDFBarChartData.Series bar) {
                bar.setInvertIfNegative(false);
                label(bar.getCTBarSer()::addNewDLbls);
            } else if (made instanceof XDDFAreaChartData.Series area) {
                label(area.getCTAreaSer()::addNewDLbls);
            }
        }
    }

    private void line(XDDFLineChartData.Series made, SheetChart.Series series) {
        made.setSmooth(false);
        boolean alone = series.y().values().stream().filter(Objects::nonNull).count() == 1;
        made.setMarkerStyle(alone ? MarkerStyle.CIRCLE : MarkerStyle.NONE); // one value makes no line
        XDDFShapeProperties shape = new XDDFShapeProperties();
        shape.setLineProperties(line(series));
        made.setShapeProperties(shape);
    }

    private static XDDFLineProperties line(SheetChart.Series series) {
        XDDFLineProperties line = stroke(rgb(series.colour()), LINE_POINTS);
        if (!series.dash().isEmpty()) {
            boolean dotted = series.dash().size() > 2;
            line.setPresetDash(new XDDFPresetLineDash(
                    dotted
                            ? PresetLineDash.DASH_DOT
                            : series.dash().get(0) > 6 ? PresetLineDash.LARGE_DASH : PresetLineDash.DASH));
        }
        return line;
    }

    private void label(Supplier<CTDLbls> labels) {
        if (asked.labelled()) {
            CTDLbls made = labels.get();
            made.addNewShowLegendKey().setVal(false);
            made.addNewShowVal().setVal(true);
            made.addNewShowCatName().setVal(false);
            made.addNewShowSerName().setVal(false);
            made.addNewShowPercent().setVal(false);
            made.addNewShowBubbleSize().setVal(false);
        }
    }

    private static XDDFLineProperties stroke(byte[] colour, double points) {
        XDDFLineProperties line = new XDDFLineProperties(fill(colour));
        line.setWidth(points);
        return line;
    }

    private static XDDFLineProperties none() {
        return new XDDFLineProperties(new XDDFNoFillProperties());
    }

    private static XDDFSolidFillProperties fill(byte[] colour) {
        return new XDDFSolidFillProperties(XDDFColor.from(colour));
    }

    private static byte[] rgb(int colour) {
        return new byte[] {(byte) (colour >> 16), (byte) (colour >> 8), (byte) colour};
    }
}
