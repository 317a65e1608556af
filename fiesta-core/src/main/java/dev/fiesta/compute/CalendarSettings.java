package dev.fiesta.compute;

import org.jspecify.annotations.Nullable;

/**
 * What functions over dates take from the settings of a brief.
 *
 * @param weekStart first day of the week, 1 Monday to 7 Sunday
 * @param yearStart first month of the fiscal year
 * @param language language of the names of months and days, such as {@code en}
 * @param collate the locale whose alphabet orders texts, or null for the order of code points
 */
public record CalendarSettings(
        int weekStart,
        int yearStart,
        String language,
        @Nullable String collate) {
    /** Weeks from Monday, years from January, English, texts by code point. */
    public static final CalendarSettings NORMAL = new CalendarSettings(1, 1, "en", null);
}
