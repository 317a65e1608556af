package dev.fiesta.report;

import java.util.List;
import java.util.Locale;

/**
 * How a locale writes numbers; our own table, so that a JDK's data never changes a report.
 *
 * @param tag the locale as the brief names it
 * @param group what stands between groups of three digits
 * @param point what stands before the decimals
 */
record LocaleStyle(String tag, String group, String point) {
    private static final List<String> COMMA_AND_POINT =
            List.of("pt", "es", "de", "it", "nl", "da", "id", "tr", "el", "gl", "ca");
    private static final List<String> BLANK_AND_COMMA =
            List.of("fr", "sv", "fi", "nb", "no", "pl", "cs", "uk", "ru", "bg", "hu");

    /** The style of a locale; languages not known write numbers as English does. */
    static LocaleStyle of(String tag) {
        String language = Locale.forLanguageTag(tag.replace('_', '-')).getLanguage();
        if (tag.equals("de-CH")) {
            return new LocaleStyle(tag, "\u2019", ".");
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
    String datePattern() {
        return switch (Locale.forLanguageTag(tag.replace('_', '-')).getLanguage()) {
            case "de" -> "d. MMMM yyyy";
            case "es", "pt" -> "d 'de' MMMM 'de' yyyy";
            case "en" -> tag.equals("en-US") ? "MMMM d, yyyy" : "d MMMM yyyy";
            default -> "d MMMM yyyy";
        };
    }

    /** A plain number such as {@code -1234.50} with groups and point of the locale. */
    String number(String plain) {
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
