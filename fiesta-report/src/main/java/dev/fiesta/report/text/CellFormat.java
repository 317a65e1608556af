package dev.fiesta.report.text;

import dev.fiesta.Result;
import dev.fiesta.TotalRow;
import dev.fiesta.ViewColumn;
import dev.fiesta.language.Clause;
import dev.fiesta.value.CalendarNames;
import dev.fiesta.value.Cells;
import dev.fiesta.value.Kind;
import dev.fiesta.value.LocaleStyle;
import dev.fiesta.value.Texts;
import dev.fiesta.value.Type;
import java.math.BigDecimal;
import java.math.RoundingMode;
import java.time.LocalDateTime;
import java.time.temporal.TemporalAccessor;
import java.util.List;
import java.util.Objects;
import java.util.Set;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;

/** How the values of one column are printed. */
public final class CellFormat {
    /** What a missing value shows as. */
    public static final String MISSING = "–";

    /** Formats that say how a number is written. */
    private static final Set<String> OF_NUMBERS =
            Set.of("money", "number", "integer", "percent", "thousands", "text", "bands");

    private static final long FIRST_YEAR = 1800;
    private static final long LAST_YEAR = 2199;

    private final LocaleStyle locale;

    private final Words words;
    private final Type type;
    private final ViewColumn view;
    private final int decimals;
    /** Whole numbers that name something, as keys and years do, have no thousands. */
    private final boolean named;

    private final TreeSet<BigDecimal> bands = new TreeSet<>();

    public CellFormat(LocaleStyle locale, ViewColumn view, Cells column) {
        this.locale = locale;
        this.words = Words.of(locale.tag());
        this.type = column.type();
        this.view = view;
        this.decimals = decimals(column);
        this.named = view.formats().stream().noneMatch(f -> OF_NUMBERS.contains(f.name()))
                && type.kind() == Kind.INTEGER
                && (view.key() || (view.role() == ViewColumn.Role.FIELD && years(column)));
        if (has("bands")) {
            for (int i = 0; i < column.size(); i++) {
                if (column.get(i) instanceof Number number) {
                    bands.add(exact(number));
                }
            }
        }
    }

    /** For a field of a result. */
    public static CellFormat of(LocaleStyle locale, Result result, String field) {
        return new CellFormat(locale, view(result, field), result.column(field));
    }

    /** How a field of a result is shown. */
    public static ViewColumn view(Result result, String field) {
        return result.view().stream()
                .filter(v -> v.field().equals(field))
                .findFirst()
                .orElse(new ViewColumn(field, null, ViewColumn.Role.FIELD, List.of()));
    }

    /** How these values are written along an axis. */
    public AxisFigures figures() {
        return has("percent")
                ? new AxisFigures(locale, 100, words.get("percent", ""), true)
                : new AxisFigures(locale, has("thousands") ? 0.001 : 1, "", !named);
    }

    /** The pattern that was told for dates, or null. */
    @Nullable
    public String datePattern() {
        return argument("date");
    }

    private boolean has(String format) {
        return view.formats().stream().anyMatch(f -> f.name().equals(format));
    }

    private @Nullable String argument(String format) {
        for (Clause.Format given : view.formats()) {
            if (given.name().equals(format)) {
                return given.argument();
            }
        }
        return null;
    }

    private int digits(String format, int otherwise) {
        String argument = argument(format);
        return argument != null && argument.matches("\\d+") ? Integer.parseInt(argument) : otherwise;
    }

    private int decimals(Cells column) {
        if (has("percent")) {
            return digits("percent", 1);
        }
        if (has("integer") || has("thousands")) {
            return digits("thousands", 0);
        }
        if (has("money")) {
            return digits("money", 2);
        }
        if (has("number")) {
            return digits("number", 2);
        }
        return column.type().isExact()
                ? column.type().scale()
                : column.type().kind() == Kind.REAL ? fitting(column) : 0;
    }

    /** Decimals for numbers that nobody gave a format: enough for the sizes met, the same for the whole column. */
    private static int fitting(Cells column) {
        double largest = 0;
        boolean whole = true;
        for (int i = 0; i < column.size(); i++) {
            if (column.get(i) instanceof Double number) {
                largest = Math.max(largest, Math.abs(number));
                whole &= number == Math.rint(number);
            }
        }
        return whole ? 0 : largest >= 100 ? 2 : largest >= 1 ? 3 : 4;
    }

    /** Whole numbers of the size of years are read as such. */
    private static boolean years(Cells column) {
        boolean any = false;
        for (int i = 0; i < column.size(); i++) {
            if (column.get(i) instanceof Long year) {
                if (year < FIRST_YEAR || year > LAST_YEAR) {
                    return false;
                }
                any = true;
            }
        }
        return any;
    }

    /** The heading of the column; the names that totals and missing values have in files are the report's own words here. */
    public String title() {
        if (view.title() != null) {
            return Texts.printable(view.title());
        }
        return view.field().equals(TotalRow.LABEL)
                ? total()
                : view.field().equals(Texts.MISSING_KEY) ? words.get("missing") : Texts.printable(view.field());
    }

    /** What stands in the key of a total. */
    String total() {
        return words.get("total");
    }

    /** The unit in the heading: a currency, or thousands. */
    public String unit() {
        String argument = argument("money");
        String currency = argument != null && !argument.matches("\\d+") ? argument : "";
        return Texts.printable(has("thousands") ? (currency + " " + words.get("thousands")).strip() : currency);
    }

    /** Numbers stand right, so that their points are below each other; the rest left, unless the brief says otherwise. */
    public boolean right() {
        return has("right") || (type.isNumeric() && !has("left") && !has("text") && !has("bands"));
    }

    /** Whether numbers are shown as texts, because they are names or bands. */
    public boolean isText() {
        return has("text") || has("bands");
    }

    /** The pattern that a sheet formats these values with, or null where it needs none. */
    @Nullable
    public String sheetPattern(Type of) {
        if (of.isNumeric()) {
            String zeros = decimals == 0 ? "" : "." + "0".repeat(decimals);
            if (named) {
                return "0";
            }
            return has("percent") ? "0" + zeros + "%" : has("thousands") ? "#,##0" + zeros + "," : "#,##0" + zeros;
        }
        if (of.kind() == Kind.DATE) {
            return argument("date") == null ? "yyyy-mm-dd" : sheetDate(Objects.requireNonNull(argument("date")));
        }
        return of.isTime() ? "yyyy-mm-dd hh:mm" : null;
    }

    /** Letters of date patterns in a sheet are small. */
    private static String sheetDate(String pattern) {
        return pattern.replace("uuuu", "yyyy")
                .replace("EEEE", "dddd")
                .replace("EEE", "ddd")
                .replace("M", "m");
    }

    public boolean bar() {
        return has("bar");
    }

    public boolean shade() {
        return has("shade");
    }

    /** A value as it is printed. */
    public String print(@Nullable Object value) {
        return Texts.printable(plain(value));
    }

    private String plain(@Nullable Object value) {
        if (value == null) {
            return view.key() ? words.get("missing") : MISSING;
        }
        if (value instanceof Number number) {
            return number(number);
        }
        if (value instanceof TemporalAccessor time) {
            return time(time, value);
        }
        return value instanceof Boolean truth ? words.get(truth ? "yes" : "no") : Texts.of(value);
    }

    private String number(Number number) {
        BigDecimal exact = exact(number);
        if (named || has("text")) {
            return exact.toPlainString();
        }
        if (has("bands")) {
            BigDecimal next = bands.higher(exact);
            String from = locale.number(exact.stripTrailingZeros().toPlainString());
            return next == null
                    ? words.get("and_over", from)
                    : words.get(
                            "between",
                            from,
                            locale.number(next.stripTrailingZeros().toPlainString()));
        }
        if (has("percent")) {
            return words.get("percent", rounded(exact.movePointRight(2)));
        }
        return rounded(has("thousands") ? exact.movePointLeft(3) : exact);
    }

    private String rounded(BigDecimal value) {
        BigDecimal rounded = value.setScale(decimals, RoundingMode.HALF_EVEN);
        return locale.number(rounded.toPlainString());
    }

    static BigDecimal exact(Number number) {
        return number instanceof BigDecimal d
                ? d
                : number instanceof Long n ? BigDecimal.valueOf(n) : new BigDecimal(number.doubleValue());
    }

    private String time(TemporalAccessor time, Object value) {
        String pattern = argument("date");
        if (pattern != null) {
            return CalendarNames.formatter(pattern, locale.tag()).format(time);
        }
        if (value instanceof LocalDateTime dateTime) {
            return dateTime.getSecond() == 0 && dateTime.getNano() == 0
                    ? dateTime.toLocalDate() + " " + dateTime.toLocalTime()
                    : Texts.of(value).replace('T', ' ');
        }
        return Texts.of(value);
    }
}
