package dev.fiesta.operate.group;

import dev.fiesta.gather.Accumulator;
import dev.fiesta.gather.Part;
import dev.fiesta.gather.keys.GroupTable;
import dev.fiesta.step.GatherSpec;
import dev.fiesta.store.Memory;
import dev.fiesta.store.Rows;
import dev.fiesta.store.Runs;
import dev.fiesta.value.Column;
import dev.fiesta.work.Workers;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Objects;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * What a figure gathers over groups wider than its own: told first of all groups, asked afterwards for each of them. Where groups come
 * by their keys and the wider ones are the first of these, wider groups come in order too: what does not fit is written down, and
 * read again beside the groups.
 */
final class Wider {
    /** Wider groups are written down when they take this part of the memory. */
    private static final int PART = 16;

    private static final int LOOK_EACH = 1 << 8;

    private final GatherSpec spec;
    private final @Nullable Memory memory;
    private final List<GroupRun> runs = new ArrayList<>();
    private Accumulator whole;
    private @Nullable GroupTable table;
    private @Nullable Column finished;
    private @Nullable Reading reading;

    /** @param spec a figure that names wider groups, all of which are held */
    Wider(GatherSpec spec) {
        this(spec, null);
    }

    /** @param memory of groups that come by their keys; null to hold all wider groups */
    Wider(GatherSpec spec, @Nullable Memory memory) {
        this.spec = spec;
        this.memory = memory;
        this.whole = spec.bound().empty(1);
    }

    /**
     * Takes in what groups have gathered.
     *
     * @param keys the keys of groups 0 to {@code groups - 1}
     */
    void add(Accumulator own, Column[] keys, int groups) {
        int[] into = numbers(wide(keys), groups);
        whole.grow(Math.max(1, known().size()));
        whole.merge(own, into);
        if (memory == null) {
            return;
        }
        if (!comesInOrder()) {
            SpilledValues.relieve(List.of(whole), memory);
        } else if (known().memory() + whole.memory() > memory.limit() / PART) {
            write(memory);
        }
    }

    /** Whether the wider keys are the first ones, and what is gathered can be written at any time. */
    private boolean comesInOrder() {
        int[] places = wider();
        return places.length > 0
                && !whole.putsAway()
                && Arrays.equals(
                        IntStream.of(places).sorted().toArray(),
                        IntStream.range(0, places.length).toArray());
    }

    private void write(Memory within) {
        runs.add(GroupRun.write(within, known().keys(), List.of(whole), known().size()));
        table = null;
        whole = spec.bound().empty(1);
    }

    /** The figures of groups. */
    Column figures(Accumulator own, Column[] keys, int groups) {
        if (memory != null && !runs.isEmpty()) {
            if (reading == null) {
                if (table != null) {
                    write(memory);
                }
                reading = new Reading(GroupRun.join(runs), memory);
            }
            return reading.figures(own, wide(keys), groups);
        }
        int[] into = numbers(wide(keys), groups);
        if (spec.function().isPart()) {
            return ((Part) own).ofWider(whole, 0, into);
        }
        finished = finished == null ? whole.finish(known().size()) : finished;
        return finished.take(into, groups);
    }

    private int[] wider() {
        return Objects.requireNonNull(spec.wider());
    }

    private GroupTable known() {
        return Objects.requireNonNull(table);
    }

    /** The wider keys; in order where they are to come so. */
    private Column[] wide(Column[] keys) {
        return IntStream.of(wider()).sorted().mapToObj(k -> keys[k]).toArray(Column[]::new);
    }

    private int[] numbers(Column[] wide, int groups) {
        table = table == null ? GroupTable.of(wide) : table;
        int[] into = new int[groups];
        table.number(wide, groups, into);
        return into;
    }

    /** Reads wider groups beside the groups that they belong to, in their order. One may stand there several times. */
    private final class Reading {
        private final GroupRun run;
        private final Memory within;
        private final BitSet slots = new BitSet();
        private int block = -1;
        private int row;
        private List<Column> keys = List.of();
        private GroupRun.@Nullable States states;
        /** The wider group read last, which may have more groups. */
        private List<Column> lastKeys = List.of();

        private Accumulator last = spec.bound().empty(1);

        Reading(GroupRun run, Memory within) {
            this.run = run;
            this.within = within;
            slots.set(0, run.slots().size());
        }

        Column figures(Accumulator own, Column[] wide, int groups) {
            GroupTable here = GroupTable.of(wide);
            int[] into = new int[groups];
            here.number(wide, groups, into);
            int count = here.size();
            Accumulator all = spec.bound().empty(Math.max(1, count));
            List<Column> wanted = Arrays.stream(here.keys()).map(Column::flat).toList();
            for (int w = 0; w < count; w++) {
                if (w == 0 && !lastKeys.isEmpty() && !Runs.differ(lastKeys, 0, wanted, 0)) {
                    all.merge(last, new int[] {0});
                }
                read(w, wanted, all);
            }
            last = spec.bound().empty(1);
            int[] onlyLast = new int[count];
            Arrays.fill(onlyLast, -1);
            onlyLast[count - 1] = 0;
            last.merge(all, onlyLast);
            lastKeys = wanted.stream()
                    .map(k -> k.take(new int[] {count - 1}, 1).flat())
                    .toList();
            return spec.function().isPart()
                    ? ((Part) own).ofWider(all, 0, into)
                    : all.finish(count).take(into, groups);
        }

        /** Reads all that is written of one wider group. */
        private void read(int number, List<Column> wanted, Accumulator to) {
            for (int read = 1; hasMore() && !Runs.differ(keys, row, wanted, number); row++, read++) {
                Objects.requireNonNull(states).next(number, List.of(to));
                if (read % LOOK_EACH == 0) {
                    SpilledValues.relieve(List.of(to), within);
                }
            }
        }

        private boolean hasMore() {
            while (keys.isEmpty() || row == keys.get(0).size()) {
                if (++block >= run.keys().blocks()) {
                    return false;
                }
                Workers.stopIfInterrupted();
                Rows rows = run.keys().read(block, slots);
                keys = Arrays.stream(rows.columns(run.slots()))
                        .map(Column::flat)
                        .toList();
                states = run.states(block);
                row = 0;
            }
            return true;
        }
    }
}
