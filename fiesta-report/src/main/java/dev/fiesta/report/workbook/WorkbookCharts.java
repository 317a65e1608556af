package dev.fiesta.report.workbook;

import dev.fiesta.Result;
import dev.fiesta.language.BriefTree;
import dev.fiesta.report.chart.ChartData;
import dev.fiesta.report.chart.ChartData.Point;
import dev.fiesta.report.chart.ChartImage;
import dev.fiesta.report.chart.ChartInk;
import dev.fiesta.report.chart.ChartSheet;
import dev.fiesta.report.chart.Charts;
import dev.fiesta.report.chart.Drawing;
import dev.fiesta.report.content.Content;
import dev.fiesta.report.sheet.SheetChart;
import dev.fiesta.report.sheet.SheetChart.Cells;
import dev.fiesta.report.sheet.SheetCharts;
import dev.fiesta.report.text.CellFormat;
import dev.fiesta.value.LocaleStyle;
import dev.fiesta.value.Texts;
import java.io.IOException;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.time.temporal.Temporal;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Base64;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.ServiceLoader;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Supplier;
import org.dhatim.fastexcel.PaperSize;
import org.dhatim.fastexcel.Worksheet;
import org.jspecify.annotations.Nullable;

/**
 * The charts of a workbook, one below the other. Those that an office program can draw stand over cells of a sheet with their values;
 * of the others there are pictures, as of all where nobody makes such charts.
 */
final class WorkbookCharts {
    private static final int WIDTH = 920;
    /** How high a row is, in dots. */
    private static final int ROW = 20;
    /** At this scale, in hundredths, a chart is as wide as a page, which then has so many rows. */
    private static final int SCALE = 68;

    private static final int PAGE_ROWS = 66;
    private static final int VALUE_WIDTH = 18;
    /** More make a workbook heavy that nobody reads point by point. */
    private static final int MOST_POINTS = 10_000;

    /** A dot without a colour: where a chart will stand, what stands for it until then. */
    private static final byte[] DOT = Base64.getDecoder()
            .decode("iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==");

    private final Content report;
    private final LocaleStyle locale;
    private final @Nullable SheetCharts maker;
    private final Supplier<Worksheet> made;
    private final String valuesName;
    private @Nullable Worksheet sheet;
    private final Map<Integer, byte[]> parts = new LinkedHashMap<>();
    private final List<Integer> breaks = new ArrayList<>();
    private int next;

    /**
     * @param made makes the sheet that takes the values of charts, where one has them in cells
     * @param valuesName its name
     */
    WorkbookCharts(Content report, Supplier<Worksheet> made, String valuesName) {
        this.report = report;
        this.locale = LocaleStyle.of(report.locale());
        this.made = made;
        this.valuesName = valuesName;
        this.maker = ServiceLoader.load(SheetCharts.class, WorkbookCharts.class.getClassLoader())
                .findFirst()
                .orElse(null);
    }

    /** Puts all charts onto a sheet. */
    void draw(Worksheet sheet) {
        sheet.hideGridLines();
        sheet.paperSize(PaperSize.A4_PAPER);
        sheet.pageScale(SCALE);
        sheet.width(0, 9);
        int row = 1;
        int page = 0;
        int number = 0;
        for (BriefTree.Chart chart : report.charts()) {
            ChartSheet drawn = report.draw(chart);
            int height = drawn.height(WIDTH) + 2 * ROW;
            Drawing asked = asked(chart);
            SheetChart own = maker == null ? null : overCells(asked);
            int rows = (height + ROW - 1) / ROW;
            if (row + rows > page + PAGE_ROWS && row > page + 1) {
                breaks.add(row);
                page = row;
            }
            number++;
            if (maker != null && own != null) {
                parts.put(number, maker.part(own));
                sheet.addImage(row, 0, DOT, WIDTH, height);
            } else {
                sheet.addImage(row, 0, ChartImage.png(drawn, report.title(chart)), WIDTH, height);
            }
            row += rows;
            String note = own == null ? drawn.note() : asked.left();
            if (!note.isEmpty()) {
                sheet.value(row, 0, note);
            }
            row += 2;
        }
    }

    /** The sheet of values. */
    private Worksheet values() {
        Worksheet known = sheet;
        if (known == null) {
            known = made.get();
            Workbook.onePageWide(known);
            sheet = known;
        }
        return known;
    }

    /** Ends the sheet of values; what fastens the charts to the workbook. */
    WorkbookParts fastened() throws IOException {
        if (sheet != null) {
            sheet.finish();
        }
        return new WorkbookParts(parts, breaks);
    }

    private Drawing asked(BriefTree.Chart chart) {
        Result result = report.result(chart.table().name());
        return new Drawing(chart, result, locale, new ChartData(chart, result, locale));
    }

    /** A chart over cells, or null where a picture shows it better. */
    private @Nullable SheetChart overCells(Drawing asked) {
        BriefTree.Chart chart = asked.piece();
        List<ChartData.Series> series =
                asked.largest().stream().filter(s -> !s.other()).toList();
        SheetChart.Kind kind = kind(chart, asked.data());
        List<Charts.Line> lines = report.lines(chart);
        boolean levels = lines.stream().noneMatch(l -> l.value() instanceof Temporal);
        boolean hasLines = kind == SheetChart.Kind.LINES || kind == SheetChart.Kind.COLUMNS;
        int points = series.stream().mapToInt(one -> one.points().size()).sum();
        boolean suits = kind != null
                && points <= MOST_POINTS
                && chart.apart() == null
                && !series.isEmpty()
                && (lines.isEmpty() || levels && hasLines)
                && series.stream().noneMatch(WorkbookCharts::repeats);
        return kind == null || !suits ? null : laid(chart, asked, kind, series, lines);
    }

    private static SheetChart.@Nullable Kind kind(BriefTree.Chart chart, ChartData data) {
        boolean side = data.isPlaces() || data.isDay();
        return switch (chart.kind()) {
            case "lines" -> side ? SheetChart.Kind.LINES : SheetChart.Kind.CURVES;
            case "areas" -> side ? SheetChart.Kind.AREAS : null;
            case "points" -> data.isPlaces() ? null : SheetChart.Kind.POINTS;
            case "columns" -> SheetChart.Kind.COLUMNS;
            case "bars" -> SheetChart.Kind.BARS;
            default -> null;
        };
    }

    /** Whether a series has several values at one x, of which cells would hold one. */
    private static boolean repeats(ChartData.Series series) {
        Set<Double> met = new HashSet<>();
        return series.points().stream().anyMatch(p -> !met.add(p.at()));
    }

    private SheetChart laid(
            BriefTree.Chart chart,
            Drawing asked,
            SheetChart.Kind kind,
            List<ChartData.Series> series,
            List<Charts.Line> lines) {
        ChartData data = asked.data();
        String title = Texts.printable(report.title(chart));
        values().value(next++, 0, title);
        String xTitle = data.title(chart.x().name());
        CellFormat figures = data.format(chart.y().get(0).name());
        String format = pattern(asked, chart.y().get(0).name(), figures);
        boolean numbers = kind == SheetChart.Kind.CURVES || kind == SheetChart.Kind.POINTS;
        boolean days = data.isDay() && (kind == SheetChart.Kind.LINES || kind == SheetChart.Kind.AREAS);
        String xFormat = numbers || days
                ? pattern(asked, chart.x().name(), data.format(chart.x().name()))
                : "";
        Block block = new Block(next, data, numbers || days, xFormat, format);
        List<SheetChart.Series> laid = numbers ? block.apart(series, xTitle) : block.beside(series, xTitle);
        List<SheetChart.Series> levels = new ArrayList<>();
        for (Charts.Line line : lines) {
            levels.add(block.level(line, laid.get(0).x()));
        }
        next = block.behind + 1;
        for (int column = 0; column < block.columns; column++) {
            values().width(column, VALUE_WIDTH);
        }
        return new SheetChart(
                kind,
                asked.stacked(),
                chart.options().log(),
                chart.options().values(),
                locale.tag(),
                title,
                numbers ? xTitle : "",
                data.valueTitle(),
                axis(format, series),
                days,
                laid,
                levels);
    }

    /** Along the axis of values stand round ones: where they are large, without what is behind the point. */
    private static String axis(String format, List<ChartData.Series> series) {
        double largest = series.stream()
                .flatMap(s -> s.points().stream())
                .mapToDouble(p -> p.y() == null ? 0 : Math.abs(p.y()))
                .max()
                .orElse(0);
        return largest >= (format.contains("%") ? 0.2 : 20) ? format.replaceFirst("\\.0+", "") : format;
    }

    private static String pattern(Drawing asked, String field, CellFormat format) {
        String pattern = format.sheetPattern(asked.result().column(field).type());
        return pattern == null ? "" : pattern;
    }

    /** The values of one chart. */
    private final class Block {
        private final int head;
        private final ChartData data;
        private final boolean placed;
        private final String xFormat;
        private final String format;
        private int columns;
        private int behind;

        /** @param placed whether x are numbers or times, not texts */
        Block(int head, ChartData data, boolean placed, String xFormat, String format) {
            this.head = head;
            this.data = data;
            this.placed = placed;
            this.xFormat = xFormat;
            this.format = format;
        }

        /** One column of x for all series. */
        List<SheetChart.Series> beside(List<ChartData.Series> series, String xTitle) {
            Map<Double, String> labels = placed ? new TreeMap<>() : new LinkedHashMap<>();
            series.forEach(s -> s.points().forEach(p -> labels.putIfAbsent(p.at(), p.label())));
            values().value(head, columns, Texts.printable(xTitle));
            Cells x = column(labels.entrySet().stream()
                    .map(e -> placed ? (Object) e.getKey() : e.getValue())
                    .toList());
            List<SheetChart.Series> laid = new ArrayList<>();
            for (ChartData.Series one : series) {
                Map<Double, Double> known = new LinkedHashMap<>();
                one.points().stream().filter(p -> p.y() != null).forEach(p -> known.put(p.at(), p.y()));
                laid.add(series(
                        laid.size(),
                        one.name(),
                        x,
                        labels.keySet().stream().map(known::get).toList()));
            }
            return laid;
        }

        /** For each series its own x. */
        List<SheetChart.Series> apart(List<ChartData.Series> series, String xTitle) {
            List<SheetChart.Series> laid = new ArrayList<>();
            for (ChartData.Series one : series) {
                List<Point> points = one.points().stream()
                        .sorted(Comparator.comparingDouble(Point::at))
                        .toList();
                values().value(head, columns, Texts.printable(xTitle));
                Cells x = column(points.stream().map(p -> (Object) p.at()).toList());
                laid.add(series(
                        laid.size(),
                        one.name(),
                        x,
                        points.stream().map(Point::y).toList()));
            }
            return laid;
        }

        SheetChart.Series level(Charts.Line line, Cells x) {
            Double[] same = new Double[x.values().size()];
            Arrays.fill(same, ChartData.position(line.value()));
            SheetChart.Series level = series(0, line.text(), x, Arrays.asList(same));
            return new SheetChart.Series(level.name(), x, level.y(), ChartInk.INK.getRGB() & 0xFFFFFF, List.of(5, 3));
        }

        private SheetChart.Series series(int number, String name, Cells x, Collection<? extends @Nullable Double> of) {
            String shown = Texts.printable(name);
            values().value(head, columns, shown);
            Cells named = new Cells(valuesName, columns, head, List.of(shown), "");
            List<@Nullable Double> all = new ArrayList<>(of);
            for (int i = 0; i < all.size(); i++) {
                Double value = all.get(i);
                if (value != null) {
                    values().value(head + 1 + i, columns, value);
                    styled(head + 1 + i, format);
                }
            }
            behind = Math.max(behind, head + 1 + all.size());
            Cells cells = new Cells(valuesName, columns++, head + 1, all, format);
            return new SheetChart.Series(
                    named, x, cells, ChartInk.series(number).getRGB() & 0xFFFFFF, ChartInk.dash(number));
        }

        private void styled(int row, String pattern) {
            if (!pattern.isEmpty()) {
                values().style(row, columns).format(pattern).set();
            }
        }

        /** A column of x: texts, numbers, or times as a sheet counts them. */
        private Cells column(List<Object> of) {
            List<Object> all = new ArrayList<>();
            for (int i = 0; i < of.size(); i++) {
                int row = head + 1 + i;
                if (!(of.get(i) instanceof Double number)) {
                    values().value(row, columns, of.get(i).toString());
                    all.add(of.get(i));
                } else if (data.isTime()) {
                    LocalDateTime time =
                            LocalDateTime.ofInstant(Instant.ofEpochMilli(number.longValue()), ZoneOffset.UTC);
                    values().value(row, columns, time);
                    styled(row, xFormat);
                    all.add(serial(time));
                } else {
                    values().value(row, columns, number);
                    styled(row, xFormat);
                    all.add(number);
                }
            }
            return new Cells(valuesName, columns++, head + 1, all, xFormat);
        }
    }

    /** Sheets count days from the last of 1899 but one. */
    private static double serial(LocalDateTime time) {
        LocalDate first = LocalDate.of(1899, 12, 30);
        return time.toLocalDate().toEpochDay()
                - first.toEpochDay()
                + time.toLocalTime().toSecondOfDay() / 86_400.0;
    }
}
