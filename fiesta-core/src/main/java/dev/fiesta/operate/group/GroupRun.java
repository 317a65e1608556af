package dev.fiesta.operate.group;

import dev.fiesta.gather.Accumulator;
import dev.fiesta.store.Memory;
import dev.fiesta.store.Rows;
import dev.fiesta.store.SpillFile;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.value.Column;
import dev.fiesta.walk.Order;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;

/**
 * Groups in a file, by key, with what they have gathered.
 *
 * @param keys the keys, one slot each
 * @param states for each block of keys where the states of its groups stand and how many bytes they are
 */
record GroupRun(SpilledRows keys, List<long[]> states) {
    /** A block ends when its states are so many bytes: a group may have many values. */
    private static final int MOST_BYTES = 1 << 18;

    /** But for small memories, of which a block takes no more than this part. */
    private static final int PART = 256;

    /** Where blocks stand is remembered, so there must not be too many of them. */
    private static final int FEWEST_ROWS = 256;

    private static final int FEWEST_BYTES = 1 << 15;

    static GroupRun write(Memory memory, Column[] keys, List<Accumulator> accumulators, int groups) {
        SpillFile scratch = memory.scratch();
        int block = Math.max(memory.blockRows() / 8, Math.min(FEWEST_ROWS, memory.blockRows()));
        long most = Math.min(MOST_BYTES, Math.max(memory.limit() / PART, Math.min(FEWEST_BYTES, memory.limit())));
        List<Order.Key> byKey =
                Arrays.stream(keys).map(k -> new Order.Key(k, false)).toList();
        int[] order = Order.sort(Order.asTheyStand(groups), byKey);
        accumulators.forEach(a -> a.grow(groups));
        Rows all = new Rows(groups, keys);
        List<SpilledRows.Block> blocks = new ArrayList<>();
        List<long[]> states = new ArrayList<>();
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        DataOutputStream out = new DataOutputStream(bytes);
        int[] lengths = new int[block];
        for (int start = 0, end; start < groups; start = end) {
            end = start;
            while (end < groups && end - start < block && (bytes.size() < most || end == start)) {
                int before = bytes.size();
                write(accumulators, order[end], out);
                lengths[end++ - start] = bytes.size() - before;
            }
            int[] part = Arrays.copyOfRange(order, start, end);
            blocks.add(SpilledRows.write(scratch, part.length, all.take(part).slots()));
            ByteBuffer packed = ByteBuffer.allocate(4 * part.length + bytes.size());
            IntStream.range(0, part.length).forEach(i -> packed.putInt(lengths[i]));
            packed.put(bytes.toByteArray()).flip();
            states.add(new long[] {scratch.write(packed), packed.limit()});
            bytes.reset();
        }
        return new GroupRun(new SpilledRows(scratch, blocks), states);
    }

    static void write(List<Accumulator> accumulators, int group, DataOutputStream out) {
        try {
            for (Accumulator accumulator : accumulators) {
                accumulator.write(group, out);
            }
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** Runs one behind the other, which are in order so. */
    static GroupRun join(List<GroupRun> parts) {
        return new GroupRun(
                SpilledRows.join(parts.stream().map(GroupRun::keys).toList()),
                parts.stream().flatMap(p -> p.states.stream()).toList());
    }

    /** About the memory that the largest block takes, in bytes. */
    long blockMemory() {
        return keys.blockMemory() + states.stream().mapToLong(s -> s[1]).max().orElse(0);
    }

    /** The slots of the keys. */
    List<Integer> slots() {
        return IntStream.range(0, keys.block(0).slots().length).boxed().toList();
    }

    /** The states of a block, group behind group. */
    States states(int block) {
        long[] place = states.get(block);
        ByteBuffer bytes = keys.scratch().read(place[0], (int) place[1]);
        int[] lengths = new int[keys.block(block).rows()];
        bytes.asIntBuffer().get(lengths);
        int head = 4 * lengths.length;
        return new States(
                lengths, new DataInputStream(new ByteArrayInputStream(bytes.array(), head, bytes.limit() - head)));
    }

    /** The bytes of the states of a block, group behind group. */
    ByteBuffer stateBytes(int block) {
        long[] place = states.get(block);
        ByteBuffer bytes = keys.scratch().read(place[0], (int) place[1]);
        return bytes.position(4 * keys.block(block).rows());
    }

    /** The states of some groups, one behind the other. */
    static final class States {
        private final int[] lengths;
        private final DataInputStream in;
        private int next;

        private States(int[] lengths, DataInputStream in) {
            this.lengths = lengths;
            this.in = in;
        }

        /** Adds the next state to a group; to none where it is negative. */
        void next(int group, List<Accumulator> to) {
            int length = lengths[next++];
            try {
                if (group < 0) {
                    in.skipNBytes(length);
                    return;
                }
                for (Accumulator accumulator : to) {
                    accumulator.read(group, in);
                }
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        }
    }
}
