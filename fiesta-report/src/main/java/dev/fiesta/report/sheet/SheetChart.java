package dev.fiesta.report.sheet;

import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A chart over cells of a workbook.
 *
 * @param kind how it is drawn
 * @param stacked whether series stand on one another
 * @param log whether the values have a logarithmic axis
 * @param labelled whether values are written at their marks
 * @param language that its texts are in, a tag
 * @param title what it shows
 * @param xTitle what x is, or nothing
 * @param valueTitle what the values are
 * @param valueFormat the format code of the axis of values
 * @param days whether x are days, which stand where they belong
 * @param series its series, in their order
 * @param lines across it, each of one value all along x
 */
public record SheetChart(
        Kind kind,
        boolean stacked,
        boolean log,
        boolean labelled,
        String language,
        String title,
        String xTitle,
        String valueTitle,
        String valueFormat,
        boolean days,
        List<Series> series,
        List<Series> lines) {
    /** How a chart is drawn. */
    public enum Kind {
        /** Lines over labels or days. */
        LINES,
        /** Lines over numbers. */
        CURVES,
        /** Points over numbers. */
        POINTS,
        /** Filled lines. */
        AREAS,
        /** Upright bars. */
        COLUMNS,
        /** Lying bars, the first on top. */
        BARS
    }

    /**
     * Cells of one column, one below the other.
     *
     * @param sheet the name of their sheet
     * @param column from 0
     * @param first the first row, from 0
     * @param values numbers, texts, or null where a cell is empty; one for each cell
     * @param format the format code of numbers, or nothing
     */
    public record Cells(String sheet, int column, int first, List<? extends @Nullable Object> values, String format) {
        /**
         * Keeps a list of its own.
         *
         * @param sheet the name of their sheet
         * @param column from 0
         * @param first the first row, from 0
         * @param values numbers, texts, or null where a cell is empty; one for each cell
         * @param format the format code of numbers, or nothing
         */
        public Cells {
            values = java.util.Collections.unmodifiableList(new ArrayList<>(values));
        }
    }

    /**
     * A series.
     *
     * @param name the one cell with its name
     * @param x what its values stand at
     * @param y its values
     * @param colour red, green and blue in three bytes
     * @param dash lengths of dashes and gaps in points, none for a line without gaps
     */
    public record Series(Cells name, Cells x, Cells y, int colour, List<Integer> dash) {}
}
