package dev.fiesta.formats;

import dev.fiesta.problem.RequestException;
import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Some cells of a sheet, both ends in, counted from 0.
 *
 * @param lastRow {@link Integer#MAX_VALUE} where it goes on
 * @param lastColumn {@link Integer#MAX_VALUE} where it goes on
 */
record CellRange(int firstRow, int firstColumn, int lastRow, int lastColumn) {
    static final CellRange ALL = new CellRange(0, 0, Integer.MAX_VALUE, Integer.MAX_VALUE);

    private static final Pattern CORNERS =
            Pattern.compile("\\$?([A-Z]{1,3})\\$?(\\d{1,7})?(?::\\$?([A-Z]{1,3})\\$?(\\d{1,7})?)?");

    /** {@code B4:H200}, {@code B4} (all from there), {@code B:H}. */
    static CellRange of(String text) {
        Matcher corners = CORNERS.matcher(text.strip().toUpperCase(Locale.ROOT));
        if (corners.matches()) {
            int firstRow = corners.group(2) == null ? 0 : Integer.parseInt(corners.group(2)) - 1;
            int firstColumn = column(corners.group(1));
            int lastRow = corners.group(4) == null ? Integer.MAX_VALUE : Integer.parseInt(corners.group(4)) - 1;
            int lastColumn = corners.group(3) == null ? Integer.MAX_VALUE : column(corners.group(3));
            if (firstRow >= 0 && lastRow >= firstRow && lastColumn >= firstColumn) {
                return new CellRange(firstRow, firstColumn, lastRow, lastColumn);
            }
        }
        throw new RequestException("'" + text + "' is no range of cells. Write for instance range 'B4:H200', "
                + "range 'B4' for all from there, range 'B:H' for some columns.");
    }

    private static int column(String letters) {
        int column = 0;
        for (char c : letters.toCharArray()) {
            column = column * 26 + c - 'A' + 1;
        }
        return column - 1;
    }

    /** A column by its letters. */
    static String letters(int column) {
        StringBuilder letters = new StringBuilder();
        for (int left = column + 1; left > 0; left = (left - 1) / 26) {
            letters.insert(0, (char) ('A' + (left - 1) % 26));
        }
        return letters.toString();
    }

    boolean hasRow(int row) {
        return row >= firstRow && row <= lastRow;
    }

    boolean hasColumn(int column) {
        return column >= firstColumn && column <= lastColumn;
    }
}
