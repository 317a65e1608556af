package dev.fiesta.operate.group;

import dev.fiesta.store.Stored;
import org.jspecify.annotations.Nullable;

/**
 * Rows between two steps.
 *
 * @param count how many there are as it is written; those that the next step drops in any case may be left out
 * @param states what the groups of the last grouping have gathered, where a later step merges them; rows know them by number
 */
public record Standing(Stored rows, long count, @Nullable GroupStates states) {
    /** None is left out. */
    public static Standing all(Stored rows, @Nullable GroupStates states) {
        return new Standing(rows, rows.rows(), states);
    }

    public static Standing all(Stored rows) {
        return all(rows, null);
    }
}
