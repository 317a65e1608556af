package dev.fiesta.step;

import dev.fiesta.compute.Apply;
import dev.fiesta.value.Type;
import java.util.BitSet;
import java.util.List;

/**
 * Rows of other tables below. Makes new rows.
 *
 * @param ours for each field of the result the slot here, or -1
 * @param theirs for each table the same
 * @param place where it stands, for failures
 */
public record AppendStep(
        List<TablePlan> tables, List<Integer> ours, List<List<Integer>> theirs, List<Type> types, Apply.Place place)
        implements Step {
    @Override
    public List<TablePlan> lookedUp() {
        return tables;
    }

    @Override
    public BitSet fieldsOf(TablePlan other, BitSet after) {
        BitSet read = new BitSet();
        for (int t = 0; t < tables.size(); t++) {
            if (tables.get(t) == other) {
                read.or(Slots.origins(after, theirs.get(t)));
            }
        }
        return read;
    }

    @Override
    public String word() {
        return "append";
    }

    @Override
    public BitSet before(BitSet after) {
        return Slots.origins(after, ours);
    }

    @Override
    public boolean makesNewRows() {
        return true;
    }
}
