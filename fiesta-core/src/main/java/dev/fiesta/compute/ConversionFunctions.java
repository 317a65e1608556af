package dev.fiesta.compute;

import dev.fiesta.catalogue.Entry;
import dev.fiesta.catalogue.Entry.Family;
import dev.fiesta.problem.Notices;
import dev.fiesta.value.Column;
import dev.fiesta.value.Exact;
import dev.fiesta.value.Kind;
import dev.fiesta.value.LocaleStyle;
import dev.fiesta.value.Texts;
import dev.fiesta.value.TimePattern;
import dev.fiesta.value.Type;
import dev.fiesta.value.Unit;
import dev.fiesta.value.Values;
import dev.fiesta.value.WrittenNumber;
import java.math.BigDecimal;
import java.math.RoundingMode;
import java.nio.charset.StandardCharsets;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Conversions from one type to another, strict or with missing for what cannot be converted. */
final class ConversionFunctions {
    private ConversionFunctions() {}

    /** Converts one value, or gives null when it cannot. */
    private interface Converter {
        @Nullable
        Object convert(Object value);
    }

    /** A converter with the type it makes. */
    private record Target(
            Type type,
            Converter converter,
            @Nullable String pattern,
            @Nullable String locale) {
        Target(Type type, Converter converter) {
            this(type, converter, null, null);
        }

        String suggestion(String name) {
            String meant = pattern == null ? null : TimePattern.meant(pattern);
            return meant == null
                    ? "Use try_" + name + " to make such values missing and have them counted."
                    : "In a pattern yyyy is the year, MM the month, dd the day, HH the hour and mm the minute: '"
                            + meant + "'.";
        }

        String withArticle() {
            return type.withArticle()
                    + (pattern == null ? "" : " written " + pattern)
                    + (locale == null ? "" : " as " + locale + " writes it");
        }
    }

    private interface TargetRule {
        Target of(Arguments args);
    }

    static List<RowFunction> all() {
        List<RowFunction> all = new ArrayList<>();
        both(
                all,
                entry("integer", "integer(x)", "x as a whole number.", "integer('012')", "12"),
                args -> {
                    args.expectCount(1, 1, "integer(x)");
                    refuseTimes(args, "integer");
                    return new Target(Type.INTEGER, ConversionFunctions::integer);
                },
                null);
        both(
                all,
                entry(
                        "decimal",
                        "decimal(x, scale[, locale])",
                        "x as a decimal; numbers are rounded to the scale, texts must fit it, written as in the locale where one is named.",
                        "decimal('1.234,5', 2, 'de-DE')",
                        "1234.50"),
                args -> {
                    args.expectCount(2, 3, "decimal(x, scale[, locale])");
                    refuseTimes(args, "decimal");
                    int scale = args.wholeConstant(1, "The scale", 0, Type.MOST_DIGITS);
                    return localized(args, 2, Type.decimal(scale), v -> decimal(v, scale));
                },
                null);
        both(
                all,
                entry(
                        "real",
                        "real(x[, locale])",
                        "x as a real number, which is binary; a text written as in the locale where one is named.",
                        "real('1e3')",
                        "1000"),
                args -> {
                    args.expectCount(1, 2, "real(x[, locale])");
                    refuseTimes(args, "real");
                    return localized(args, 1, Type.REAL, ConversionFunctions::real);
                },
                null);
        both(
                all,
                entry(
                        "date",
                        "date(t[, 'pattern'])",
                        "The day of a datetime, or of a text in ISO form or a pattern.",
                        "date('09/05/2026', 'dd/MM/yyyy')",
                        "2026-05-09"),
                args -> time(args, Type.DATE),
                Unit.DAY);
        both(
                all,
                entry(
                        "datetime",
                        "datetime(t[, 'pattern'])",
                        "Date and time of a text in ISO form or a pattern.",
                        "datetime('2026-05-09 18:30')",
                        "2026-05-09T18:30:00"),
                args -> time(args, Type.DATETIME),
                null);
        both(
                all,
                entry(
                        "instant",
                        "instant(t)",
                        "The point in time of a text in ISO form with its offset.",
                        "instant('2026-05-09T18:30+01:00')",
                        "2026-05-09T17:30:00Z"),
                args -> {
                    args.expectCount(1, 1, "instant(t)");
                    args.expectKind(0, "instant needs a text", Kind.TEXT, Kind.INSTANT);
                    return new Target(Type.INSTANT, ConversionFunctions::instant);
                },
                null);
        all.add(new RowFunction(
                new Entry("text", Family.CONVERSIONS, "text(x)", "x as data files write it.", "text(12.50)", "12.50"),
                args -> {
                    args.expectCount(1, 1, "text(x)");
                    return Boxed.safe(Type.TEXT, a -> Texts.of(a[0]));
                }));
        all.add(new RowFunction(
                new Entry(
                        "missing_if",
                        Family.CONVERSIONS,
                        "missing_if(x, v)",
                        "x, but missing where it equals v.",
                        "missing_if('n/a', 'n/a')",
                        ""),
                ConversionFunctions::missingIf));
        return all;
    }

    private static Entry entry(String name, String usage, String about, String example, String result) {
        return new Entry(name, Family.CONVERSIONS, usage, about, example, result);
    }

    /**
     * A conversion, strict and as {@code try_…}.
     *
     * @param period how far apart its results lie, or null
     */
    private static void both(List<RowFunction> all, Entry strict, TargetRule rule, @Nullable Unit period) {
        String name = strict.name();
        RowFunction.Rule settled = args -> {
            Target target = rule.of(args);
            if (isSame(args, target)) {
                return RowFunction.Bound.safe(target.type(), (c, rows) -> Types.widen(c[0], target.type()));
            }
            if (args.count() == 1
                    && args.type(0).kind() == Kind.DATETIME
                    && target.type().kind() == Kind.DATE) {
                return RowFunction.Bound.safe(Type.DATE, (c, rows) -> DateFunctions.days(c[0]));
            }
            return Boxed.fallible(target.type(), a -> {
                Object value = target.converter().convert(a[0]);
                if (value == null) {
                    String shown = Texts.of(a[0]);
                    throw new Fault(
                            "'" + shown + "' is not " + target.withArticle() + ".",
                            shown,
                            name.equals("integer") && a[0] instanceof Number
                                    ? "Use round, floor or ceiling to make whole numbers."
                                    : target.suggestion(name));
                }
                return value;
            });
        };
        RowFunction function = new RowFunction(strict, settled).naming(period);
        all.add(period == Unit.DAY ? function.keepingOrder() : function);
        String trying = "try_" + name;
        Entry entry = new Entry(
                trying,
                Family.CONVERSIONS,
                "try_" + strict.usage(),
                "As " + name + ", but missing, and counted, where the value cannot be converted.",
                trying + "(" + (name.equals("decimal") ? "'?', 2" : "'?'") + ")",
                "");
        all.add(new RowFunction(entry, args -> {
            Target target = rule.of(args);
            return new RowFunction.Bound(
                    target.type(),
                    true,
                    notices -> new Boxed(target.type(), a -> target.converter().convert(a[0])),
                    Notices.Kind.TRY_FAILED);
        }));
    }

    /** A conversion to numbers whose texts may be written as in a locale, the argument at some place. */
    private static Target localized(Arguments args, int place, Type type, Converter converter) {
        if (args.count() <= place) {
            return new Target(type, converter);
        }
        String locale = args.textConstant(place, "The locale");
        if (!LocaleStyle.knows(locale)) {
            throw new Misuse(
                    place,
                    "How numbers are written in {} is not known.",
                    "Locales are written like 'de-DE', 'fr-FR' or 'en-IE'.");
        }
        WrittenNumber form = WrittenNumber.in(LocaleStyle.of(locale));
        return new Target(
                type,
                v -> v instanceof String text ? converter.convert(plain(form, text)) : converter.convert(v),
                null,
                locale);
    }

    /** The number that a text writes, with a point; no number where it writes none. */
    private static String plain(WrittenNumber form, String text) {
        String plain = form.plain(form.bare(text));
        return plain == null ? "" : plain;
    }

    private static boolean isSame(Arguments args, Target target) {
        return args.count() == 1 && args.type(0).equals(target.type());
    }

    private static void refuseTimes(Arguments args, String name) {
        args.expectKind(
                0, name + " converts texts and numbers", Kind.TEXT, Kind.INTEGER, Kind.DECIMAL, Kind.REAL, Kind.TRUTH);
    }

    private static @Nullable Object integer(Object value) {
        if (value instanceof Boolean truth) {
            return truth ? 1L : 0L;
        }
        BigDecimal exact = value instanceof String text ? parse(text) : NumberFunctions.exact(value);
        try {
            return exact == null ? null : (Object) exact.longValueExact();
        } catch (ArithmeticException e) {
            return null;
        }
    }

    private static @Nullable Object decimal(Object value, int scale) {
        BigDecimal exact = value instanceof String text
                ? parse(text)
                : value instanceof Boolean b ? BigDecimal.valueOf(b ? 1 : 0) : NumberFunctions.exact(value);
        if (exact == null) {
            return null;
        }
        try {
            BigDecimal fitted =
                    exact.setScale(scale, value instanceof String ? RoundingMode.UNNECESSARY : RoundingMode.HALF_EVEN);
            return fitted.precision() > Type.MOST_DIGITS ? null : fitted;
        } catch (ArithmeticException e) {
            return null;
        }
    }

    private static @Nullable Object real(Object value) {
        if (value instanceof Boolean truth) {
            return truth ? 1.0 : 0.0;
        }
        BigDecimal exact = value instanceof String text ? parse(text) : NumberFunctions.exact(value);
        double number = exact == null ? Double.NaN : exact.doubleValue();
        return Double.isFinite(number) ? (Object) (number + 0.0) : null;
    }

    private static @Nullable BigDecimal parse(String text) {
        return Exact.written(text.strip());
    }

    private static Target time(Arguments args, Type type) {
        String name = type.toString();
        args.expectCount(1, 2, name + "(t[, 'pattern'])");
        args.expectKind(0, name + " converts texts, dates and datetimes", Kind.TEXT, Kind.DATE, Kind.DATETIME);
        boolean dateTime = type.kind() == Kind.DATETIME;
        TimePattern pattern = args.count() == 2 ? pattern(args, dateTime) : null;
        return new Target(
                type,
                v -> {
                    if (v instanceof LocalDateTime time) {
                        return dateTime ? v : time.toLocalDate();
                    }
                    if (v instanceof java.time.LocalDate date) {
                        return dateTime ? date.atStartOfDay() : v;
                    }
                    byte[] b = ((String) v).strip().getBytes(StandardCharsets.UTF_8);
                    long value = pattern != null
                            ? pattern.parse(b, 0, b.length)
                            : dateTime ? TimePattern.isoDateTime(b, 0, b.length) : TimePattern.isoDate(b, 0, b.length);
                    return value == TimePattern.NONE ? null : Values.ofLong(type, value);
                },
                args.count() == 2 ? args.textConstant(1, "The pattern") : null,
                null);
    }

    private static TimePattern pattern(Arguments args, boolean dateTime) {
        try {
            return TimePattern.of(
                    args.textConstant(1, "The pattern"),
                    dateTime,
                    args.calendar().language());
        } catch (IllegalArgumentException e) {
            throw new Misuse(
                    1,
                    "The pattern {} cannot be read: " + e.getMessage() + ".",
                    "Patterns are written like 'dd/MM/yyyy HH:mm'.");
        }
    }

    private static @Nullable Object instant(Object value) {
        if (!(value instanceof String text)) {
            return value;
        }
        byte[] b = text.strip().getBytes(StandardCharsets.UTF_8);
        long micros = TimePattern.isoInstant(b, 0, b.length);
        return micros == TimePattern.NONE ? null : Values.ofLong(Type.INSTANT, micros);
    }

    private static RowFunction.Bound missingIf(Arguments args) {
        args.expectCount(2, 2, "missing_if(x, v)");
        RowFunction.Body equal =
                Comparisons.bind(Comparisons.EQUAL, args).maker().make(new Notices());
        return RowFunction.Bound.safe(args.type(0), (c, rows) -> {
            Column x = c[0].flat();
            long[] same = ((dev.fiesta.value.TruthColumn) equal.apply(c, rows).flat()).bits();
            int[] pick = new int[rows];
            for (int i = 0; i < rows; i++) {
                pick[i] = dev.fiesta.value.Bits.get(same, i) ? -1 : i;
            }
            return x.take(pick, rows);
        });
    }
}
