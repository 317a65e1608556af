package dev.fiesta.engine;

import dev.fiesta.gather.Accumulator;
import dev.fiesta.plan.Step;
import dev.fiesta.problem.Notices;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import dev.fiesta.walk.Order;
import dev.fiesta.walk.Parts;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** The first rows of each partition along an order, and the others as one more row if that is wanted. */
final class Choosing {
    private final Step.Firsts step;
    private final Rows rows;
    private final int[] partition;
    private final int[] order;

    Choosing(Step.Firsts step, Rows rows, Notices notices) {
        this.step = step;
        this.rows = rows;
        Batch batch = rows.batch();
        Column[] within = RowsRunner.evaluated(step.within(), batch, notices);
        this.partition = RowsRunner.numbers(within, rows.size());
        List<Order.Key> keys = new ArrayList<>();
        Arrays.stream(within).forEach(k -> keys.add(new Order.Key(k, false)));
        step.along().forEach(k -> keys.add(new Order.Key(k.key().kernel(notices).eval(batch), k.descending())));
        boolean bestOnly = step.within().isEmpty() && step.rest() == null;
        long wanted = bestOnly ? step.count() : Long.MAX_VALUE;
        this.order = step.along().isEmpty()
                ? new int[0]
                : Order.first(Order.asTheyStand(rows.size()), keys, wanted, Parts.ONE);
    }

    Rows run() {
        return step.along().isEmpty() ? asTheyStand() : chosen();
    }

    /** The first rows of each partition, where they stand. */
    private Rows asTheyStand() {
        int[] taken = new int[rows.size()];
        int[] picked = new int[rows.size()];
        int count = 0;
        for (int row = 0; row < picked.length; row++) {
            if (taken[partition[row]]++ < step.count()) {
                picked[count++] = row;
            }
        }
        return rows.take(Arrays.copyOf(picked, count));
    }

    private Rows chosen() {
        List<Integer> picked = new ArrayList<>();
        List<List<Integer>> others = new ArrayList<>();
        int last = -1;
        int taken = 0;
        for (int row : order) {
            if (partition[row] != last) {
                closePartition(picked, others);
                last = partition[row];
                taken = 0;
            }
            if (taken++ < step.count()) {
                picked.add(row);
            } else {
                others.get(others.size() - 1).add(row);
            }
        }
        closeRest(picked, others);
        int[] chosen = picked.stream().mapToInt(Integer::intValue).toArray();
        return step.rest() == null
                ? rows.take(Arrays.stream(chosen).filter(r -> r >= 0).toArray())
                : withRest(chosen, others);
    }

    private void closePartition(List<Integer> picked, List<List<Integer>> others) {
        closeRest(picked, others);
        others.add(new ArrayList<>());
    }

    /** The place of a rest row: numbers behind those of all rows. */
    private void closeRest(List<Integer> picked, List<List<Integer>> others) {
        if (!others.isEmpty() && !others.get(others.size() - 1).isEmpty() && step.rest() != null) {
            picked.add(rows.size() + others.size() - 1);
        }
    }

    private Rows withRest(int[] chosen, List<List<Integer>> others) {
        Step.Rest rest = java.util.Objects.requireNonNull(step.rest());
        GroupStates states = java.util.Objects.requireNonNull(rows.states());
        LongColumn numbers = (LongColumn) rows.column(states.step().numberSlot());
        int[] into = new int[states.numbers()];
        Arrays.fill(into, -1);
        int[] example = new int[others.size()];
        Arrays.fill(example, -1);
        for (int p = 0; p < others.size(); p++) {
            for (int row : others.get(p)) {
                example[p] = row;
                if (!numbers.isMissing(row)) {
                    into[(int) numbers.values()[row]] = p;
                }
            }
        }
        Column[] keys = keys(rest, states, example);
        BitSet has = new BitSet();
        rest.kept().forEach(has::set);
        BitSet[] each = new BitSet[others.size()];
        Arrays.fill(each, has);
        Merging merging = new Merging(rest.rows(), states);
        Rows restRows = merging.rows(into, others.size(), keys, each, states.keys());
        GroupStates more = extended(states, merging, into, others.size(), keys);
        @Nullable Column[] slots = new Column[rows.slots().length];
        for (int s = 0; s < slots.length; s++) {
            Column column = rows.slots()[s];
            if (column != null) {
                slots[s] = Column.join(
                        column.type(), List.of(column, below(restRows, s, column.type(), states, others.size())));
            }
        }
        return new Rows(rows.size() + others.size(), slots, more).take(chosen);
    }

    /** The rest's keys: those of its partition, and the label. */
    private Column[] keys(Step.Rest rest, GroupStates states, int[] example) {
        Column[] keys = new Column[states.keys().length];
        for (int k = 0; k < keys.length; k++) {
            Type type = states.keys()[k].type();
            keys[k] = k == rest.labelSlot()
                    ? Column.constant(Type.TEXT, rest.label(), example.length).flat()
                    : rest.kept().contains(k)
                            ? rows.column(k).take(example, example.length)
                            : Column.missing(type, example.length);
        }
        return keys;
    }

    private static Column below(Rows restRows, int slot, Type type, GroupStates states, int size) {
        if (slot == states.step().numberSlot()) {
            long[] own = new long[size];
            Arrays.setAll(own, i -> states.numbers() + i);
            return new LongColumn(Type.INTEGER, own, size, null);
        }
        Column column = slot < restRows.slots().length ? restRows.slots()[slot] : null;
        return column == null ? Column.missing(type, size) : column;
    }

    /** The states with those of the rests behind them, so that totals count each record once. */
    private static GroupStates extended(GroupStates states, Merging merging, int[] into, int size, Column[] keys) {
        int first = states.numbers();
        int[] behind = new int[size];
        Arrays.setAll(behind, i -> first + i);
        for (int g = 0; g < states.accumulators().size(); g++) {
            Accumulator rest = merging.merged(g, into, size);
            states.accumulators().get(g).grow(first + size);
            states.accumulators().get(g).merge(rest, behind);
        }
        Column[] all = new Column[keys.length];
        for (int k = 0; k < keys.length; k++) {
            all[k] = Column.join(keys[k].type(), List.of(states.keys()[k], keys[k]));
        }
        return new GroupStates(states.step(), states.accumulators(), states.groups(), all, states.standing());
    }
}
