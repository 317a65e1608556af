package dev.fiesta.step;

import dev.fiesta.gather.GatherFunction;
import java.util.BitSet;
import java.util.List;

/**
 * Two sums that must be equal.
 *
 * @param ours the function that adds our values, {@code theirs} the same for those of the other table
 * @param slot our values; {@code place} those of the other table
 */
public record CheckSumStep(
        TablePlan table,
        int slot,
        int place,
        GatherFunction.Bound ours,
        GatherFunction.Bound theirs,
        CheckText text,
        boolean warn)
        implements Step {
    @Override
    public List<TablePlan> lookedUp() {
        return List.of(table);
    }

    @Override
    public BitSet fieldsOf(TablePlan other, BitSet after) {
        BitSet field = new BitSet();
        field.set(place);
        return field;
    }

    @Override
    public String word() {
        return "check";
    }

    @Override
    public BitSet before(BitSet after) {
        BitSet before = (BitSet) after.clone();
        before.set(slot);
        return before;
    }
}
