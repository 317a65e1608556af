package dev.fiesta.report.content;

import dev.fiesta.Result;
import dev.fiesta.Tables;
import dev.fiesta.report.text.CellFormat;
import dev.fiesta.value.LocaleStyle;
import dev.fiesta.value.Texts;
import java.math.BigDecimal;
import java.math.RoundingMode;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** The courses beside the rows of a table: small lines of another table's figure along its periods. */
public final class Courses {
    private static final int WIDTH = 96;
    private static final int HEIGHT = 20;
    private static final int EDGE = 3;

    /**
     * A column of courses.
     *
     * @param place how many columns of the table stand before it
     * @param rows for each row of the table its course, or null where there is none
     */
    public record Column(int place, String title, List<@Nullable Course> rows) {}

    /**
     * A course.
     *
     * @param values in the order of the periods, null where one is missing
     * @param text the least, the latest and the greatest value, where nothing can be drawn
     */
    public record Course(List<@Nullable Double> values, String text) {}

    private Courses() {}

    /** @param results the tables that were worked out */
    static List<Column> of(Result table, List<Tables.Course> courses, Map<String, Result> results, LocaleStyle locale) {
        List<Column> columns = new ArrayList<>();
        for (Tables.Course course : courses) {
            Result other = results.get(course.table());
            if (other == null) {
                continue; // tables were chosen by name, and this one was not
            }
            CellFormat format = CellFormat.of(locale, other, course.field());
            Map<List<@Nullable Object>, List<Integer>> parts = parts(other, course);
            List<@Nullable Course> rows = new ArrayList<>();
            for (int row = 0; row < table.rows(); row++) {
                List<Integer> own = parts.get(key(table, course.keys(), row));
                rows.add(own == null ? null : course(other, course.field(), own, format));
            }
            columns.add(new Column(
                    course.place(), Texts.printable(course.title() == null ? course.field() : course.title()), rows));
        }
        return columns;
    }

    /** The rows that belong together, each part in the order of its periods. */
    private static Map<List<@Nullable Object>, List<Integer>> parts(Result other, Tables.Course course) {
        Map<List<@Nullable Object>, List<Integer>> parts = new HashMap<>();
        for (int row = 0; row < other.rows(); row++) {
            if (other.column(course.along()).get(row) != null) {
                parts.computeIfAbsent(key(other, course.keys(), row), k -> new ArrayList<>())
                        .add(row);
            }
        }
        parts.values()
                .forEach(rows -> rows.sort(Comparator.comparing(
                        row -> Objects.requireNonNull(
                                other.column(course.along()).get(row)),
                        Courses::compare)));
        return parts;
    }

    @SuppressWarnings("unchecked")
    private static int compare(Object a, Object b) {
        return ((Comparable<Object>) a).compareTo(b);
    }

    private static List<@Nullable Object> key(Result table, List<String> keys, int row) {
        List<@Nullable Object> key = new ArrayList<>();
        for (String name : keys) {
            key.add(table.column(name).get(row));
        }
        return key;
    }

    /** None of hidden figures, nor where all values are missing. */
    private static @Nullable Course course(Result other, String field, List<Integer> rows, CellFormat format) {
        List<@Nullable Double> values = new ArrayList<>();
        Number least = null;
        Number latest = null;
        Number greatest = null;
        for (int row : rows) {
            if (other.isHidden(field, row)) {
                return null;
            }
            Number value = (Number) other.column(field).get(row);
            values.add(value == null ? null : value.doubleValue());
            if (value != null) {
                latest = value;
                least = least == null || value.doubleValue() < least.doubleValue() ? value : least;
                greatest = greatest == null || value.doubleValue() > greatest.doubleValue() ? value : greatest;
            }
        }
        return latest == null
                ? null
                : new Course(
                        values, format.print(least) + " … " + format.print(latest) + " … " + format.print(greatest));
    }

    /**
     * The line, with a dot at its latest value.
     *
     * @param paper whether it is small and has its own colours, not those of the page
     */
    public static String svg(Course course, boolean paper) {
        double least = course.values().stream()
                .filter(Objects::nonNull)
                .mapToDouble(v -> v)
                .min()
                .orElse(0);
        double most = course.values().stream()
                .filter(Objects::nonNull)
                .mapToDouble(v -> v)
                .max()
                .orElse(1);
        double high = most > least ? most - least : 1;
        int last = course.values().size() - 1;
        String colour = paper ? "#1f5f6b" : "var(--accent)";
        double scale = paper ? 0.6 : 1;
        StringBuilder path = new StringBuilder();
        StringBuilder lone = new StringBuilder();
        String end = "";
        boolean drawing = false;
        for (int i = 0; i <= last; i++) {
            Double value = course.values().get(i);
            if (value == null) {
                drawing = false;
                continue;
            }
            String x = number(EDGE + (last == 0 ? 0.5 : (double) i / last) * (WIDTH - 2 * EDGE));
            String y = number(HEIGHT - EDGE - (value - least) / high * (HEIGHT - 2 * EDGE));
            path.append(drawing ? 'L' : 'M').append(x).append(' ').append(y);
            boolean alone = !drawing && (i == last || course.values().get(i + 1) == null);
            lone.append(alone ? dot(x, y, "1.2", colour) : "");
            drawing = true;
            end = dot(x, y, "2", colour);
        }
        return "<svg xmlns=\"http://www.w3.org/2000/svg\" class=\"course\" width=\"" + Math.round(WIDTH * scale)
                + "\" height=\"" + Math.round(HEIGHT * scale) + "\" viewBox=\"0 0 " + WIDTH + " "
                + HEIGHT + "\" role=\"img\" aria-label=\"" + escaped(course.text()) + "\"><path d=\"" + path
                + "\" fill=\"none\" stroke=\"" + colour + "\" stroke-width=\"1.4\"/>" + lone + end + "</svg>";
    }

    private static String dot(String x, String y, String radius, String colour) {
        return "<circle cx=\"" + x + "\" cy=\"" + y + "\" r=\"" + radius + "\" fill=\"" + colour + "\"/>";
    }

    private static String number(double value) {
        return BigDecimal.valueOf(value).setScale(1, RoundingMode.HALF_EVEN).toPlainString();
    }

    private static String escaped(String text) {
        return text.replace("&", "&amp;").replace("<", "&lt;").replace("\"", "&quot;");
    }
}
