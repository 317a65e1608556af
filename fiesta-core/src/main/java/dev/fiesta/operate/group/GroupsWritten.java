package dev.fiesta.operate.group;

import dev.fiesta.gather.Accumulator;
import dev.fiesta.store.Rows;
import dev.fiesta.value.Column;
import dev.fiesta.value.Packing;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.DataInput;
import java.io.DataInputStream;
import java.io.DataOutput;
import java.io.DataOutputStream;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * Groups with what they have gathered, block behind block, for somebody else to take in.
 *
 * @param keys the keys of so many groups
 */
record GroupsWritten(Column[] keys, List<Accumulator> accumulators, int groups) {
    private static final int MOST_GROUPS = 1 << 12;
    private static final int MOST_BYTES = 1 << 20;

    /**
     * Some groups.
     *
     * @param states theirs, group behind group
     */
    record Block(int groups, Column[] keys, DataInput states) {}

    void to(DataOutput out) throws IOException {
        accumulators.forEach(a -> a.grow(groups));
        ByteArrayOutputStream states = new ByteArrayOutputStream();
        DataOutputStream stated = new DataOutputStream(states);
        Rows all = new Rows(groups, keys);
        for (int start = 0, end; start < groups; start = end) {
            end = start;
            while (end < groups && end - start < MOST_GROUPS && states.size() < MOST_BYTES) {
                GroupRun.write(accumulators, end++, stated);
            }
            write(all.take(IntStream.range(start, end).toArray()), ByteBuffer.wrap(states.toByteArray()), out);
            states.reset();
        }
    }

    static void write(GroupRun run, DataOutput out) throws IOException {
        BitSet keys = new BitSet();
        keys.set(0, run.slots().size());
        for (int b = 0; b < run.keys().blocks(); b++) {
            write(run.keys().read(b, keys), run.stateBytes(b), out);
        }
    }

    private static void write(Rows keys, ByteBuffer states, DataOutput out) throws IOException {
        out.writeInt(keys.size());
        Packing.slots(out, keys.slots());
        out.writeInt(states.remaining());
        out.write(states.array(), states.arrayOffset() + states.position(), states.remaining());
    }

    static void end(DataOutput out) throws IOException {
        out.writeInt(0);
    }

    /** The next block; null behind the last. */
    static @Nullable Block next(DataInput in) throws IOException {
        int groups = in.readInt();
        if (groups == 0) {
            return null;
        }
        Column[] keys = Arrays.stream(Packing.slots(in)).toArray(Column[]::new);
        byte[] states = new byte[in.readInt()];
        in.readFully(states);
        return new Block(groups, keys, new DataInputStream(new ByteArrayInputStream(states)));
    }
}
