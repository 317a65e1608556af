package dev.fiesta.step;

import dev.fiesta.compute.Expression;
import dev.fiesta.compute.FieldRef;
import dev.fiesta.value.Type;
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

    @Override
    public List<Expression> together() {
        return slots.stream()
                .<Expression>map(s -> new FieldRef(s, Type.EMPTY)) // columns know their types themselves
                .toList();
    }

    @Override
    public boolean staysWithin(List<Expression> keys) {
        return keys.stream().allMatch(k -> k instanceof FieldRef field && slots.contains(field.index()));
    }
}
