package dev.fiesta.step;

import java.util.BitSet;
import java.util.List;

/** Keeps the first row of each combination of slots. */
public record DistinctStep(List<Integer> slots) implements Step {
    @Override
    public String word() {
        return "distinct";
    }

    @Override
    public BitSet before(BitSet after) {
        BitSet before = (BitSet) after.clone();
        slots.forEach(before::set);
        return before;
    }

    @Override
    public boolean drops() {
        return true;
    }
}
