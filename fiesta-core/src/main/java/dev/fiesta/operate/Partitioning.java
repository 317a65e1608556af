package dev.fiesta.operate;

import dev.fiesta.compute.Types;
import dev.fiesta.gather.values.Image;
import dev.fiesta.store.Memory;
import dev.fiesta.store.Rows;
import dev.fiesta.store.RowsBuilder;
import dev.fiesta.store.Stored;
import dev.fiesta.value.Column;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.TextColumn;
import dev.fiesta.value.TruthColumn;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;

/** Rows split into parts, in each of which they stand in the order in which they came. */
public final class Partitioning {
    /** The part of memory that rows may take which wait to be put to those of their part. */
    private static final int WAITING_PART = 4;

    private final Memory memory;
    private final List<RowsBuilder> parts = new ArrayList<>();
    private final List<List<Rows>> waiting = new ArrayList<>();
    private boolean isFirst = true;
    private long bytes;

    /** @param wanted the slots that are kept */
    public Partitioning(int parts, BitSet wanted, Memory memory) {
        this.memory = memory;
        for (int p = 0; p < parts; p++) {
            this.parts.add(new RowsBuilder(memory, wanted));
            waiting.add(new ArrayList<>());
        }
    }

    /** Adds rows, for each of which its part is told; of the first each part gets a block, be it without rows, so that it has the types of its columns. */
    public void add(Rows some, int[] part) {
        List<int[]> picked = picked(part, parts.size());
        for (int p = 0; p < parts.size(); p++) {
            if (picked.get(p).length > 0 || isFirst) {
                waiting.get(p).add(some.take(picked.get(p)));
            }
        }
        isFirst = false;
        bytes += some.bytes();
        if (bytes > memory.limit() / WAITING_PART) {
            put();
        }
    }

    private void put() {
        for (int p = 0; p < parts.size(); p++) {
            if (!waiting.get(p).isEmpty()) {
                parts.get(p).add(Rows.join(waiting.get(p)).batch());
                waiting.get(p).clear();
            }
        }
        bytes = 0;
    }

    /** The rows of each part. */
    public List<Stored> finish() {
        put();
        return parts.stream().map(RowsBuilder::finish).toList();
    }

    /** The parts of rows by a hash of keys, so that those of equal keys come together. */
    public static int[] byHash(Column[] keys, int size, int parts) {
        int[] part = new int[size];
        for (Column key : keys) {
            mix(key.flat(), part);
        }
        for (int i = 0; i < size; i++) {
            part[i] = Integer.remainderUnsigned(part[i], parts);
        }
        return part;
    }

    /** As {@link #byHash}; numbers that are equal come together, whatever types they have. */
    public static int[] alike(Column[] keys, int size, int parts) {
        Column[] plain = new Column[keys.length];
        Arrays.setAll(plain, k -> keys[k].type().isNumeric() ? Types.toNumber(keys[k].flat()) : keys[k]);
        return byHash(plain, size, parts);
    }

    private static List<int[]> picked(int[] part, int parts) {
        int size = part.length;
        int[] counts = new int[parts];
        for (int own : part) {
            counts[own]++;
        }
        List<int[]> picked = new ArrayList<>();
        for (int count : counts) {
            picked.add(new int[count]);
        }
        int[] next = new int[parts];
        for (int i = 0; i < size; i++) {
            picked.get(part[i])[next[part[i]]++] = i;
        }
        return picked;
    }

    /** Mixes a key into hashes; equal values of one type have equal hashes, whatever column they stand in. */
    private static void mix(Column key, int[] hashes) {
        for (int i = 0; i < hashes.length; i++) {
            long value = key.isMissing(i) ? 0 : hash(key, i);
            long mixed = (hashes[i] * 31L + value) * 0x9E3779B97F4A7C15L;
            hashes[i] = (int) (mixed >>> 32);
        }
    }

    private static long hash(Column key, int row) {
        if (key instanceof LongColumn longs) {
            return longs.values()[row];
        }
        if (key instanceof DoubleColumn numbers) {
            return Image.ordered(numbers.values()[row]);
        }
        if (key instanceof TextColumn texts) {
            return texts.dictionary().hash(texts.codes()[row]);
        }
        return ((TruthColumn) key).isTrue(row) ? 1 : 0;
    }
}
