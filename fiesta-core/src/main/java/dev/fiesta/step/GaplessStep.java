package dev.fiesta.step;

import dev.fiesta.value.Type;
import java.util.BitSet;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Rows for what has none. Rows stand by the keys of {@code within}, then the field.
 *
 * @param within slots of the other keys
 * @param months,micros the step from one period to the next; both 0 when the values come from {@code source}
 * @param from,to the first and last period, or null for those met
 * @param source the table whose values are wanted, or null; {@code sourceField} its place there
 * @param filled slots that get the value {@code with} in new rows
 */
public record GaplessStep(
        int slot,
        Type type,
        List<Integer> within,
        long months,
        long micros,
        @Nullable Object from,
        @Nullable Object to,
        @Nullable TablePlan source,
        int sourceField,
        List<Integer> filled,
        @Nullable Object with)
        implements Step {
    @Override
    public List<TablePlan> lookedUp() {
        return source == null ? List.of() : List.of(source);
    }

    @Override
    public BitSet fieldsOf(TablePlan other, BitSet after) {
        BitSet field = new BitSet();
        field.set(sourceField);
        return field;
    }

    @Override
    public String word() {
        return "gapless";
    }

    @Override
    public BitSet before(BitSet after) {
        BitSet before = (BitSet) after.clone();
        before.set(slot);
        within.forEach(before::set);
        return before;
    }

    @Override
    public boolean makesNewRows() {
        return true;
    }
}
