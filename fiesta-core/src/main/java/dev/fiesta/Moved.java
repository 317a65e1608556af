package dev.fiesta;

import dev.fiesta.language.Clause;
import dev.fiesta.moved.Decomposition;
import dev.fiesta.moved.Fraction;
import dev.fiesta.problem.Notices;
import dev.fiesta.problem.RequestException;
import dev.fiesta.total.Worked;
import dev.fiesta.trace.FigurePair;
import dev.fiesta.value.Cells;
import dev.fiesta.value.Column;
import dev.fiesta.value.Field;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Texts;
import dev.fiesta.value.Type;
import java.math.BigDecimal;
import java.math.RoundingMode;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * What moved a figure of a table: what each of its groups has added to the difference between two runs, or between two periods of one.
 *
 * <pre>{@code
 * Result parts = Moved.within(tables.side("monthly", "takings"), "month", "2026-06-01", "2026-07-01").parts(2);
 * }</pre>
 */
public final class Moved {
    private static final int MOST_NAMED = 5;
    private static final int LONGEST = Type.MOST_DIGITS;
    /** The key of all groups together whose figures are hidden. */
    private static final String HIDDEN_KEY = "(hidden)";

    /**
     * The groups of a table with what a figure is made of.
     *
     * @param table its rows, with the two further fields
     * @param keys of the groups
     * @param figure its name
     * @param ratio whether it is a ratio
     */
    public record Side(Result table, List<String> keys, String figure, boolean ratio) {}

    private final Side like;
    private final List<String> keys;
    private final List<List<@Nullable Object>> groups;
    private final Decomposition whole;

    private Moved(Side like, List<String> keys, Map<List<@Nullable Object>, Decomposition.Group> groups) {
        this.like = like;
        this.keys = keys;
        this.groups = List.copyOf(groups.keySet());
        List<Decomposition.Group> pairs = List.copyOf(groups.values());
        try {
            this.whole = like.ratio() ? Decomposition.ofRatio(pairs) : Decomposition.ofSum(pairs);
        } catch (ArithmeticException e) {
            throw new RequestException("'" + like.figure() + "' of '"
                    + like.table().name() + "' divides by nothing on one side, so there is no move to be told.");
        }
    }

    /**
     * Between two runs.
     *
     * @param before the figure before
     * @param after the figure after
     * @return the parts
     * @throws RequestException when the figures or the keys are not the same
     */
    public static Moved between(Side before, Side after) {
        if (before.ratio() != after.ratio() || !before.keys().equals(after.keys())) {
            throw new RequestException("'" + before.figure() + "' of '"
                    + before.table().name() + "' is made otherwise in the other run, or its groups have other keys.");
        }
        Map<List<@Nullable Object>, Decomposition.Pair> first = pairs(before, before.keys(), all(before));
        Map<List<@Nullable Object>, Decomposition.Pair> second = pairs(after, after.keys(), all(after));
        return new Moved(after, before.keys(), met(first, second));
    }

    /**
     * Between two values of a key.
     *
     * @param side the groups
     * @param period the key
     * @param from its earlier value as data files write it, and {@code to} the later one
     * @param to where it goes
     * @return the parts
     * @throws RequestException when it is no key, or a value is in no row
     */
    public static Moved within(Side side, String period, String from, String to) {
        if (!side.keys().contains(period)) {
            throw new RequestException(
                    "'" + period + "' is no key of '" + side.table().name() + "'. "
                            + dev.fiesta.problem.Names.didYouMean(period, side.keys(), "Its keys are"));
        }
        List<String> others =
                side.keys().stream().filter(k -> !k.equals(period)).toList();
        if (others.isEmpty()) {
            throw new RequestException(
                    "'" + side.table().name() + "' has no key but '" + period + "', so there are no parts to be told.");
        }
        Map<List<@Nullable Object>, Decomposition.Pair> first = pairs(side, others, rows(side, period, from));
        Map<List<@Nullable Object>, Decomposition.Pair> second = pairs(side, others, rows(side, period, to));
        return new Moved(side, others, met(first, second));
    }

    private static int[] all(Side side) {
        return IntStream.range(0, side.table().rows()).toArray();
    }

    private static int[] rows(Side side, String period, String value) {
        Cells column = side.table().column(period);
        int[] rows = IntStream.range(0, side.table().rows())
                .filter(i -> value.equals(Texts.key(column.get(i))))
                .toArray();
        if (rows.length == 0) {
            Set<String> known = new LinkedHashSet<>();
            for (int i = 0; i < side.table().rows() && known.size() <= MOST_NAMED; i++) {
                known.add(Texts.key(column.get(i)));
            }
            List<String> first = known.stream().limit(MOST_NAMED).toList();
            throw new RequestException("No row of '" + side.table().name() + "' has the " + period + " " + value
                    + ". There are " + String.join(", ", first)
                    + (known.size() > MOST_NAMED ? " …" : "") + ".");
        }
        return rows;
    }

    /** By the values of keys; groups of hidden figures are one, whose keys are told as such. */
    private static Map<List<@Nullable Object>, Decomposition.Pair> pairs(Side side, List<String> keys, int[] rows) {
        Result table = side.table();
        Map<List<@Nullable Object>, Decomposition.Pair> pairs = new LinkedHashMap<>();
        for (int row : rows) {
            List<@Nullable Object> key = new ArrayList<>();
            for (String name : keys) {
                key.add(table.column(name).get(row));
            }
            if (table.isHidden(side.figure(), row)) {
                key = hidden(side, keys);
            }
            Decomposition.Pair pair =
                    new Decomposition.Pair(number(table, FigurePair.ABOVE, row), number(table, FigurePair.BASE, row));
            pairs.merge(
                    key,
                    pair,
                    (a, b) -> new Decomposition.Pair(
                            a.above().plus(b.above()), a.base().plus(b.base())));
        }
        return pairs;
    }

    private static List<@Nullable Object> hidden(Side side, List<String> keys) {
        if (!side.table().column(keys.get(0)).type().equals(Type.TEXT)) {
            throw new RequestException("Some of '" + side.figure() + "' of '"
                    + side.table().name() + "' is hidden, so its parts are not told.");
        }
        List<@Nullable Object> key = new ArrayList<>(List.of(HIDDEN_KEY));
        keys.stream().skip(1).forEach(k -> key.add(null));
        return key;
    }

    private static Fraction number(Result table, String field, int row) {
        Object value = table.kept(field, row);
        return value == null ? Fraction.ZERO : Fraction.of((Number) value);
    }

    private static Map<List<@Nullable Object>, Decomposition.Group> met(
            Map<List<@Nullable Object>, Decomposition.Pair> first,
            Map<List<@Nullable Object>, Decomposition.Pair> second) {
        Set<List<@Nullable Object>> keys = new LinkedHashSet<>(first.keySet());
        keys.addAll(second.keySet());
        Map<List<@Nullable Object>, Decomposition.Group> groups = new LinkedHashMap<>();
        keys.forEach(k -> groups.put(k, new Decomposition.Group(first.get(k), second.get(k))));
        return groups;
    }

    /** {@return the figure of all groups before; null where there is none} */
    public @Nullable Fraction before() {
        return whole.before();
    }

    /** {@return the figure of all groups after; null where there is none} */
    public @Nullable Fraction after() {
        return whole.after();
    }

    /** {@return the keys that tell the groups} */
    public List<String> keys() {
        return keys;
    }

    /** {@return whether the figure is a ratio} */
    public boolean isRatio() {
        return like.ratio();
    }

    /**
     * The parts, the largest first: the keys, {@code before}, {@code after}, {@code part}, then {@code records} and {@code values} of a sum, or
     * {@code mix} and {@code level} of a ratio; their total stands below. What is written adds up.
     *
     * @param digits behind the point
     * @return the rows
     */
    public Result parts(int digits) {
        List<Decomposition.Part> parts = whole.parts();
        List<BigDecimal> written = Decomposition.written(
                parts.stream().map(Decomposition.Part::whole).toList(), digits);
        List<Integer> order = IntStream.range(0, parts.size())
                .boxed()
                .sorted(Comparator.comparing((Integer i) -> written.get(i).abs())
                        .reversed())
                .toList();
        List<Field> fields = new ArrayList<>();
        List<Column> columns = new ArrayList<>();
        for (int k = 0; k < keys.size(); k++) {
            int place = k;
            Type type = like.table().column(keys.get(k)).type();
            fields.add(new Field(keys.get(k), type));
            columns.add(Column.of(
                    type, order.stream().map(i -> groups.get(i).get(place)).toList()));
        }
        Map<String, List<@Nullable BigDecimal>> figures = new LinkedHashMap<>();
        String[] names = like.ratio() ? new String[] {"mix", "level"} : new String[] {"records", "values"};
        for (int i : order) {
            Decomposition.Part part = parts.get(i);
            BigDecimal amount = part.amount().rounded(digits, RoundingMode.HALF_EVEN);
            add(figures, "before", rounded(part.before(), digits));
            add(figures, "after", rounded(part.after(), digits));
            add(figures, "part", written.get(i));
            add(figures, names[0], amount);
            add(figures, names[1], written.get(i).subtract(amount));
        }
        Map<String, @Nullable Object> total = new LinkedHashMap<>();
        Type type = type(figures, digits);
        figures.forEach((name, values) -> {
            fields.add(new Field(name, type));
            columns.add(Column.of(type, values));
            total.put(
                    name,
                    values.stream().map(v -> v == null ? BigDecimal.ZERO : v).reduce(BigDecimal.ZERO, BigDecimal::add));
        });
        total.put("before", rounded(whole.before(), digits));
        total.put("after", rounded(whole.after(), digits));
        List<ViewColumn> view = new ArrayList<>();
        keys.forEach(k -> view.add(new ViewColumn(k, null, ViewColumn.Role.KEY, formats(k, true))));
        List<Clause.Format> plain = formats(like.figure(), false);
        List<Clause.Format> drawn = new ArrayList<>(plain);
        drawn.add(new Clause.Format("bar", null));
        figures.keySet()
                .forEach(f ->
                        view.add(new ViewColumn(f, null, ViewColumn.Role.FIGURE, f.equals("part") ? drawn : plain)));
        Worked worked = Worked.of(new Schema(fields), columns.toArray(Column[]::new), order.size());
        TotalRow below = new TotalRow(order.size(), true, keys.get(0), total);
        return new Result(
                like.table().name(),
                worked,
                List.of(below),
                view,
                new Notices(),
                like.table().timings());
    }

    private static void add(Map<String, List<@Nullable BigDecimal>> figures, String name, @Nullable BigDecimal value) {
        figures.computeIfAbsent(name, n -> new ArrayList<>()).add(value);
    }

    private static @Nullable BigDecimal rounded(@Nullable Fraction value, int digits) {
        return value == null ? null : value.rounded(digits, RoundingMode.HALF_EVEN);
    }

    /** Decimals, where all have few enough digits. */
    private static Type type(Map<String, List<@Nullable BigDecimal>> figures, int digits) {
        boolean fits =
                figures.values().stream().flatMap(List::stream).allMatch(v -> v == null || v.precision() <= LONGEST);
        return fits ? Type.decimal(digits) : Type.REAL;
    }

    /** The formats of a column of the table that say how its values are written, not how they are drawn. */
    private List<Clause.Format> formats(String field, boolean key) {
        return like.table().view().stream()
                .filter(v -> v.field().equals(field))
                .flatMap(v -> v.formats().stream())
                .filter(f -> key
                        ? f.name().equals("date")
                        : Set.of("money", "number", "percent", "integer").contains(f.name()))
                .toList();
    }

    /** {@return the digits behind the point with which the figure is printed, or that it has} */
    public int digits() {
        for (Clause.Format format : formats(like.figure(), false)) {
            String digits = format.argument() != null && format.argument().matches("\\d+") ? format.argument() : "";
            return switch (format.name()) {
                case "percent" -> 2 + (digits.isEmpty() ? 1 : Integer.parseInt(digits));
                case "integer" -> 0;
                default -> digits.isEmpty() ? 2 : Integer.parseInt(digits);
            };
        }
        Type type = like.table().column(like.figure()).type();
        return type.isExact() ? type.scale() : 4;
    }

    /** {@return the digits behind the point with which data files have it: those of a sum of decimals, else 12} */
    public int exactDigits() {
        Type type = like.table().column(like.figure()).type();
        return !like.ratio() && type.isExact() ? type.scale() : 12;
    }
}
