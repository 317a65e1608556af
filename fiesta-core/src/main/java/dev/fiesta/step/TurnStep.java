package dev.fiesta.step;

import dev.fiesta.compute.Apply;
import dev.fiesta.value.Type;
import java.util.BitSet;
import java.util.List;

/**
 * Columns into rows. Makes new rows: the other fields, the name of the column, its value.
 *
 * @param kept slots of the other fields
 * @param place where it stands, for failures
 */
public record TurnStep(List<Integer> kept, List<Integer> slots, List<String> names, Type type, Apply.Place place)
        implements Step {
    /** How many rows become of each. */
    @Override
    public int times() {
        return slots.size();
    }

    @Override
    public String word() {
        return "turn";
    }

    @Override
    public BitSet before(BitSet after) {
        BitSet before = Slots.origins(after, kept);
        if (after.get(kept.size() + 1)) {
            slots.forEach(before::set);
        }
        return before;
    }

    @Override
    public boolean flows() {
        return true;
    }

    @Override
    public boolean makesNewRows() {
        return true;
    }
}
