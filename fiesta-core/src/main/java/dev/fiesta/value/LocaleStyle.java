package dev.fiesta.value;

import java.util.List;
import java.util.Locale;

/**
 * How a locale writes numbers; our own table, so that a JDK's data never changes a report.
 *
 * @param tag the locale as the brief names it
 * @param group what stands between groups of three digits
 * @param point what stands before the decimals
 */
public record LocaleStyle(String tag, String group, String point) {
    private static final List<String> COMMA_AND_POINT =
            List.of("pt", "es", "de", "it", "nl", "da", "id", "tr", "el", "gl", "ca");
    private static final List<String> BLANK_AND_COMMA =
            List.of("fr", "sv", "fi", "nb", "no", "pl", "cs", "uk", "ru", "bg", "hu");

    /** Regions whose numbers are not those of their language's homeland. */
    private static final List<String> APOSTROPHE_AND_POINT = List.of("de-CH", "de-LI", "it-CH");

    private static final List<String> SPANISH_WITH_POINT =
            List.of("MX", "US", "PR", "DO", "GT", "HN", "NI", "PA", "PE", "SV");

    /** Whether it is known how a locale writes numbers. */
    public static boolean knows(String tag) {
        String language = Locale.forLanguageTag(tag.replace('_', '-')).getLanguage();
        return language.equals("en") || COMMA_AND_POINT.contains(language) || BLANK_AND_COMMA.contains(language);
    }

    /** The style of a locale; languages not known write numbers as English does. */
    public static LocaleStyle of(String tag) {
        Locale locale = Locale.forLanguageTag(tag.replace('_', '-'));
        String language = locale.getLanguage();
        if (APOSTROPHE_AND_POINT.contains(language + "-" + locale.getCountry())) {
            return new LocaleStyle(tag, "\u2019", ".");
        }
        if (language.equals("es") && SPANISH_WITH_POINT.contains(locale.getCountry())) {
            return new LocaleStyle(tag, ",", ".");
        }
        if (COMMA_AND_POINT.contains(language)) {
            return new LocaleStyle(tag, ".", ",");
        }
        if (BLANK_AND_COMMA.contains(language)) {
            return new LocaleStyle(tag, "\u202F", ",");
        }
        return new LocaleStyle(tag, ",", ".");
    }

    /** How a date is written in a sentence. */
    public String datePattern() {
        return switch (Locale.forLanguageTag(tag.replace('_', '-')).getLanguage()) {
            case "de" -> "d. MMMM yyyy";
            case "es", "pt" -> "d 'de' MMMM 'de' yyyy";
            case "en" -> tag.equals("en-US") ? "MMMM d, yyyy" : "d MMMM yyyy";
            default -> "d MMMM yyyy";
        };
    }

    /** A plain number such as {@code -1234.50} with groups and point of the locale. */
    public String number(String plain) {
        int start = plain.startsWith("-") ? 1 : 0;
        int dot = plain.indexOf('.');
        int end = dot < 0 ? plain.length() : dot;
        StringBuilder text = new StringBuilder(start == 1 ? "-" : "");
        for (int i = start; i < end; i++) {
            if (i > start && (end - i) % 3 == 0) {
                text.append(group);
            }
            text.append(plain.charAt(i));
        }
        if (dot >= 0) {
            text.append(point).append(plain, dot + 1, plain.length());
        }
        return text.toString();
    }
}
