package dev.fiesta.operate.group;

import dev.fiesta.gather.Accumulator;
import dev.fiesta.gather.keys.GroupTable;
import dev.fiesta.step.GroupStep;
import dev.fiesta.store.Memory;
import dev.fiesta.store.PartitionStarts;
import dev.fiesta.store.Rows;
import dev.fiesta.store.Stored;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.work.Workers;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Objects;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * What the groups of a grouping have gathered, kept so that totals and rests can be merged from it: in memory, or in a file by key. Groups
 * have numbers; those of rests stand behind the others.
 */
public final class GroupStates {
    /** What is merged gives values away when it takes this part of the memory. */
    private static final int PART = 8;

    /** Says where groups go. */
    @FunctionalInterface
    public interface Into {
        /**
         * The place of each of some groups; negative for those that are left out.
         *
         * @param keys their keys, all of them
         * @param first the number of the first of them
         */
        int[] of(Column[] keys, int first, int groups);

        /** Those with these keys go to the number that a table knows for them. */
        static Into known(GroupTable table, int[] places) {
            GroupTable.Finder finder = table.new Finder();
            return (keys, first, groups) -> {
                int[] numbers = new int[groups];
                Column[] some = Arrays.stream(places).mapToObj(k -> keys[k]).toArray(Column[]::new);
                finder.find(some, groups, numbers);
                return numbers;
            };
        }

        /** The same, of the groups of some numbers only. */
        default Into only(BitSet wanted) {
            return (keys, first, groups) -> {
                int[] into = of(keys, first, groups);
                for (int i = 0; i < groups; i++) {
                    into[i] = wanted.get(first + i) ? into[i] : -1;
                }
                return into;
            };
        }
    }

    /** Some groups. */
    private interface Part {
        int groups();

        /**
         * Merges them into others.
         *
         * @param first the number of the first of them
         * @param wanted the numbers of which some may be asked for; others may be passed over
         */
        void merge(Into into, int first, Numbers wanted, List<Accumulator> to);
    }

    /** Numbers of groups, from one to before another. */
    private record Numbers(int from, int to) {
        static final Numbers ALL = new Numbers(0, Integer.MAX_VALUE);
    }

    private final GroupStep step;
    private final Memory memory;
    private final List<Part> parts;
    private final int met;
    private final @Nullable BitSet standing;
    private final Numbers wanted;

    private GroupStates(
            GroupStep step, Memory memory, List<Part> parts, int met, @Nullable BitSet standing, Numbers wanted) {
        this.wanted = wanted;
        this.step = step;
        this.memory = memory;
        this.parts = parts;
        this.met = met;
        this.standing = standing;
    }

    /** Groups in memory. */
    static GroupStates held(GroupStep step, Memory memory, Column[] keys, List<Accumulator> accumulators, int groups) {
        return new GroupStates(step, memory, List.of(new Held(keys, accumulators, groups)), groups, null, Numbers.ALL);
    }

    /** Groups in a file; one may stand there several times, one behind the other. */
    static GroupStates written(GroupStep step, Memory memory, GroupRun run, int groups) {
        return new GroupStates(step, memory, List.of(new Written(run, groups, memory)), groups, null, Numbers.ALL);
    }

    /** With rests behind them. */
    public GroupStates with(Column[] keys, List<Accumulator> rests, int size) {
        List<Part> more = new ArrayList<>(parts);
        more.add(new Held(keys, rests, size));
        return new GroupStates(step, memory, more, met, standing, wanted);
    }

    /** Notes which groups stand where totals are asked for. */
    public GroupStates marked(BitSet numbers) {
        return new GroupStates(step, memory, parts, met, numbers, wanted);
    }

    /** The same, of which only groups of some numbers will be asked for: the others need not be read. */
    public GroupStates part(int from, int to) {
        return new GroupStates(step, memory, parts, met, standing, new Numbers(from, to));
    }

    /** The numbers of the groups that rows stand for. */
    public BitSet numbers(Stored rows) {
        BitSet numbers = new BitSet();
        for (int b = 0; b < rows.blocks(); b++) {
            Batch block = rows.batch(b);
            LongColumn own = (LongColumn) block.column(step.numberSlot()).flat();
            for (int i = 0; i < block.size(); i++) {
                if (!own.isMissing(i)) {
                    numbers.set((int) own.values()[i]);
                }
            }
        }
        return numbers;
    }

    public GroupStep step() {
        return step;
    }

    /** The groups that stood where totals were asked for. */
    public BitSet standing() {
        return Objects.requireNonNull(standing);
    }

    /** All numbers given out, those of rests too. */
    public int numbers() {
        return parts.stream().mapToInt(Part::groups).sum();
    }

    /** The number of groups met in the records, which rests only hold together. */
    public int met() {
        return met;
    }

    /** What groups come to that are merged from these, one accumulator for each figure. */
    public List<Accumulator> merged(Into into, int size) {
        List<Accumulator> to = Grouping.emptyAccumulators(step);
        to.forEach(a -> a.grow(Math.max(1, size)));
        int first = 0;
        for (Part part : parts) {
            if (first < wanted.to() && first + part.groups() > wanted.from()) {
                part.merge(into, first, wanted, to);
            }
            first += part.groups();
            if (Accumulator.memory(to) > memory.limit() / PART) {
                SpilledValues.relieve(to, memory);
            }
        }
        return to;
    }

    private record Held(Column[] keys, List<Accumulator> accumulators, int groups) implements Part {
        @Override
        public void merge(Into into, int first, Numbers wanted, List<Accumulator> to) {
            int[] places = into.of(keys, first, groups);
            for (int g = 0; g < to.size(); g++) {
                if (!to.get(g).isView()) {
                    to.get(g).merge(accumulators.get(g), places);
                }
            }
        }
    }

    private static final class Written implements Part {
        private final GroupRun run;
        private final int groups;
        private final Memory memory;
        private final BitSet all = new BitSet();
        /** For each block how many groups begin before it, and behind the last how many there are; made when some are asked for. */
        private int[] before = new int[0];
        /** Whether the first row of a block begins a group, or goes on with one of the block before. */
        private boolean[] begin = new boolean[0];

        Written(GroupRun run, int groups, Memory memory) {
            this.run = run;
            this.groups = groups;
            this.memory = memory;
            this.all.set(0, run.keys().block(0).slots().length);
        }

        @Override
        public int groups() {
            return groups;
        }

        private void index() {
            int blocks = run.keys().blocks();
            before = new int[blocks + 1];
            begin = new boolean[blocks];
            PartitionStarts changes = new PartitionStarts();
            for (int b = 0; b < blocks; b++) {
                Workers.stopIfInterrupted();
                Rows rows = run.keys().read(b, all);
                boolean[] begins = changes.in(Arrays.asList(rows.columns(run.slots())), rows.size());
                begin[b] = begins.length == 0 || begins[0];
                before[b + 1] = before[b];
                for (boolean begun : begins) {
                    before[b + 1] += begun ? 1 : 0;
                }
            }
        }

        @Override
        public void merge(Into into, int first, Numbers wanted, List<Accumulator> to) {
            PartitionStarts changes = new PartitionStarts();
            int block = 0;
            boolean some = wanted != Numbers.ALL;
            if (some) {
                if (before.length == 0) {
                    index();
                }
                while (block + 1 < begin.length && first + before[block + 1] <= wanted.from()) {
                    block++;
                }
            }
            int number = first + (some ? before[block] : 0);
            int place = -1;
            for (int b = block; b < run.keys().blocks(); b++) {
                if (some && (number > wanted.to() || number == wanted.to() && begin[b])) {
                    return;
                }
                Workers.stopIfInterrupted();
                Rows rows = run.keys().read(b, all);
                Column[] keys = rows.columns(run.slots());
                boolean[] begins = changes.in(Arrays.asList(keys), rows.size());
                if (some && b == block && begins.length > 0) {
                    begins[0] = begin[b];
                }
                int[] starts =
                        IntStream.range(0, begins.length).filter(i -> begins[i]).toArray();
                Column[] own = Arrays.stream(keys)
                        .map(k -> k.take(starts, starts.length))
                        .toArray(Column[]::new);
                int[] places = into.of(own, number, starts.length);
                GroupRun.States states = run.states(b);
                for (int i = 0, at = 0; i < rows.size(); i++) {
                    place = begins[i] ? places[at++] : place;
                    states.next(place, to);
                }
                number += starts.length;
                if (Accumulator.memory(to) > memory.limit() / PART) {
                    SpilledValues.relieve(to, memory);
                }
            }
        }
    }
}
