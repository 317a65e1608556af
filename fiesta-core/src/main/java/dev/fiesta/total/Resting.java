package dev.fiesta.total;

import dev.fiesta.compute.Kernel;
import dev.fiesta.operate.group.GroupStates;
import dev.fiesta.operate.group.Standing;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.FirstsStep;
import dev.fiesta.step.OrderKey;
import dev.fiesta.store.ExternalSort;
import dev.fiesta.store.Memory;
import dev.fiesta.store.PartitionStarts;
import dev.fiesta.store.Rows;
import dev.fiesta.store.RowsBuilder;
import dev.fiesta.store.Stored;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import dev.fiesta.work.Workers;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/** The first rows of each partition along an order, and all others of it as one more row, merged from what their groups have gathered. */
public final class Resting {
    private final FirstsStep step;
    private final FirstsStep.Rest rest;
    private final GroupStates states;
    private final Notices notices;
    private final Memory memory;
    private final List<OrderKey> order = new ArrayList<>();

    public Resting(FirstsStep step, FirstsStep.Rest rest, GroupStates states, Notices notices, Memory memory) {
        this.step = step;
        this.rest = rest;
        this.states = states;
        this.notices = notices;
        this.memory = memory;
        step.within().forEach(k -> order.add(new OrderKey(k, false)));
        order.addAll(step.along());
    }

    /**
     * @param before the slots needed before it
     * @param after the slots needed behind it
     */
    public Standing run(Stored rows, BitSet before, BitSet after) {
        Stored sorted = ExternalSort.sorted(rows, order, before, notices, memory);
        int[] into = new int[states.numbers()];
        Arrays.fill(into, -1);
        List<Rows> examples = new ArrayList<>();
        int rests = new Walk(sorted).each((block, picked, first) -> {
            LongColumn numbers = (LongColumn) block.column(states.step().numberSlot());
            int[] starts = IntStream.range(0, picked.length)
                    .filter(i -> picked[i] == Walk.FIRST_OTHER)
                    .toArray();
            int partition = first - 1;
            for (int i = 0; i < picked.length; i++) {
                partition += picked[i] == Walk.FIRST_OTHER ? 1 : 0;
                if (picked[i] != Walk.CHOSEN && !numbers.isMissing(i)) {
                    into[(int) numbers.values()[i]] = partition;
                }
            }
            if (starts.length > 0 || examples.isEmpty()) { // texts of a block are held as long as one of them is
                examples.add(new Rows(starts.length, taken(block, starts)));
            }
        });
        return withRests(sorted, into, rests, Rows.join(examples).slots(), after);
    }

    /** The keys that rests keep. */
    private @Nullable Column[] taken(Batch block, int[] rows) {
        @Nullable Column[] keys = new Column[states.step().keys().size()];
        for (int k : rest.kept()) {
            keys[k] = block.column(k).flat().take(rows, rows.length);
        }
        return keys;
    }

    private Standing withRests(Stored sorted, int[] into, int size, @Nullable Column[] examples, BitSet after) {
        Column[] keys = keys(examples, size);
        BitSet has = new BitSet();
        rest.kept().forEach(has::set);
        GroupStates.Into known = (groupKeys, first, groups) -> Arrays.copyOfRange(into, first, first + groups);
        Merging.Merged merged = new Merging(rest.rows(), states).rows(known, size, keys, has);
        Rows rests = merged.rows();
        RowsBuilder all = new RowsBuilder(memory, after);
        new Walk(sorted).each((block, picked, first) -> {
            int behind = first
                    + (int) Arrays.stream(picked)
                            .filter(p -> p == Walk.FIRST_OTHER)
                            .count();
            int[] pick = new int[picked.length];
            int count = 0;
            int next = picked.length;
            for (int i = 0; i < picked.length; i++) {
                if (picked[i] != Walk.OTHER) {
                    pick[count++] = picked[i] == Walk.CHOSEN ? i : next++;
                }
            }
            int[] rows = Arrays.copyOf(pick, count);
            @Nullable Column[] slots = new Column[after.length()];
            after.stream().forEach(s -> {
                Column own = block.column(s).flat();
                Column others = s == states.step().numberSlot()
                        ? numbers(merged.empty(), first, behind)
                        : below(rests, s, own.type(), first, behind);
                slots[s] = Column.join(own.type(), List.of(own, others)).take(rows, rows.length);
            });
            all.add(Batch.of(rows.length, slots, 0));
        });
        return Standing.all(all.finish(), states.with(keys, merged.states(), size));
    }

    /** The rests' keys: those of their partition, and the label. */
    private Column[] keys(@Nullable Column[] examples, int size) {
        Column[] keys = new Column[examples.length];
        for (int k = 0; k < keys.length; k++) {
            Column example = examples[k];
            keys[k] = k == rest.labelSlot()
                    ? Column.constant(Type.TEXT, rest.label(), size).flat()
                    : example != null
                            ? example
                            : Column.missing(states.step().keys().get(k).type(), size);
        }
        return keys;
    }

    /** The numbers of some rests; one that stands for no record has none, as a period without any. */
    private Column numbers(BitSet empty, int from, int to) {
        long[] own = new long[to - from];
        Arrays.setAll(own, i -> states.numbers() + from + i);
        BitSet valid = new BitSet();
        valid.set(0, own.length);
        valid.andNot(empty.get(from, to));
        return new LongColumn(
                Type.INTEGER, own, own.length, Arrays.copyOf(valid.toLongArray(), (own.length + 63) / 64));
    }

    /** A slot of some rests. */
    private Column below(Rows rests, int slot, Type type, int from, int to) {
        Column column = slot < rests.slots().length ? rests.slots()[slot] : null;
        return column == null
                ? Column.missing(type, to - from)
                : column.flat().take(IntStream.range(from, to).toArray(), to - from);
    }

    /** Goes through sorted rows, and tells of each whether it is chosen. */
    private final class Walk {
        static final int CHOSEN = 0;
        static final int FIRST_OTHER = 1;
        static final int OTHER = 2;

        /** Is told of the rows of a block. */
        private interface Block {
            /** @param first the number of the first rest that begins here */
            void at(Batch rows, int[] picked, int first);
        }

        private final Stored sorted;

        Walk(Stored sorted) {
            this.sorted = sorted;
        }

        /** @return the number of rests */
        int each(Block told) {
            List<Kernel> kernels =
                    step.within().stream().map(k -> k.kernel(new Notices())).toList();
            PartitionStarts changes = new PartitionStarts();
            long taken = 0;
            int rests = 0;
            for (int b = 0; b < sorted.blocks(); b++) {
                Workers.stopIfInterrupted();
                Batch block = sorted.batch(b);
                boolean[] others = changes.in(
                        kernels.stream().map(k -> k.eval(block).flat()).toList(), block.size());
                int[] picked = new int[block.size()];
                int first = rests;
                for (int i = 0; i < picked.length; i++) {
                    taken = others[i] ? 0 : taken;
                    picked[i] = taken < step.count() ? CHOSEN : taken == step.count() ? FIRST_OTHER : OTHER;
                    rests += picked[i] == FIRST_OTHER ? 1 : 0;
                    taken++;
                }
                told.at(block, picked, first);
            }
            return rests;
        }
    }
}
