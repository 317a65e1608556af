package dev.fiesta.report.chart;

import dev.fiesta.Result;
import dev.fiesta.language.BriefTree;
import dev.fiesta.language.Ref;
import dev.fiesta.problem.RequestException;
import dev.fiesta.report.text.AxisFigures;
import dev.fiesta.report.text.CellFormat;
import dev.fiesta.report.text.Words;
import dev.fiesta.value.Kind;
import dev.fiesta.value.LocaleStyle;
import dev.fiesta.value.Type;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeSet;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/** What a chart shows: the values of a table's rows, by series. Hidden figures are as good as missing. */
public final class ChartData {
    static final int MOST_SERIES = 8;

    /**
     * A point.
     *
     * @param at where it stands along x: a number, milliseconds, or the place of a text
     * @param label what x shows there
     * @param y null where a gap is wanted
     */
    public record Point(double at, String label, @Nullable Double y, String shown) {}

    /** A series; those beyond the eight largest are others. */
    public record Series(String name, List<Point> points, boolean other) {
        double size() {
            return points.stream()
                    .mapToDouble(p -> p.y() == null ? 0 : Math.abs(p.y()))
                    .sum();
        }
    }

    private final BriefTree.Chart chart;
    private final Result result;
    private final LocaleStyle locale;
    private final int[] rows;
    /** All series that charts side by side have, so that each has its colour in all of them; empty for a chart alone. */
    private final List<String> order;

    private final Map<String, Integer> places = new LinkedHashMap<>();

    public ChartData(BriefTree.Chart chart, Result result, LocaleStyle locale) {
        this(chart, result, locale, IntStream.range(0, result.rows()).toArray(), List.of(), Map.of());
    }

    private ChartData(
            BriefTree.Chart chart,
            Result result,
            LocaleStyle locale,
            int[] rows,
            List<String> order,
            Map<String, Integer> places) {
        this.order = order;
        this.places.putAll(places);
        this.chart = chart;
        this.result = result;
        this.locale = locale;
        this.rows = rows;
    }

    /** The rows that are drawn. */
    int[] rows() {
        return rows;
    }

    /** What a field parts the rows into, by its values as they are printed, in the order in which they are met. */
    Map<String, ChartData> parted(String field) {
        Map<String, List<Integer>> parts = new LinkedHashMap<>();
        CellFormat format = format(field);
        for (int row : rows) {
            Object value = result.column(field).get(row);
            parts.computeIfAbsent(value == null ? missing() : format.print(value), v -> new ArrayList<>())
                    .add(row);
        }
        List<String> all = series().stream().map(Series::name).toList();
        Map<String, ChartData> parted = new LinkedHashMap<>();
        parts.forEach((value, of) -> parted.put(
                value,
                new ChartData(
                        chart, result, locale, of.stream().mapToInt(i -> i).toArray(), all, places)));
        return parted;
    }

    /** What a missing key is called. */
    String missing() {
        return Words.of(locale.tag()).get("missing");
    }

    private Type xType() {
        return result.column(chart.x().name()).type();
    }

    public boolean isTime() {
        return xType().isTime();
    }

    public boolean isDay() {
        return xType().kind() == Kind.DATE;
    }

    /** Whether x holds neither numbers nor times, so that its values stand side by side. */
    public boolean isPlaces() {
        return !xType().isTime() && !xType().isNumeric();
    }

    /** The texts of x, in the order in which they are met. */
    List<String> places() {
        return List.copyOf(places.keySet());
    }

    public CellFormat format(String field) {
        return new CellFormat(locale, CellFormat.view(result, field), result.column(field));
    }

    public String title(String field) {
        return CellFormat.view(result, field).title() == null
                ? field
                : Objects.requireNonNull(CellFormat.view(result, field).title());
    }

    /** What the values are: the figure with its unit, or all of them. */
    public String valueTitle() {
        List<String> titles = chart.y().stream()
                .map(y -> {
                    String unit = format(y.name()).unit();
                    return title(y.name()) + (unit.isEmpty() ? "" : ", " + unit);
                })
                .toList();
        return String.join("; ", titles);
    }

    /** How values are written along their axis: as the first of them is. */
    AxisFigures figures() {
        return format(chart.y().get(0).name()).figures();
    }

    /** The series in the order in which they are met; more than eight are eight and others. */
    public List<Series> series() {
        Map<String, List<Point>> found = new LinkedHashMap<>();
        order.forEach(name -> found.put(name, new ArrayList<>()));
        CellFormat xFormat = format(chart.x().name());
        for (Ref y : chart.y()) {
            CellFormat yFormat = format(y.name());
            for (int row : rows) {
                Object at = result.shown(chart.x().name(), row);
                if (at == null && !isPlaces()) {
                    continue;
                }
                String label = at == null ? missing() : xFormat.print(at);
                Object value = result.isHidden(y.name(), row)
                        ? null
                        : result.column(y.name()).get(row);
                Double number = value == null ? null : number(value, y.name());
                Double placed = number != null && isInSight(number) ? number : null;
                found.computeIfAbsent(name(y, row), n -> new ArrayList<>())
                        .add(new Point(position(at, label), label, placed, yFormat.print(value)));
            }
        }
        List<Series> all = new ArrayList<>();
        found.forEach((name, points) -> all.add(new Series(name, points, false)));
        return all.size() <= MOST_SERIES ? all : withOthers(all);
    }

    /** A logarithmic axis has no zero, and nothing below. */
    boolean isInSight(double value) {
        return !chart.options().log() || value > 0;
    }

    private String name(Ref y, int row) {
        Ref by = chart.by();
        if (by == null) {
            return title(y.name());
        }
        Object part = result.column(by.name()).get(row);
        String name = part == null ? missing() : format(by.name()).print(part);
        return chart.y().size() > 1 ? name + " " + title(y.name()) : name;
    }

    private static List<Series> withOthers(List<Series> all) {
        List<Series> bySize = new ArrayList<>(all);
        bySize.sort(Comparator.comparingDouble(Series::size).reversed());
        TreeSet<String> large = new TreeSet<>();
        bySize.subList(0, MOST_SERIES).forEach(s -> large.add(s.name()));
        List<Series> parted = new ArrayList<>();
        all.stream().filter(s -> large.contains(s.name())).forEach(parted::add);
        all.stream()
                .filter(s -> !large.contains(s.name()))
                .forEach(s -> parted.add(new Series(s.name(), s.points(), true)));
        return parted;
    }

    private double position(@Nullable Object value, String label) {
        return value == null || isPlaces() ? places.computeIfAbsent(label, l -> places.size()) : position(value);
    }

    /** Where a number or a time stands along an axis. */
    public static double position(Object value) {
        if (value instanceof LocalDate date) {
            return date.atStartOfDay().toInstant(ZoneOffset.UTC).toEpochMilli();
        }
        if (value instanceof LocalDateTime time) {
            return time.toInstant(ZoneOffset.UTC).toEpochMilli();
        }
        return value instanceof Instant instant ? instant.toEpochMilli() : ((Number) value).doubleValue();
    }

    /** The values of a field that has numbers, without the missing ones. */
    double[] numbers(String field) {
        List<Double> numbers = new ArrayList<>();
        for (int row : rows) {
            Object value =
                    result.isHidden(field, row) ? null : result.column(field).get(row);
            if (value != null) {
                numbers.add(number(value, field));
            }
        }
        return numbers.stream().mapToDouble(d -> d).toArray();
    }

    static double number(Object value, String field) {
        if (value instanceof Number number) {
            return number.doubleValue();
        }
        throw new RequestException("The field '" + field + "' holds no numbers, so it cannot be drawn along an axis.");
    }
}
