package dev.fiesta.engine;

import dev.fiesta.step.Step;
import java.util.BitSet;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.IntUnaryOperator;

/**
 * What rows carry from where they are taken in to where a step asks for it.
 *
 * @param named the slots that some step reads in all these rows
 * @param fields fields of the source that rows only carry until some step drops rows, by slot: those need not be read here
 * @param placeSlot the slot that tells where the record of a row stands, where there are such fields
 */
record Carried(BitSet named, Map<Integer, Integer> fields, int placeSlot) {
    /**
     * @param first the first step behind
     * @param slots the slots that are needed there
     * @param source the field of the source that a slot holds, -1 for one that was worked out or must be read here
     */
    static Carried of(Way way, int first, BitSet slots, IntUnaryOperator source) {
        BitSet named = new BitSet();
        for (int i = first; i < way.steps().size(); i++) {
            Step step = way.step(i);
            named.or(named(way, i));
            if (step.makesNewRows()) {
                break;
            }
            if (step.drops()) {
                Map<Integer, Integer> fields = new TreeMap<>();
                slots.stream()
                        .filter(s -> !named.get(s) && source.applyAsInt(s) >= 0)
                        .forEach(s -> fields.put(s, source.applyAsInt(s)));
                return new Carried(named, fields, fields.isEmpty() ? -1 : way.free());
            }
        }
        return new Carried(named, Map.of(), -1);
    }

    /** The slots of those that are not read here. */
    BitSet pending(BitSet some) {
        BitSet pending = new BitSet();
        fields.keySet().stream().filter(some::get).forEach(pending::set);
        return pending;
    }

    /** What rows carry of the slots given: those that are there, and the place while others are not. */
    BitSet carried(BitSet some) {
        BitSet carried = (BitSet) some.clone();
        carried.andNot(pending(some));
        if (placeSlot >= 0) {
            carried.set(placeSlot, !carried.equals(some));
        }
        return carried;
    }

    /** The slots that a step looks at: all that are needed where it makes new rows of them. */
    static BitSet named(Way way, int step) {
        return way.step(step).reads(way.live().get(step + 1));
    }

    /** The first step from one on that makes new rows, whose slots are others; the number of steps where none does. */
    static int end(Way way, int first) {
        int end = first;
        while (end < way.steps().size() && !way.step(end).makesNewRows()) {
            end++;
        }
        return end;
    }
}
