package dev.fiesta.step;

import dev.fiesta.compute.Expression;
import java.util.BitSet;
import java.util.Map;

/**
 * A value for a slot.
 *
 * @param reads the names of the fields it is made of, by slot
 */
public record Assignment(int slot, String name, Expression value, Map<Integer, String> reads) {
    public Assignment(int slot, String name, Expression value) {
        this(slot, name, value, Map.of());
    }

    /** One that nobody sees: nothing is told of it. */
    public static Assignment unseen(int slot, Expression value) {
        return new Assignment(slot, "", value, Map.of());
    }

    /** Whether somebody sees it, who is told where it is missing. */
    public boolean isSeen() {
        return !name.isEmpty();
    }

    /** Whether it must be worked out: somebody needs it, or it may fail. */
    public boolean isNeeded(BitSet after) {
        return after.get(slot) || value.mayFail();
    }
}
