package dev.fiesta.survey;

import dev.fiesta.language.Expr;
import dev.fiesta.survey.FieldSurvey.Oddity;
import dev.fiesta.value.Type;
import dev.fiesta.value.WrittenNumber;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Supplier;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** Numbers that stand in a field of texts, and what reads them. */
final class NumberSigns {
    private static final Pattern PLAIN = Pattern.compile("[-+]?\\d+(\\.\\d+)?([eE][-+]?\\d+)?");
    private static final Pattern COMMA = Pattern.compile("[-+]?(\\d+|\\d{1,3}(\\.\\d{3})+),\\d+");
    private static final Pattern GROUPED = Pattern.compile("[-+]?\\d{1,3}([,' \u00A0\u202F]\\d{3})+(\\.\\d+)?");
    private static final Pattern UNIT =
            Pattern.compile("([€$£¥]|[A-Z]{3}) ?[-+]?\\d[\\d.,' ]*|[-+]?\\d[\\d.,' ]* ?([€$£¥%]|[A-Z]{3})");
    private static final Pattern WRITTEN = Pattern.compile(
            "\\(?([€$£¥]|[A-Z]{3})? ?\\(?[-+]?\\d[\\d.,' \u00A0\u2009\u202F]*-? ?([€$£¥%]|[A-Z]{3})?\\)?");
    private static final Pattern LEADING_ZERO = Pattern.compile("0\\d+");
    private static final Pattern DIGITS = Pattern.compile("\\d+");
    private static final int MOST_UNITS = 4;

    private final String name;
    private final Map<String, Long> times;
    private final boolean others;

    /**
     * Texts of a kind.
     *
     * @param rows how many records hold one
     * @param what such texts are
     * @param way what reads them, or null
     */
    record Sign(
            Oddity.Kind kind,
            long rows,
            String what,
            @Nullable WayOut way) {}

    private record Writing(Pattern pattern, String what, Supplier<? extends @Nullable WayOut> way) {}

    /**
     * @param times how often each value stands in the field
     * @param others whether there are cells besides that hold none, and are not empty
     */
    NumberSigns(String name, Map<String, Long> times, boolean others) {
        this.name = name;
        this.times = times;
        this.others = others;
    }

    /**
     * What all values are, else what nearly all of them are.
     *
     * @param least the part of them that is enough
     */
    Optional<Sign> find(double least) {
        long all = times.values().stream().mapToLong(n -> n).sum();
        long maybe = times.entrySet().stream()
                .filter(e -> mayBeNumber(e.getKey()))
                .mapToLong(Map.Entry::getValue)
                .sum();
        return maybe < all * least ? Optional.empty() : first(1).or(() -> first(least));
    }

    /** Whether it has a digit, and no letter but those of units and exponents: looked at before any pattern is tried. */
    private static boolean mayBeNumber(String text) {
        boolean digits = false;
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            digits |= c >= '0' && c <= '9';
            if (c != 'e' && !(c >= 'A' && c <= 'Z') && Character.isLetter(c)) {
                return false;
            }
        }
        return digits;
    }

    private Optional<Sign> first(double least) {
        double enough = times.values().stream().mapToLong(n -> n).sum() * least;
        if (times.keySet().stream()
                        .anyMatch(t -> LEADING_ZERO.matcher(t.strip()).matches())
                && rows(DIGITS) >= enough) {
            String zeros = "digits with leading zeros: identifiers, kept as texts";
            return Optional.of(new Sign(Oddity.Kind.IDENTIFIERS, rows(DIGITS), zeros, null));
        }
        WayOut several = inOneForm(WRITTEN);
        return Stream.of(
                        new Writing(PLAIN, "numbers kept as texts", this::number),
                        new Writing(COMMA, "numbers with a decimal comma", () -> WayOut.Option.DECIMAL_COMMA),
                        new Writing(GROUPED, "numbers with their thousands set apart", this::ungrouped),
                        new Writing(UNIT, "numbers with a unit beside them", () -> inOneForm(UNIT)),
                        new Writing(WRITTEN, "numbers, written in several ways", () -> several))
                .filter(w -> rows(w.pattern) >= enough && (w.pattern != WRITTEN || several != null))
                .findFirst()
                .map(w -> new Sign(Oddity.Kind.NUMBERS_AS_TEXT, rows(w.pattern), w.what, w.way.get()));
    }

    private long rows(Pattern pattern) {
        return times.entrySet().stream()
                .filter(e -> pattern.matcher(e.getKey().strip()).matches())
                .mapToLong(Map.Entry::getValue)
                .sum();
    }

    /** A conversion of numbers whose thousands are set apart by commas; null unless it gives what stands there for every one of them. */
    private @Nullable WayOut ungrouped() {
        int scale = 0;
        for (String text : times.keySet()) {
            if (!GROUPED.matcher(text.strip()).matches()
                    && !PLAIN.matcher(text.strip()).matches()) {
                continue;
            }
            String plain = text.strip().replace(",", "");
            if (!PLAIN.matcher(plain).matches()) {
                return null; // set apart by something else
            }
            int point = plain.indexOf('.');
            scale = Math.max(scale, point < 0 ? 0 : plain.length() - point - 1);
        }
        Expr plain = WayOut.call("replace", WayOut.name(name), ",", "");
        return new WayOut.Computed(name, WayOut.call(others ? "try_decimal" : "decimal", plain, (long) scale));
    }

    /** What reads them all: those with an exponent are no decimals. */
    private WayOut.Declared number() {
        boolean exponents = times.keySet().stream()
                .map(String::strip)
                .anyMatch(t -> PLAIN.matcher(t).matches() && t.matches(".*[eE].*"));
        return exponents ? WayOut.Declared.of(name, Type.REAL, false) : WayOut.Declared.of(name, Type.decimal(0), true);
    }

    /** How numbers that match are declared, with their units; null unless that reads every one of them, and in one way only. */
    private @Nullable WayOut inOneForm(Pattern pattern) {
        Set<String> units = new TreeSet<>();
        List<String> numbers = new ArrayList<>();
        for (String text : times.keySet()) {
            if (pattern.matcher(text.strip()).matches()) {
                numbers.add(text);
                String unit = text.replaceAll("[-+()0-9.,'\\s\u00A0\u2009\u202F]", "");
                if (!unit.isEmpty()) {
                    units.add(unit);
                }
            }
        }
        if (numbers.stream().anyMatch(n -> n.matches("\\D*\\d{1,3}[.,]\\d{3}\\D*"))) {
            return null; // 1.234 may be either
        }
        WayOut found = null;
        for (int form = 0; form < 4 && !numbers.isEmpty() && units.size() <= MOST_UNITS; form++) {
            boolean comma = form % 2 == 1;
            boolean brackets = form >= 2;
            int scale = scale(numbers, new WrittenNumber(comma, brackets, false, List.copyOf(units)));
            if (scale >= 0 && found != null && !brackets && numbers.stream().anyMatch(n -> n.matches(".*[.,].*"))) {
                return null; // a point and a comma are both possible
            }
            if (scale >= 0 && found == null) {
                List<WayOut.Option> options = new ArrayList<>();
                if (comma) {
                    options.add(WayOut.Option.DECIMAL_COMMA);
                }
                if (brackets) {
                    options.add(WayOut.Option.BRACKETS_NEGATIVE);
                }
                found = WayOut.Declared.of(name, Type.decimal(scale), false).without(List.copyOf(units), options);
            }
        }
        return found;
    }

    /** The most decimals of numbers, or -1 when one of them is none. */
    private static int scale(List<String> numbers, WrittenNumber form) {
        int scale = 0;
        for (String number : numbers) {
            String plain = form.plain(form.bare(number));
            if (plain == null) {
                return -1;
            }
            int point = plain.indexOf('.');
            scale = Math.max(scale, point < 0 ? 0 : plain.length() - point - 1);
        }
        return scale;
    }
}
