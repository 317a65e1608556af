package dev.fiesta.engine;

import dev.fiesta.gather.Accumulator;
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

/**
 * Groups in a file, by key, with what they have gathered.
 *
 * @param keys the keys, one slot each
 * @param states for each block of keys where the states of its groups stand and how many bytes they are
 */
record GroupRun(FileRows keys, List<long[]> states) {
    /** A block ends when its states are so many bytes: a group may have many values. */
    private static final int MOST_BYTES = 1 << 18;

    static GroupRun write(Memory memory, Column[] keys, List<Accumulator> accumulators, int groups) {
        Scratch scratch = memory.scratch();
        int block = Math.max(1, memory.blockRows() / 8);
        List<Order.Key> byKey =
                Arrays.stream(keys).map(k -> new Order.Key(k, false)).toList();
        int[] order = Order.sort(Order.asTheyStand(groups), byKey);
        accumulators.forEach(a -> a.grow(groups));
        Rows all = new Rows(groups, keys, null);
        List<FileRows.Block> blocks = new ArrayList<>();
        List<long[]> states = new ArrayList<>();
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        for (int start = 0, end; start < groups; start = end) {
            end = start;
            while (end < groups && end - start < block && bytes.size() < MOST_BYTES) {
                write(accumulators, order[end++], bytes);
            }
            int[] part = Arrays.copyOfRange(order, start, end);
            blocks.add(FileRows.write(scratch, part.length, all.take(part).slots()));
            states.add(new long[] {scratch.write(ByteBuffer.wrap(bytes.toByteArray())), bytes.size()});
            bytes.reset();
        }
        return new GroupRun(new FileRows(scratch, blocks), states);
    }

    private static void write(List<Accumulator> accumulators, int group, ByteArrayOutputStream bytes) {
        try (DataOutputStream out = new DataOutputStream(bytes)) {
            for (Accumulator accumulator : accumulators) {
                accumulator.write(group, out);
            }
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** The states of a block, group behind group. */
    DataInputStream states(int block) {
        long[] place = states.get(block);
        ByteBuffer bytes = keys.scratch().read(place[0], (int) place[1]);
        return new DataInputStream(new ByteArrayInputStream(bytes.array()));
    }
}
