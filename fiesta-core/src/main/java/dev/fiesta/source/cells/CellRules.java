package dev.fiesta.source.cells;

import java.util.List;

/**
 * What is told of the cells of a field besides its type.
 *
 * @param patterns further patterns of dates, tried in turn where the ones before do not fit
 * @param firstWins whether a value that several patterns read as different days is taken as the first reads it, and counted
 * @param without texts that are taken out before the value is read
 * @param language language of the names of months and days, such as {@code pt}
 * @param grouped whether a single group of three digits stands apart from thousands: {@code 1.234} under a decimal comma
 */
public record CellRules(
        List<String> patterns, boolean firstWins, String language, List<String> without, boolean grouped) {
    /** Nothing is told. */
    public static final CellRules NONE = new CellRules(List.of(), false, "en", List.of(), false);

    /** Whether numbers are written otherwise than a plain decimal. */
    boolean changesNumbers() {
        return grouped || !without.isEmpty();
    }
}
