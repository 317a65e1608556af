package dev.fiesta.source;

import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Where in a file records stand; null where nothing was told.
 *
 * @param sheet the sheet of a workbook
 * @param range the cells of a sheet, {@code B4:H200}
 * @param items the names that lead to the list of records in a document, {@code data.items}
 * @param each the list in a record whose objects make a record each
 * @param slices the fields of lines of fixed width
 * @param header whether the first row names the fields
 * @param shortLines whether what a short line lacks is missing
 * @param byName whether files may lack fields that others have
 */
public record Inside(
        @Nullable String sheet,
        @Nullable String range,
        @Nullable String items,
        @Nullable String each,
        List<Slice> slices,
        boolean header,
        boolean shortLines,
        boolean byName) {
    /** Nothing is told. */
    public static final Inside WHOLE = new Inside(null, null, null, null, List.of(), true, false, false);

    /**
     * A field in a line of fixed width.
     *
     * @param from its first character, from 1
     * @param to its last character; {@link Integer#MAX_VALUE} for the end of the line
     */
    public record Slice(String name, int from, int to) {}

    public Inside {
        slices = List.copyOf(slices);
    }
}
