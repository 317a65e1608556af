package dev.fiesta.step;

import dev.fiesta.compute.Expression;
import java.util.BitSet;
import java.util.List;

/**
 * Groups. Makes new rows: keys first, then figures, then the number of the group.
 *
 * @param keepStates whether a later step merges the groups' states
 */
public record GroupStep(List<Expression> keys, List<GatherSpec> gathers, boolean keepStates) implements Step {
    /** The slot that holds the group's number. */
    public int numberSlot() {
        return keys.size() + gathers.size();
    }

    @Override
    public String word() {
        return "per";
    }

    @Override
    public BitSet before(BitSet after) {
        BitSet before = new BitSet();
        Slots.read(keys, before);
        for (GatherSpec spec : gathers) {
            Slots.read(spec.args(), before);
            Slots.readKeys(spec.along(), before);
            Slots.read(spec.only(), before);
        }
        return before;
    }

    @Override
    public String told(BitSet after) {
        return (keys.isEmpty() ? "one group" : "groups by " + keys.size() + (keys.size() == 1 ? " key" : " keys"))
                + ", "
                + gathers.size() + (gathers.size() == 1 ? " figure" : " figures")
                + (keepStates ? ", states kept for totals" : "");
    }

    @Override
    public boolean isTakenIn() {
        return true;
    }

    @Override
    public boolean makesNewRows() {
        return true;
    }
}
