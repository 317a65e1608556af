package dev.fiesta.survey;

import dev.fiesta.value.Hashes;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.Arrays;

/**
 * How often different longs come. When there are too many to hold, those are kept whose hashes end in so many zero bits: which
 * ones does not depend on the order in which they come. (Known technique: P. Gibbons, Distinct sampling, 2001.)
 */
final class LongCounts {
    private static final int MOST = 1 << 17;

    private long[] keys = new long[64];
    private long[] times = new long[64];
    private int size;
    private int level;

    /** Whether all different values are kept. */
    boolean isExact() {
        return level == 0;
    }

    /** The number of different values, an estimate unless exact. */
    long distinct() {
        return (long) size << level;
    }

    /** The number of values kept. */
    int size() {
        return size;
    }

    void add(long key, long count) {
        long hash = Hashes.mixed(key);
        if ((hash & ((1L << level) - 1)) != 0) {
            return;
        }
        int mask = keys.length - 1;
        int slot = (int) (hash >>> 40) & mask;
        while (times[slot] != 0) {
            if (keys[slot] == key) {
                times[slot] += count;
                return;
            }
            slot = (slot + 1) & mask;
        }
        keys[slot] = key;
        times[slot] = count;
        if (++size * 2 > keys.length) {
            level += size > MOST ? 1 : 0;
            rebuild(size > MOST ? keys.length : keys.length * 2);
        }
    }

    private void rebuild(int capacity) {
        long[] oldKeys = keys;
        long[] oldTimes = times;
        keys = new long[capacity];
        times = new long[capacity];
        size = 0;
        for (int i = 0; i < oldKeys.length; i++) {
            if (oldTimes[i] != 0) {
                add(oldKeys[i], oldTimes[i]);
            }
        }
    }

    void merge(LongCounts other) {
        while (level < other.level) {
            level++;
            rebuild(keys.length);
        }
        for (int i = 0; i < other.keys.length; i++) {
            if (other.times[i] != 0) {
                add(other.keys[i], other.times[i]);
            }
        }
    }

    void write(DataOutput out) throws IOException {
        out.writeInt(level);
        out.writeInt(size);
        for (int i = 0; i < keys.length; i++) {
            if (times[i] != 0) {
                out.writeLong(keys[i]);
                out.writeLong(times[i]);
            }
        }
    }

    /** Begins with what another one wrote. */
    void read(DataInput in) throws IOException {
        level = in.readInt();
        for (int left = in.readInt(); left > 0; left--) {
            add(in.readLong(), in.readLong());
        }
    }

    /** The values kept, ascending. */
    long[] sorted() {
        long[] all = new long[size];
        int at = 0;
        for (int i = 0; i < keys.length; i++) {
            if (times[i] != 0) {
                all[at++] = keys[i];
            }
        }
        Arrays.sort(all);
        return all;
    }

    long times(long key) {
        int mask = keys.length - 1;
        int slot = (int) (Hashes.mixed(key) >>> 40) & mask;
        while (times[slot] != 0 && keys[slot] != key) {
            slot = (slot + 1) & mask;
        }
        return times[slot];
    }
}
