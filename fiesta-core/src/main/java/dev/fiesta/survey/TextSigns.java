package dev.fiesta.survey;

import dev.fiesta.language.Expr;
import dev.fiesta.language.Printer;
import dev.fiesta.source.cells.CellType;
import dev.fiesta.survey.FieldSurvey.Oddity;
import dev.fiesta.value.CalendarNames;
import dev.fiesta.value.Dictionary;
import dev.fiesta.value.Kind;
import dev.fiesta.value.TimePattern;
import dev.fiesta.value.Type;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;

/** What texts look like that should perhaps be something else. */
final class TextSigns {
    private static final Set<String> MISSING = Set.of(
            "na", "n/a", "n.a.", "nan", "null", "nil", "none", "missing", "unknown", "-", "--", "–", "?", ".", "#n/a");
    private static final Set<Oddity.Kind> CONVERTED = Set.of(
            Oddity.Kind.NUMBERS_AS_TEXT, Oddity.Kind.DATES_AS_TEXT, Oddity.Kind.MIXED_DATES, Oddity.Kind.NAMED_DATES);
    private static final int SHOWN = 3;
    private static final double MOST = 0.9;
    private static final int LONGEST_DATE = 25;

    private final String name;
    private final Map<String, Long> times = new TreeMap<>();
    private final boolean exact;
    private final long all;
    private final List<Oddity> found = new ArrayList<>();

    private TextSigns(String name, Dictionary texts, long[] counts, boolean exact) {
        this.name = name;
        this.exact = exact;
        long total = 0;
        for (int code = 0; code < counts.length; code++) {
            times.put(texts.text(code), counts[code]);
            total += counts[code];
        }
        this.all = total;
    }

    /** @param exact whether these are all texts; otherwise the counts are a part, and no count is told */
    static List<Oddity> of(String name, Dictionary texts, long[] counts, boolean exact) {
        TextSigns signs = new TextSigns(name, texts, counts, exact);
        if (signs.all > 0) {
            signs.look();
        }
        return signs.found;
    }

    private long rows(Predicate<String> sign) {
        return rows(times, sign);
    }

    private static long rows(Map<String, Long> times, Predicate<String> sign) {
        return times.entrySet().stream()
                .filter(e -> sign.test(e.getKey()))
                .mapToLong(Map.Entry::getValue)
                .sum();
    }

    private static boolean isMissing(String text) {
        return text.isBlank() || MISSING.contains(text.strip().toLowerCase(Locale.ROOT));
    }

    private void look() {
        long missing = rows(TextSigns::isMissing);
        List<String> words = times.keySet().stream()
                .filter(t -> isMissing(t) && !t.isBlank())
                .toList();
        if (!words.isEmpty()) {
            found.add(new Oddity(
                    Oddity.Kind.MISSING_WORDS,
                    quoted(words) + (words.size() == 1 ? " stands" : " stand") + " for missing values in "
                            + rows(missing) + ", it seems",
                    new WayOut.Missing(
                            words.stream().map(String::strip).distinct().toList())));
        }
        long values = all - missing;
        if (values > 0) {
            kept(values);
        }
        if (found.stream().noneMatch(o -> CONVERTED.contains(o.kind())) && isOfTexts()) {
            blanks(); // all else is read with blanks around it
            if (exact) {
                new Spellings(name, times).oddity().ifPresent(found::add);
            }
        }
    }

    /** Whether it would still be read as texts once the words for missing values are told. */
    private boolean isOfTexts() {
        return times.keySet().stream()
                .filter(t -> !isMissing(t))
                .map(t -> t.getBytes(StandardCharsets.UTF_8))
                .map(b -> CellType.of(b, 0, b.length))
                .reduce(CellType::both)
                .filter(type -> type.kind() != Kind.TEXT)
                .isEmpty();
    }

    /** Numbers and dates kept as texts: where all values are such, or nearly all. */
    private void kept(long values) {
        Map<String, Long> there = new TreeMap<>(times);
        there.keySet().removeIf(TextSigns::isMissing);
        boolean others = times.keySet().stream().anyMatch(t -> isMissing(t) && !t.isEmpty());
        Optional<NumberSigns.Sign> numbers = new NumberSigns(name, there, others).find(MOST);
        if (numbers.isPresent()) {
            NumberSigns.Sign sign = numbers.get();
            told(values, sign.rows(), sign.kind(), sign.what(), sign.way());
            return;
        }
        there.keySet().removeIf(t -> !mayBeDate(t.strip()));
        if (there.values().stream().mapToLong(Long::longValue).sum() < values * MOST) {
            return; // most texts are neither: no pattern is tried on them
        }
        dates(values, there, TimePattern.DATES, "date", false);
        dates(values, there, TimePattern.TIMES, "datetime", true);
        if (found.stream()
                .noneMatch(o -> o.kind() == Oddity.Kind.DATES_AS_TEXT || o.kind() == Oddity.Kind.MIXED_DATES)) {
            namedDates(values, there);
        }
    }

    private static boolean mayBeDate(String text) {
        return !text.isEmpty() && text.length() < LONGEST_DATE && Character.isDigit(text.charAt(0));
    }

    private boolean told(long values, long rows, Oddity.Kind kind, String what, @Nullable WayOut way) {
        if (rows < values * MOST) {
            return false;
        }
        String whole = rows == values
                ? "all values are "
                : exact ? "all values but " + Oddities.number(values - rows) + " are " : "nearly all values are ";
        found.add(new Oddity(kind, whole + what, rows == values || way == null ? way : partly(way)));
        return true;
    }

    /** A way out that also stands where some values do not fit: those become missing, and are counted. */
    private WayOut partly(WayOut way) {
        if (way == WayOut.Option.DECIMAL_COMMA) {
            return WayOut.Declared.of(name, Type.decimal(0), true)
                    .without(List.of(), List.of(WayOut.Option.DECIMAL_COMMA))
                    .orMissing();
        }
        if (way instanceof WayOut.Declared declared) {
            return declared.orMissing();
        }
        return way instanceof WayOut.Computed computed
                        && computed.value() instanceof Expr.Call call
                        && call.name().equals("decimal")
                ? new WayOut.Computed(
                        name,
                        WayOut.call(
                                "try_decimal", call.args().get(0), call.args().get(1)))
                : way;
    }

    /** @param there the texts that may be dates */
    private void dates(long values, Map<String, Long> there, List<String> patterns, String type, boolean time) {
        String best = "";
        long most = 0;
        List<String> asGood = new ArrayList<>();
        for (String pattern : patterns) {
            TimePattern reader = TimePattern.of(pattern, time);
            long rows = rows(there, t -> fits(reader, t.strip()));
            if (rows > most) {
                best = pattern;
                most = rows;
                asGood.clear();
            } else if (rows == most && rows > 0 && sameLetters(pattern, best)) {
                asGood.add(pattern);
            }
        }
        if (most < values && most >= values * MOST && mixed(values, there, best, most, patterns, type, time)) {
            return;
        }
        String or = asGood.isEmpty() ? "" : ", or " + asGood.get(0) + ": nothing tells day and month apart";
        told(
                values,
                most,
                Oddity.Kind.DATES_AS_TEXT,
                type + "s written " + best + or,
                WayOut.Declared.of(name, time ? Type.DATETIME : Type.DATE, false)
                        .written(best, null));
    }

    /** Dates with the names of months of some language; the first one that most values are in. */
    private void namedDates(long values, Map<String, Long> there) {
        String best = "";
        String words = "";
        long most = 0;
        for (String language : CalendarNames.known()) {
            for (String pattern : TimePattern.NAMED_DATES) {
                TimePattern reader = TimePattern.of(pattern, false, language);
                long rows = rows(there, t -> fits(reader, t.strip()));
                if (rows > most) {
                    best = pattern;
                    words = language;
                    most = rows;
                }
            }
        }
        String spoken = Locale.forLanguageTag(words).getDisplayLanguage(Locale.ENGLISH);
        told(
                values,
                most,
                Oddity.Kind.NAMED_DATES,
                "dates written " + best + " with names in " + spoken
                        + ", which a brief reads that says: settings locale '" + words + "'",
                WayOut.Declared.of(name, Type.DATE, false).written(best, words));
    }

    /** Dates of which nearly all follow one pattern and the rest others; false when the rest follows none. */
    private boolean mixed(
            long values,
            Map<String, Long> there,
            String best,
            long most,
            List<String> patterns,
            String type,
            boolean time) {
        List<String> used = new ArrayList<>(List.of(best));
        long left = values - most;
        while (left > 0) {
            String next = null;
            long found = 0;
            for (String pattern : patterns) {
                used.add(pattern);
                long rest = values - rows(there, t -> fitsOne(used, time, t.strip()));
                used.remove(used.size() - 1);
                if (left - rest > found) {
                    found = left - rest;
                    next = pattern;
                }
            }
            if (next == null) {
                return false;
            }
            used.add(next);
            left -= found;
        }
        List<Expr> tries = used.stream()
                .map(p -> WayOut.call("try_" + type, WayOut.name(name), p))
                .toList();
        String others = Oddities.number(values - most) + (values - most == 1 ? " is" : " are");
        found.add(new Oddity(
                Oddity.Kind.MIXED_DATES,
                "nearly all values are " + type + "s written " + best + ", " + (exact ? others : "others are")
                        + " written " + String.join(" or ", used.subList(1, used.size())),
                new WayOut.Computed(
                        name,
                        WayOut.call(
                                "coalesce",
                                tries.get(0),
                                tries.subList(1, tries.size()).toArray()))));
        return true;
    }

    private static boolean fitsOne(List<String> patterns, boolean time, String text) {
        return patterns.stream().anyMatch(p -> fits(TimePattern.of(p, time), text));
    }

    private static boolean fits(TimePattern pattern, String text) {
        return mayBeDate(text) && pattern.parse(text) != TimePattern.NONE;
    }

    private static boolean sameLetters(String a, String b) {
        return a.length() == b.length()
                && a.chars()
                        .sorted()
                        .boxed()
                        .toList()
                        .equals(b.chars().sorted().boxed().toList());
    }

    private void blanks() {
        long rows = rows(t -> !t.isEmpty() && (isBlank(t.charAt(0)) || isBlank(t.charAt(t.length() - 1))));
        if (rows > 0) {
            found.add(new Oddity(
                    Oddity.Kind.BLANKS,
                    "blanks before or after the text in " + rows(rows),
                    WayOut.Computed.of(name, "trim")));
        }
    }

    private static boolean isBlank(char c) {
        return Character.isWhitespace(c) || c == '\u00A0';
    }

    private String rows(long count) {
        return !exact ? "some records" : count == 1 ? "1 record" : Oddities.number(count) + " records";
    }

    private static String quoted(List<String> words) {
        return String.join(
                ", ",
                words.stream().map(w -> Printer.text(w.strip())).distinct().toList());
    }
}
