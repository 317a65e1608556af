package dev.fiesta.engine;

import dev.fiesta.compute.Types;
import dev.fiesta.gather.Accumulator;
import dev.fiesta.gather.Part;
import dev.fiesta.plan.Step;
import dev.fiesta.problem.Notices;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Rows worked out from merged states of groups: totals and rests. Nothing is read twice, no figure is made of figures. */
final class Merging {
    private final Step.Recomputed how;
    private final GroupStates states;

    Merging(Step.Recomputed how, GroupStates states) {
        this.how = how;
        this.states = states;
    }

    /**
     * Merged rows, by slot.
     *
     * @param into for each group the row it belongs to, negative for none
     * @param keys the keys of the rows, missing where a row has none
     * @param has for each row how many of the first keys it has
     * @param groupKeys the keys of all groups, for figures over wider groups
     */
    Rows rows(int[] into, int size, Column[] keys, BitSet[] has, Column[] groupKeys) {
        @Nullable Column[] slots = new Column[how.group().numberSlot() + 1];
        System.arraycopy(keys, 0, slots, 0, keys.length);
        for (int g = 0; g < states.accumulators().size(); g++) {
            slots[keys.length + g] = figure(g, into, size, keys, has, groupKeys);
        }
        slots[how.group().numberSlot()] = Column.missing(Type.INTEGER, size);
        BitSet empty = new BitSet();
        empty.set(0, size);
        for (int row : into) {
            if (row >= 0) {
                empty.clear(row);
            }
        }
        return replay(how, new Rows(size, slots, null), empty);
    }

    /** The merged state of a figure. */
    Accumulator merged(int g, int[] into, int size) {
        Accumulator merged = how.group().gathers().get(g).bound().maker().get();
        merged.grow(Math.max(1, size));
        merged.merge(states.accumulators().get(g), into);
        return merged;
    }

    private Column figure(int g, int[] into, int size, Column[] keys, BitSet[] has, Column[] groupKeys) {
        Step.GatherSpec spec = how.group().gathers().get(g);
        Accumulator own = merged(g, into, size);
        int[] wider = spec.wider();
        if (wider == null) {
            return own.finish(size);
        }
        List<Column> parts = new ArrayList<>();
        for (int row = 0; row < size; row++) {
            boolean known = true;
            for (int key : wider) {
                known &= has[row].get(key);
            }
            parts.add(
                    known
                            ? wide(spec, g, own, row, wide(row, wider, keys, groupKeys))
                            : Column.missing(spec.bound().type(), 1));
        }
        return Column.join(spec.bound().type(), parts);
    }

    /** For each group whether it belongs to the wider group of a row: 0, else -1. */
    private int[] wide(int row, int[] wider, Column[] keys, Column[] groupKeys) {
        int[] into = new int[states.numbers()];
        Arrays.fill(into, -1); // rests hold what their groups hold already
        for (int group = 0; group < states.groups(); group++) {
            into[group] = 0;
            for (int key : wider) {
                boolean same = java.util.Objects.equals(keys[key].get(row), groupKeys[key].get(group));
                into[group] = same ? into[group] : -1;
            }
        }
        return into;
    }

    private Column wide(Step.GatherSpec spec, int g, Accumulator own, int row, int[] into) {
        Accumulator whole = merged(g, into, 1);
        return spec.function().isPart() ? ((Part) own).ofWider(whole, row, new int[1]) : whole.finish(1);
    }

    /** @param empty the rows that stand for no record */
    static Rows replay(Step.Recomputed how, Rows rows, BitSet empty) {
        Rows all = rows;
        for (var entry : how.missing().entrySet()) {
            all = all.with(entry.getKey(), Column.missing(entry.getValue(), rows.size()));
        }
        for (Step step : how.replay()) {
            if (step instanceof Step.Compute compute) {
                all = computed(compute, all);
            } else if (step instanceof Step.Gapless gapless) {
                for (int slot : gapless.filled()) {
                    Object with = java.util.Objects.requireNonNull(gapless.with());
                    all = all.with(slot, filled(all.column(slot), empty, with));
                }
            }
        }
        return all;
    }

    /** A figure with a whole number in the rows given, where it is missing. */
    static Column filled(Column figure, BitSet where, Object with) {
        if (where.isEmpty()) {
            return figure;
        }
        Column filling = Types.widen(Column.constant(Type.INTEGER, with, 1), figure.type())
                .flat();
        int[] pick = new int[figure.size()];
        for (int i = 0; i < pick.length; i++) {
            pick[i] = where.get(i) && figure.isMissing(i) ? figure.size() : i;
        }
        return Column.join(figure.type(), List.of(figure, filling)).take(pick, pick.length);
    }

    /** Rows with what a step works out. */
    static Rows computed(Step.Compute compute, Rows rows) {
        BitSet every = new BitSet();
        compute.assignments().forEach(a -> every.set(a.slot()));
        Batch batch = new ComputeStage(compute, every, new Notices()).apply(rows.batch());
        Rows all = rows;
        for (Step.Assignment assignment : compute.assignments()) {
            all = all.with(assignment.slot(), batch.column(assignment.slot()).flat());
        }
        return all;
    }
}
