package dev.fiesta.total;

import dev.fiesta.compute.Types;
import dev.fiesta.gather.Accumulator;
import dev.fiesta.gather.Part;
import dev.fiesta.gather.keys.GroupTable;
import dev.fiesta.operate.ComputeStage;
import dev.fiesta.operate.group.GroupStates;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.Assignment;
import dev.fiesta.step.ComputeStep;
import dev.fiesta.step.GaplessStep;
import dev.fiesta.step.GatherSpec;
import dev.fiesta.step.Recomputed;
import dev.fiesta.step.Step;
import dev.fiesta.store.Rows;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** Rows worked out from merged states of groups: totals and rests. Nothing is read twice, no figure is made of figures. */
final class Merging {
    private final Recomputed how;
    private final GroupStates states;

    Merging(Recomputed how, GroupStates states) {
        this.how = how;
        this.states = states;
    }

    /**
     * Merged rows.
     *
     * @param rows by slot
     * @param states what they have gathered
     * @param empty those that stand for no record
     */
    record Merged(Rows rows, List<Accumulator> states, BitSet empty) {}

    /**
     * Merges groups into rows.
     *
     * @param into for each group the row it belongs to
     * @param keys the keys of the rows, missing where they have none
     * @param has which of the keys they have
     */
    Merged rows(GroupStates.Into into, int size, Column[] keys, BitSet has) {
        BitSet empty = new BitSet();
        empty.set(0, size);
        List<Accumulator> merged = states.merged(
                (groupKeys, first, groups) -> {
                    int[] rows = into.of(groupKeys, first, groups);
                    Arrays.stream(rows).filter(row -> row >= 0).forEach(empty::clear);
                    return rows;
                },
                size);
        @Nullable Column[] slots = new Column[how.group().numberSlot() + 1];
        System.arraycopy(keys, 0, slots, 0, keys.length);
        for (int g = 0; g < merged.size(); g++) {
            slots[keys.length + g] = figure(g, merged.get(g), size, keys, has);
        }
        slots[how.group().numberSlot()] = Column.missing(Type.INTEGER, size);
        return new Merged(replay(how, new Rows(size, slots), empty), merged, empty);
    }

    private Column figure(int g, Accumulator own, int size, Column[] keys, BitSet has) {
        GatherSpec spec = how.group().gathers().get(g);
        int[] wider = spec.wider();
        if (wider == null) {
            return own.finish(size);
        }
        if (!Arrays.stream(wider).allMatch(has::get)) {
            return Column.missing(spec.bound().type(), size);
        }
        Column[] wide = Arrays.stream(wider).mapToObj(k -> keys[k].flat()).toArray(Column[]::new);
        GroupTable table = GroupTable.of(wide);
        int[] number = new int[size];
        table.number(wide, size, number);
        BitSet met = new BitSet(); // rests hold what their groups hold already
        met.set(0, states.met());
        Accumulator whole = states.merged(GroupStates.Into.known(table, wider).only(met), table.size())
                .get(g);
        return spec.function().isPart()
                ? ((Part) own).ofWider(whole, 0, number)
                : whole.finish(Math.max(1, table.size())).take(number, size);
    }

    /** @param empty the rows that stand for no record */
    static Rows replay(Recomputed how, Rows rows, BitSet empty) {
        Rows all = rows;
        for (var entry : how.missing().entrySet()) {
            all = all.with(entry.getKey(), Column.missing(entry.getValue(), rows.size()));
        }
        for (Step step : how.replay()) {
            if (step instanceof ComputeStep compute) {
                all = computed(compute, all);
            } else if (step instanceof GaplessStep gapless) {
                for (int slot : gapless.filled()) {
                    Object with = Objects.requireNonNull(gapless.with());
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
    static Rows computed(ComputeStep compute, Rows rows) {
        BitSet every = new BitSet();
        compute.assignments().forEach(a -> every.set(a.slot()));
        Batch batch = new ComputeStage(compute, every, new Notices()).apply(rows.batch());
        Rows all = rows;
        for (Assignment assignment : compute.assignments()) {
            all = all.with(assignment.slot(), batch.column(assignment.slot()).flat());
        }
        return all;
    }
}
