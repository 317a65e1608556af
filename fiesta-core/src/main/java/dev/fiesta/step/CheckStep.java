package dev.fiesta.step;

import dev.fiesta.compute.Expression;
import dev.fiesta.language.Op;
import dev.fiesta.value.Schema;
import java.util.BitSet;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Something that must hold. */
public record CheckStep(
        @Nullable Expression condition,
        List<Integer> unique,
        @Nullable Op rows,
        long count,
        CheckText text,
        boolean warn,
        Schema shown,
        List<Integer> slots)
        implements Step {
    @Override
    public String word() {
        return "check";
    }

    @Override
    public BitSet before(BitSet after) {
        BitSet before = (BitSet) after.clone();
        Slots.read(condition, before);
        unique.forEach(before::set);
        slots.forEach(before::set);
        return before;
    }

    @Override
    public Step prepared(Prepared before) {
        return condition == null
                ? this
                : new CheckStep(before.value(condition), unique, rows, count, text, warn, shown, slots);
    }
}
