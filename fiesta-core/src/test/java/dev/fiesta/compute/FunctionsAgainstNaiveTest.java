package dev.fiesta.compute;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import java.math.BigDecimal;
import java.math.RoundingMode;
import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.temporal.ChronoUnit;
import java.time.temporal.IsoFields;
import java.time.temporal.TemporalAdjusters;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.SplittableRandom;
import java.util.function.Function;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/** Functions of one row, over random records with gaps and extremes, each worked out again from its definition. */
class FunctionsAgainstNaiveTest {
    record Sale(String t, String u, LocalDate d, LocalDate e, LocalDateTime s, Long i, BigDecimal x, Double r) {}

    private static final int RECORDS = 3_000;
    private static final String[] TEXTS = {
        "Quay",
        "old TOWN",
        "a-b--c",
        "",
        " ",
        "  x ",
        "Église",
        "\uD83C\uDFAA tent",
        "stall 012",
        "n/a",
        "-",
        "İstanbul",
        "ﬁne",
        "a/b/c",
        "12,5",
        "ß"
    };

    private final Map<String, Function<Sale, Object>> functions = new LinkedHashMap<>();

    private void is(String expression, Function<Sale, Object> definition) {
        functions.put(expression, definition);
    }

    /** A function that is missing where its field is. */
    private <T> void of(String expression, Function<Sale, T> field, Function<T, Object> definition) {
        is(expression, sale -> field.apply(sale) == null ? null : definition.apply(field.apply(sale)));
    }

    private void numbers() {
        of("abs(x)", Sale::x, BigDecimal::abs);
        of("abs(r)", Sale::r, Math::abs);
        of("sign(x)", Sale::x, x -> (long) x.signum());
        of("sign(i)", Sale::i, i -> (long) Long.signum(i));
        of("round(x)", Sale::x, x -> x.setScale(0, RoundingMode.HALF_EVEN));
        of("round(x, 2)", Sale::x, x -> x.setScale(2, RoundingMode.HALF_EVEN));
        of("round_half_up(x, 2)", Sale::x, x -> x.setScale(2, RoundingMode.HALF_UP));
        of("round_half_up(x, 1)", Sale::x, x -> x.setScale(1, RoundingMode.HALF_UP));
        of("floor(x)", Sale::x, x -> x.setScale(0, RoundingMode.FLOOR));
        of("ceiling(x)", Sale::x, x -> x.setScale(0, RoundingMode.CEILING));
        of("floor(r)", Sale::r, Math::floor);
        of("mod(i, 7)", Sale::i, i -> i % 7);
        of("mod(x, 2.5)", Sale::x, x -> x.remainder(new BigDecimal("2.5")));
        of("i % -4", Sale::i, i -> i % -4);
        of("band(i, 5)", Sale::i, i -> Math.floorDiv(i, 5L) * 5);
        of(
                "band(x, 0.25)",
                Sale::x,
                x -> x.divide(new BigDecimal("0.25"), 0, RoundingMode.FLOOR).multiply(new BigDecimal("0.25")));
        of(
                "bands(i, -100, 0, 5, 20)",
                Sale::i,
                i -> Stream.of(20L, 5L, 0L, -100L)
                        .filter(limit -> i >= limit)
                        .findFirst()
                        .orElse(null));
        is("least(i, x)", v -> extreme(v, -1));
        is("greatest(i, x)", v -> extreme(v, 1));
        of("sqrt(x)", Sale::x, x -> x.signum() < 0 ? null : Math.sqrt(x.doubleValue()));
        of("-i", Sale::i, i -> -i);
        is("i * x", v -> v.i() == null || v.x() == null ? null : v.x().multiply(BigDecimal.valueOf(v.i())));
        is("x - i", v -> v.i() == null || v.x() == null ? null : v.x().subtract(BigDecimal.valueOf(v.i())));
        is("coalesce(x, i, 0)", v -> v.x() != null ? v.x() : v.i() != null ? v.i() : (Object) 0L);
        of("missing_if(i, 3)", Sale::i, i -> i == 3 ? null : i);
        is(
                "if i > 3 then 'much' else if i > 0 then 'some'",
                v -> v.i() == null || v.i() <= 0 ? null : v.i() > 3 ? "much" : "some");
        is(
                "i between 0 and 3 or x > 2",
                v -> or(
                        v.i() == null ? null : v.i() >= 0 && v.i() <= 3,
                        v.x() == null ? null : v.x().compareTo(BigDecimal.valueOf(2)) > 0));
        is("not (i in (1, 2) and t is missing)", v -> {
            Boolean in = v.i() == null ? null : v.i() == 1 || v.i() == 2;
            return v.t() != null ? Boolean.TRUE : in == null ? null : (Object) !in;
        });
    }

    private static Object or(Boolean a, Boolean b) {
        return Boolean.TRUE.equals(a) || Boolean.TRUE.equals(b)
                ? Boolean.TRUE
                : a == null || b == null ? null : (Object) false;
    }

    private static Object extreme(Sale sale, int wanted) {
        List<BigDecimal> there = Stream.of(sale.i() == null ? null : BigDecimal.valueOf(sale.i()), sale.x())
                .filter(v -> v != null)
                .toList();
        return there.stream().max((a, b) -> wanted * a.compareTo(b)).orElse(null);
    }

    private void texts() {
        of("upper(t)", Sale::t, t -> t.toUpperCase(Locale.ROOT));
        of("lower(t)", Sale::t, t -> t.toLowerCase(Locale.ROOT));
        of("trim(t)", Sale::t, String::strip);
        of("length(t)", Sale::t, t -> (long) t.codePointCount(0, t.length()));
        of("substring(t, 2)", Sale::t, t -> characters(t, 1, Integer.MAX_VALUE));
        of("substring(t, 1, 3)", Sale::t, t -> characters(t, 0, 3));
        of("substring(t, 3, 2)", Sale::t, t -> characters(t, 2, 4));
        of("replace(t, '-', '+')", Sale::t, t -> t.replace("-", "+"));
        of("replace(t, 'a', '')", Sale::t, t -> t.replace("a", ""));
        of("capture(t, '([0-9]+)')", Sale::t, t -> found(t, "[0-9]+"));
        of("capture(t, '[a-z]+')", Sale::t, t -> found(t, "[a-z]+"));
        of("split(t, '/', 2)", Sale::t, t -> part(t, "/", 2));
        of("split(t, '-', 3)", Sale::t, t -> part(t, "-", 3));
        of("pad_left(t, 5, '0')", Sale::t, t -> "0".repeat(Math.max(0, 5 - t.codePointCount(0, t.length()))) + t);
        is("concat(t, '/', i)", v -> (v.t() == null ? "" : v.t()) + "/" + (v.i() == null ? "" : v.i()));
        is("t || u", v -> v.t() == null || v.u() == null ? null : v.t() + v.u());
        of("place_in(t, 'Quay', 'n/a', '')", Sale::t, t -> {
            int place = List.of("Quay", "n/a", "").indexOf(t);
            return place < 0 ? null : (Object) (place + 1L);
        });
        of(
                "reword(t, 'Quay' as 'Q', 'n/a' as missing)",
                Sale::t,
                t -> t.equals("Quay") ? "Q" : t.equals("n/a") ? null : t);
        of("reword(t, 'Quay' as 'Q' else 'other')", Sale::t, t -> t.equals("Quay") ? "Q" : "other");
        of("t contains '-'", Sale::t, t -> t.contains("-"));
        of("t starts with 'a'", Sale::t, t -> t.startsWith("a"));
        of("not t ends with 'c'", Sale::t, t -> !t.endsWith("c"));
        of("t matches '[a-z]-.*'", Sale::t, t -> t.matches("(?s)[a-z]-.*"));
        of("text(x)", Sale::x, BigDecimal::toPlainString);
        of("text(d)", Sale::d, LocalDate::toString);
        of("try_integer(t)", Sale::t, t -> t.strip().matches("[+-]?[0-9]+") ? (Object) Long.valueOf(t.strip()) : null);
        is("t < u", v -> v.t() == null || v.u() == null ? null : (Object) (byCodePoint(v.t(), v.u()) < 0));
    }

    private static int byCodePoint(String a, String b) {
        return Arrays.compare(a.codePoints().toArray(), b.codePoints().toArray());
    }

    private static String characters(String text, int from, int to) {
        int[] all = text.codePoints().toArray();
        int start = Math.min(from, all.length);
        int end = Math.min(to, all.length);
        return new String(all, start, Math.max(0, end - start));
    }

    private static Object found(String text, String pattern) {
        Matcher matcher = Pattern.compile(pattern).matcher(text);
        return matcher.find() ? matcher.group() : null;
    }

    private static Object part(String text, String separator, int wanted) {
        String[] parts = text.split(Pattern.quote(separator), -1);
        return parts.length < wanted ? null : parts[wanted - 1];
    }

    private void times() {
        of("year(d)", Sale::d, d -> (long) d.getYear());
        of("quarter(d)", Sale::d, d -> (long) d.get(IsoFields.QUARTER_OF_YEAR));
        of("month(s)", Sale::s, s -> (long) s.getMonthValue());
        of("week(d)", Sale::d, d -> (long) d.get(IsoFields.WEEK_OF_WEEK_BASED_YEAR));
        of("week_year(d)", Sale::d, d -> (long) d.get(IsoFields.WEEK_BASED_YEAR));
        of("day(d)", Sale::d, d -> (long) d.getDayOfMonth());
        of("weekday(d)", Sale::d, d -> (long) d.getDayOfWeek().getValue());
        of("decade(d)", Sale::d, d -> Math.floorDiv(d.getYear(), 10) * 10L);
        of("start_of_week(d)", Sale::d, d -> d.with(TemporalAdjusters.previousOrSame(DayOfWeek.MONDAY)));
        of("start_of_month(s)", Sale::s, s -> s.toLocalDate().withDayOfMonth(1));
        of("start_of_quarter(d)", Sale::d, d -> d.with(IsoFields.DAY_OF_QUARTER, 1L));
        of("start_of_year(d)", Sale::d, d -> d.withDayOfYear(1));
        of("hour(s)", Sale::s, s -> (long) s.getHour());
        of("minute(s)", Sale::s, s -> (long) s.getMinute());
        of("date(s)", Sale::s, LocalDateTime::toLocalDate);
        of("d + 1 month", Sale::d, d -> d.plusMonths(1));
        of("d - 3 quarters", Sale::d, d -> d.minusMonths(9));
        of("d + 1 year", Sale::d, d -> d.plusYears(1));
        of("s + 90 minutes", Sale::s, s -> s.plusMinutes(90));
        of("s - 25 hours", Sale::s, s -> s.minusHours(25));
        is("d - e", v -> v.d() == null || v.e() == null ? null : (Object) ChronoUnit.DAYS.between(v.e(), v.d()));
        is(
                "days_between(d, e)",
                v -> v.d() == null || v.e() == null ? null : (Object) ChronoUnit.DAYS.between(v.d(), v.e()));
        is("d < e", v -> v.d() == null || v.e() == null ? null : (Object) v.d().isBefore(v.e()));
        of("month_name(d)", Sale::d, d -> d.getMonth().getDisplayName(java.time.format.TextStyle.FULL, Locale.ENGLISH));
        of(
                "format(d, 'dd/MM/yyyy')",
                Sale::d,
                d -> String.format(Locale.ROOT, "%02d/%02d/%04d", d.getDayOfMonth(), d.getMonthValue(), d.getYear()));
        of("date(text(d))", Sale::d, d -> d);
    }

    private static List<Sale> sales() {
        SplittableRandom random = new SplittableRandom(20260512);
        List<Sale> sales = new ArrayList<>();
        for (int i = 0; i < RECORDS; i++) {
            LocalDate d = LocalDate.of(1995, 12, 20).plusDays(random.nextInt(14_000));
            LocalDateTime s = d.atTime(random.nextInt(24), random.nextInt(60), random.nextInt(60));
            sales.add(new Sale(
                    gap(random) ? null : TEXTS[random.nextInt(TEXTS.length)],
                    gap(random) ? null : TEXTS[random.nextInt(TEXTS.length)],
                    gap(random) ? null : d,
                    gap(random) ? null : d.plusDays(random.nextInt(-400, 400)),
                    gap(random) ? null : s,
                    gap(random) ? null : (Long) (long) random.nextInt(-130, 40),
                    gap(random)
                            ? null
                            : BigDecimal.valueOf(
                                    random.nextLong(-9_000_000, 9_000_000) / 125 * 125 / (i % 2 == 0 ? 1 : 1000), 3),
                    gap(random) ? null : (Double) (random.nextInt(-400, 400) / 8.0)));
        }
        return sales;
    }

    private static boolean gap(SplittableRandom random) {
        return random.nextInt(9) == 0;
    }

    @Test
    void eachIsWhatItsDefinitionSays() {
        numbers();
        texts();
        times();
        List<Sale> sales = sales();
        List<String> expressions = List.copyOf(functions.keySet());
        String clause = "add "
                + IntStream.range(0, expressions.size())
                        .mapToObj(i -> "f" + i + " = " + expressions.get(i))
                        .collect(Collectors.joining(",\n  "));
        try (Fiesta fiesta = Fiesta.open();
                Result result = fiesta.records(Sale.class, sales).then(clause).run()) {
            List<String> differing = new ArrayList<>();
            for (int f = 0; f < expressions.size(); f++) {
                Function<Sale, Object> definition = functions.get(expressions.get(f));
                for (int row = 0; row < sales.size(); row++) {
                    Object found = plain(result.row(row).get("f" + f));
                    Object wanted = plain(definition.apply(sales.get(row)));
                    if (!Objects.equals(found, wanted)) {
                        differing.add(expressions.get(f) + " is " + found + ", not " + wanted + ": " + sales.get(row));
                        break;
                    }
                }
            }
            assertThat(differing).isEmpty();
        }
    }

    private static Object plain(Object value) {
        Object exact = value instanceof Long n
                ? BigDecimal.valueOf(n)
                : value instanceof Double d ? (Object) (d + 0.0) : value;
        return exact instanceof BigDecimal d ? (d.signum() == 0 ? BigDecimal.ZERO : d.stripTrailingZeros()) : exact;
    }
}
