package dev.fiesta.value;

import java.time.format.DateTimeFormatter;
import java.time.format.DateTimeFormatterBuilder;
import java.time.format.ResolverStyle;
import java.time.temporal.ChronoField;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.function.BiFunction;
import java.util.function.UnaryOperator;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * The names of months and days in some languages, our own so that no JDK's data changes a report; other languages are written
 * as English.
 */
public final class CalendarNames {
    private static final Map<String, CalendarNames> LANGUAGES = languages();

    /** Letters that stand for names. */
    private static final Pattern NAMED = Pattern.compile("MMM|LLL|E|eee");

    /** As the language shortens names, without the point, and cut to three letters. */
    private static final List<UnaryOperator<String>> SHORT_FORMS = List.of(
            UnaryOperator.identity(),
            name -> name.replace(".", ""),
            name -> name.replaceFirst("^(\\p{L}{1,3}).*", "$1"));

    private final String[] months;
    private final String[] shortMonths;
    private final String[] days;
    private final String[] shortDays;

    private CalendarNames(String months, String shortMonths, String days, String shortDays) {
        this.months = months.split(" ");
        this.shortMonths = shortMonths.split(" ");
        this.days = days.split(" ");
        this.shortDays = shortDays.split(" ");
    }

    /**
     * A formatter for a pattern in the letters of {@link DateTimeFormatter}.
     *
     * @param language such as {@code pt} or {@code pt-PT}
     * @throws IllegalArgumentException when the pattern is none
     */
    public static DateTimeFormatter formatter(String pattern, String language) {
        return formatter(pattern, names(language)::texts, new DateTimeFormatterBuilder())
                .toFormatter(Locale.ROOT);
    }

    /** The languages whose names are known, in their order. */
    public static List<String> known() {
        return LANGUAGES.keySet().stream().sorted().toList();
    }

    private static CalendarNames names(String language) {
        return Objects.requireNonNull(LANGUAGES.getOrDefault(
                Locale.forLanguageTag(language.replace('_', '-')).getLanguage(), LANGUAGES.get("en")));
    }

    /**
     * Formatters that read what people write, strictly but for upper and lower case, to be tried in turn: with the names of a language,
     * short ones also without their point and as the first three letters, then with those of English.
     *
     * @throws IllegalArgumentException when the pattern is none
     */
    static List<DateTimeFormatter> readers(String pattern, String language) {
        String strict = pattern.replace('y', 'u');
        List<DateTimeFormatter> readers = new ArrayList<>();
        for (CalendarNames names : new LinkedHashSet<>(List.of(names(language), names("en")))) {
            for (UnaryOperator<String> form : SHORT_FORMS) {
                if (!names.areTold(form)) {
                    continue;
                }
                DateTimeFormatterBuilder builder = new DateTimeFormatterBuilder().parseCaseInsensitive();
                readers.add(formatter(strict, (letter, count) -> names.texts(letter, count, form), builder)
                        .toFormatter(Locale.ROOT)
                        .withResolverStyle(ResolverStyle.STRICT));
            }
        }
        return NAMED.matcher(pattern.replaceAll("'[^']*'", "")).find() ? readers : readers.subList(0, 1);
    }

    private static DateTimeFormatterBuilder formatter(
            String pattern,
            BiFunction<Character, Integer, @Nullable Map<Long, String>> names,
            DateTimeFormatterBuilder builder) {
        StringBuilder plain = new StringBuilder();
        boolean quoted = false;
        for (int at = 0; at < pattern.length(); ) {
            char c = pattern.charAt(at);
            int end = at + 1;
            while (!quoted && c != '\'' && end < pattern.length() && pattern.charAt(end) == c) {
                end++;
            }
            quoted ^= c == '\'';
            Map<Long, String> texts = quoted ? null : names.apply(c, end - at);
            if (texts == null) {
                plain.append(pattern, at, end);
            } else {
                builder.appendPattern(plain.toString());
                plain.setLength(0);
                builder.appendText(c == 'E' || c == 'e' ? ChronoField.DAY_OF_WEEK : ChronoField.MONTH_OF_YEAR, texts);
            }
            at = end;
        }
        return builder.appendPattern(plain.toString());
    }

    /** Whether no two names look alike in a form: {@code juin} and {@code juil.} are both {@code jui}. */
    private boolean areTold(UnaryOperator<String> form) {
        return Stream.of(shortMonths, shortDays)
                .allMatch(names -> Arrays.stream(names)
                                .map(n -> form.apply(n).toLowerCase(Locale.ROOT))
                                .distinct()
                                .count()
                        == names.length);
    }

    private @Nullable Map<Long, String> texts(char letter, int count) {
        return texts(letter, count, UnaryOperator.identity());
    }

    /** The texts that so many letters of a pattern stand for, or null when they stand for none of ours. */
    private @Nullable Map<Long, String> texts(char letter, int count, UnaryOperator<String> form) {
        boolean month = (letter == 'M' || letter == 'L') && count >= 3;
        boolean day = letter == 'E' || (letter == 'e' && count >= 3);
        if (count > 4 || (!month && !day)) {
            return null;
        }
        String[] texts = month ? (count == 4 ? months : shortMonths) : count == 4 ? days : shortDays;
        Map<Long, String> byNumber = new HashMap<>();
        for (int i = 0; i < texts.length; i++) {
            byNumber.put(i + 1L, count == 4 ? texts[i] : form.apply(texts[i]));
        }
        return byNumber;
    }

    private static Map<String, CalendarNames> languages() {
        Map<String, CalendarNames> all = new HashMap<>();
        all.put(
                "en",
                new CalendarNames(
                        "January February March April May June July August September October November December",
                        "Jan Feb Mar Apr May Jun Jul Aug Sep Oct Nov Dec",
                        "Monday Tuesday Wednesday Thursday Friday Saturday Sunday",
                        "Mon Tue Wed Thu Fri Sat Sun"));
        all.put(
                "pt",
                new CalendarNames(
                        "janeiro fevereiro março abril maio junho julho agosto setembro outubro novembro dezembro",
                        "jan fev mar abr mai jun jul ago set out nov dez",
                        "segunda-feira terça-feira quarta-feira quinta-feira sexta-feira sábado domingo",
                        "seg ter qua qui sex sáb dom"));
        all.put(
                "es",
                new CalendarNames(
                        "enero febrero marzo abril mayo junio julio agosto septiembre octubre noviembre diciembre",
                        "ene feb mar abr may jun jul ago sept oct nov dic",
                        "lunes martes miércoles jueves viernes sábado domingo",
                        "lun mar mié jue vie sáb dom"));
        all.put(
                "fr",
                new CalendarNames(
                        "janvier février mars avril mai juin juillet août septembre octobre novembre décembre",
                        "janv. févr. mars avr. mai juin juil. août sept. oct. nov. déc.",
                        "lundi mardi mercredi jeudi vendredi samedi dimanche",
                        "lun. mar. mer. jeu. ven. sam. dim."));
        all.put(
                "de",
                new CalendarNames(
                        "Januar Februar März April Mai Juni Juli August September Oktober November Dezember",
                        "Jan. Feb. März Apr. Mai Juni Juli Aug. Sept. Okt. Nov. Dez.",
                        "Montag Dienstag Mittwoch Donnerstag Freitag Samstag Sonntag",
                        "Mo. Di. Mi. Do. Fr. Sa. So."));
        all.put(
                "it",
                new CalendarNames(
                        "gennaio febbraio marzo aprile maggio giugno luglio agosto settembre ottobre novembre dicembre",
                        "gen feb mar apr mag giu lug ago set ott nov dic",
                        "lunedì martedì mercoledì giovedì venerdì sabato domenica",
                        "lun mar mer gio ven sab dom"));
        all.put(
                "nl",
                new CalendarNames(
                        "januari februari maart april mei juni juli augustus september oktober november december",
                        "jan feb mrt apr mei jun jul aug sep okt nov dec",
                        "maandag dinsdag woensdag donderdag vrijdag zaterdag zondag",
                        "ma di wo do vr za zo"));
        all.put(
                "ca",
                new CalendarNames(
                        "gener febrer març abril maig juny juliol agost setembre octubre novembre desembre",
                        "gen. febr. març abr. maig juny jul. ag. set. oct. nov. des.",
                        "dilluns dimarts dimecres dijous divendres dissabte diumenge",
                        "dl. dt. dc. dj. dv. ds. dg."));
        all.put(
                "sv",
                new CalendarNames(
                        "januari februari mars april maj juni juli augusti september oktober november december",
                        "jan. feb. mars apr. maj juni juli aug. sep. okt. nov. dec.",
                        "måndag tisdag onsdag torsdag fredag lördag söndag",
                        "mån tis ons tors fre lör sön"));
        all.put(
                "da",
                new CalendarNames(
                        "januar februar marts april maj juni juli august september oktober november december",
                        "jan. feb. mar. apr. maj jun. jul. aug. sep. okt. nov. dec.",
                        "mandag tirsdag onsdag torsdag fredag lørdag søndag",
                        "man. tir. ons. tor. fre. lør. søn."));
        all.put(
                "pl",
                new CalendarNames(
                        "stycznia lutego marca kwietnia maja czerwca lipca sierpnia września października listopada grudnia",
                        "sty lut mar kwi maj cze lip sie wrz paź lis gru",
                        "poniedziałek wtorek środa czwartek piątek sobota niedziela",
                        "pon. wt. śr. czw. pt. sob. niedz."));
        return all;
    }
}
