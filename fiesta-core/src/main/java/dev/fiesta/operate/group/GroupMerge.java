package dev.fiesta.operate.group;

import dev.fiesta.gather.Accumulator;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.GroupStep;
import dev.fiesta.store.ColumnBuilder;
import dev.fiesta.store.Memory;
import dev.fiesta.store.Rounds;
import dev.fiesta.store.Rows;
import dev.fiesta.store.Runs;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import dev.fiesta.work.Workers;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.function.Consumer;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/** Brings runs of groups together: equal keys stand next to each other when all runs are read in order. */
final class GroupMerge {
    /** Groups are finished when their states take this part of the memory. */
    private static final int PART = 8;

    private static final int FEWEST = 64;

    /** Values of a group are put away when there are so many bytes of them at least. */
    private static final int LEAST_VALUES = 1 << 16;

    private final GroupStep step;
    private final List<GroupRun> runs;
    private final Memory memory;
    private final List<Integer> keys;
    private final Notices notices;
    private final GroupRun.States[] states;
    private final int[] blocks;
    private final Rows[] origins;
    private final int[] rows;
    private final List<@Nullable Wider> wider = new ArrayList<>();
    private final List<SpilledRows.Block> written = new ArrayList<>();
    private List<Accumulator> accumulators = List.of();
    private int count;
    private long base;
    private long before;

    private GroupMerge(GroupStep step, List<GroupRun> runs, Memory memory, Notices notices) {
        this.notices = notices;
        this.step = step;
        this.runs = runs;
        this.memory = memory;
        this.keys = IntStream.range(0, step.keys().size()).boxed().toList();
        this.states = new GroupRun.States[runs.size()];
        this.blocks = new int[runs.size()];
        this.rows = new int[atOnce(step, memory)];
        this.origins = new Rows[rows.length];
    }

    /** How many groups are brought together at once: fewer where their states take much before they have gathered anything. */
    private static int atOnce(GroupStep step, Memory memory) {
        int groups = memory.blockRows();
        while (groups > FEWEST && emptyMemory(step, groups) > memory.limit() / PART) {
            groups /= 2;
        }
        return groups;
    }

    private static long emptyMemory(GroupStep step, int groups) {
        List<Accumulator> empty = Grouping.emptyAccumulators(step);
        empty.forEach(a -> a.grow(groups));
        return Accumulator.memory(empty);
    }

    /** The groups of all runs, by key: keys, figures, number of the group. */
    static Standing run(GroupStep step, List<GroupRun> runs, Memory memory, Notices notices) {
        List<GroupRun> few = Rounds.few(
                runs, GroupRun::blockMemory, memory, some -> new GroupMerge(step, some, memory, notices).joined());
        if (!step.keepStates()) {
            return Standing.all(new GroupMerge(step, few, memory, notices).run());
        }
        GroupRun all = few.size() == 1 ? few.get(0) : new GroupMerge(step, few, memory, notices).joined();
        SpilledRows groups = new GroupMerge(step, List.of(all), memory, notices).run();
        return Standing.all(groups, GroupStates.written(step, memory, all, Math.toIntExact(groups.rows())));
    }

    /** One run of all. A group whose values are many may stand in it several times, one behind the other. */
    private GroupRun joined() {
        List<GroupRun> parts = new ArrayList<>();
        eachGroups(found -> parts.add(GroupRun.write(memory, found, accumulators, count)), false);
        return GroupRun.join(parts);
    }

    private SpilledRows run() {
        if (step.gathers().stream().anyMatch(g -> g.wider() != null)) {
            step.gathers().forEach(g -> wider.add(g.wider() == null ? null : new Wider(g, memory)));
            eachGroups(this::widen, true);
        } else {
            step.gathers().forEach(g -> wider.add(null));
        }
        eachGroups(this::write, true);
        return new SpilledRows(memory.scratch(), written);
    }

    /**
     * Hands groups over as they are complete, by their keys.
     *
     * @param whole whether all of a group must come at once
     */
    private void eachGroups(Consumer<Column[]> complete, boolean whole) {
        BitSet all = new BitSet();
        all.set(0, keys.size());
        Arrays.fill(blocks, -1);
        Runs merged = new Runs(runs.stream().map(GroupRun::keys).toList(), keys, new boolean[keys.size()], all);
        start();
        for (; !merged.isEmpty(); merged.advance()) {
            Runs.Cursor next = merged.first();
            boolean same = count > 0 && Runs.same(origins[count - 1], rows[count - 1], next.rows(), next.row(), keys);
            if (!same) {
                Workers.stopIfInterrupted();
                if (count == rows.length || isHeavy()) {
                    complete.accept(found());
                    start();
                }
                origins[count] = next.rows();
                rows[count++] = next.row();
            }
            read(next);
            boolean heavy = Accumulator.memory(accumulators) - base > Math.max(memory.limit() / PART, LEAST_VALUES);
            if (heavy && whole) {
                SpilledValues.relieve(accumulators, memory);
                base = Accumulator.memory(accumulators);
            } else if (heavy) {
                complete.accept(found());
                start();
            }
        }
        if (count > 0) {
            complete.accept(found());
        }
    }

    private void start() {
        accumulators = Grouping.emptyAccumulators(step);
        accumulators.forEach(a -> a.grow(rows.length));
        base = Accumulator.memory(accumulators);
        count = 0;
    }

    private boolean isHeavy() {
        return count % 64 == 63 && Accumulator.memory(accumulators) - base > memory.limit() / PART;
    }

    /** Adds what a run has gathered for its next group to the last group here. */
    private void read(Runs.Cursor next) {
        int run = next.number();
        if (blocks[run] != next.block()) {
            blocks[run] = next.block();
            states[run] = runs.get(run).states(next.block());
        }
        states[run].next(count - 1, accumulators);
    }

    /** The keys of the groups that are complete. */
    private Column[] found() {
        Column[] found = new Column[keys.size()];
        Column[] parts = new Column[count];
        for (int k = 0; k < found.length; k++) {
            for (int i = 0; i < count; i++) {
                parts[i] = origins[i].column(k);
            }
            found[k] = ColumnBuilder.of(parts[0].type(), parts, rows, count);
        }
        return found;
    }

    /** Lets wider groups take in what groups have gathered. */
    private void widen(Column[] found) {
        for (int g = 0; g < accumulators.size(); g++) {
            Wider wide = wider.get(g);
            if (wide != null) {
                wide.add(accumulators.get(g), found, count);
            }
        }
    }

    /** Writes groups down. */
    private void write(Column[] found) {
        @Nullable Column[] slots = Arrays.copyOf(found, step.numberSlot() + 1);
        for (int g = 0; g < accumulators.size(); g++) {
            slots[found.length + g] =
                    Grouping.figure(step.gathers().get(g), accumulators.get(g), wider.get(g), found, count, notices);
        }
        long[] own = new long[count];
        for (int i = 0; i < count; i++) {
            own[i] = before + i;
        }
        slots[step.numberSlot()] = new LongColumn(Type.INTEGER, own, count, null);
        written.add(SpilledRows.write(memory.scratch(), count, slots));
        before += count;
    }
}
