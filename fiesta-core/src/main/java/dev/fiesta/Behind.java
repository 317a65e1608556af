package dev.fiesta;

import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * The records behind a row of a table.
 *
 * @param records the records: keys first, then the fields that made the figures, then the others
 * @param made how many of the first columns are keys and fields that made figures
 * @param figures the figures of exactly these records, worked out again
 * @param shown what the table shows for them, where the row is one of its own; equal to {@code figures}
 */
public record Behind(
        Result records, int made, Map<String, @Nullable Object> figures, Map<String, @Nullable Object> shown) {
    /** Which records are meant. */
    public enum Part {
        /** Those of a group; with some of the keys, those of a subtotal. */
        ROW,
        /** Those of all groups that stand where totals are asked for. */
        TOTAL,
        /** Those of the groups that {@code rest as} gathers. */
        REST
    }

    /** {@return the figures that are not what the table shows; none, unless something is wrong} */
    public List<String> differing() {
        return shown.keySet().stream()
                .filter(f -> figures.containsKey(f) && !Objects.equals(figures.get(f), shown.get(f)))
                .toList();
    }
}
