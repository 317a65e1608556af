package dev.fiesta.step;

import java.util.BitSet;
import java.util.List;

/**
 * Puts rows in order, stably.
 *
 * @param most how many of the first rows are wanted; the others need be in no order and may be left out
 */
public record SortStep(List<OrderKey> keys, long most) implements Step {
    /** All rows. */
    public SortStep(List<OrderKey> keys) {
        this(keys, Long.MAX_VALUE);
    }

    @Override
    public String word() {
        return "sort";
    }

    @Override
    public BitSet before(BitSet after) {
        BitSet before = (BitSet) after.clone();
        Slots.readKeys(keys, before);
        return before;
    }

    @Override
    public String told(BitSet after) {
        return most < Long.MAX_VALUE ? "sort, of which only the first " + most + " are put in order" : word();
    }

    @Override
    public Step prepared(Prepared before) {
        return new SortStep(before.order(keys), most);
    }

    @Override
    public boolean keepsRows() {
        return true;
    }
}
