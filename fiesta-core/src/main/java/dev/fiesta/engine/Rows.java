package dev.fiesta.engine;

import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * All rows of a table at a step, in memory.
 *
 * @param size the number of rows
 * @param slots the columns by slot; null where nobody needs them
 * @param states what the groups of the last grouping have gathered, or null
 */
record Rows(int size, @Nullable Column[] slots, @Nullable GroupStates states) {

    Batch batch() {
        return Batch.of(size, slots.clone(), 0);
    }

    /** The rows picked, in that order; a negative row is missing everywhere. */
    Rows take(int[] rows) {
        @Nullable Column[] taken = new Column[slots.length];
        for (int i = 0; i < taken.length; i++) {
            Column column = slots[i];
            taken[i] = column == null ? null : column.take(rows, rows.length);
        }
        return new Rows(rows.length, taken, states);
    }

    /** With a column in a slot. */
    Rows with(int slot, Column column) {
        @Nullable Column[] more = java.util.Arrays.copyOf(slots, Math.max(slots.length, slot + 1));
        more[slot] = column;
        return new Rows(size, more, states);
    }

    Column column(int slot) {
        return java.util.Objects.requireNonNull(
                slots[slot], () -> "slot " + slot + " was thought to be needed by nobody");
    }

    /** The columns of some slots, in that order. */
    Column[] columns(List<Integer> wanted) {
        return wanted.stream().map(this::column).toArray(Column[]::new);
    }
}
