package dev.fiesta.gather.values;

/**
 * Different pairs of a group and a long: an open-addressing table that holds the pairs themselves, so that a look is one place in
 * memory. While all longs are ints that are not negative, as codes of texts are, a pair is one long.
 */
public final class PairSet {
    private static final int LEAST = 64;
    private static final long LOW = 0xFFFF_FFFFL;

    /** Takes a pair. */
    @FunctionalInterface
    public interface Taker {
        void take(int group, long value);
    }

    /** By slot the group, counted from 1, above the value; or the value alone, where {@code groups} says whose it is. */
    private long[] pairs = new long[LEAST];

    /** By slot the group, counted from 1; none while pairs are narrow. */
    private int[] groups = new int[0];

    private int size;

    public int size() {
        return size;
    }

    /** About the memory that it takes, in bytes. */
    public long memory() {
        return 8L * pairs.length + 4L * groups.length;
    }

    public void clear() {
        pairs = new long[LEAST];
        groups = new int[0];
        size = 0;
    }

    public void add(int group, long value) {
        if (groups.length == 0 && (value < 0 || value > Integer.MAX_VALUE)) {
            widen();
        }
        boolean added = groups.length == 0 ? addNarrow(group + 1L << 32 | value) : addWide(group, value);
        if (added && ++size * 2L > pairs.length) {
            resize(pairs.length * 2);
        }
    }

    private boolean addNarrow(long pair) {
        long[] table = pairs;
        int mask = table.length - 1;
        int slot = hash(pair) & mask;
        while (table[slot] != 0) {
            if (table[slot] == pair) {
                return false;
            }
            slot = slot + 1 & mask;
        }
        table[slot] = pair;
        return true;
    }

    private boolean addWide(int group, long value) {
        int mask = pairs.length - 1;
        int slot = hash(value * 31 + group) & mask;
        while (groups[slot] != 0) {
            if (pairs[slot] == value && groups[slot] == group + 1) {
                return false;
            }
            slot = slot + 1 & mask;
        }
        pairs[slot] = value;
        groups[slot] = group + 1;
        return true;
    }

    private static int hash(long key) {
        long h = key * 0x9E3779B97F4A7C15L;
        return (int) (h >>> 32);
    }

    /** Takes every pair, in no order that means anything. */
    public void each(Taker taker) {
        each(pairs, groups, taker);
    }

    private static void each(long[] pairs, int[] groups, Taker taker) {
        for (int slot = 0; slot < pairs.length; slot++) {
            if (groups.length > 0 && groups[slot] != 0) {
                taker.take(groups[slot] - 1, pairs[slot]);
            } else if (groups.length == 0 && pairs[slot] != 0) {
                taker.take((int) (pairs[slot] >>> 32) - 1, pairs[slot] & LOW);
            }
        }
    }

    private void widen() {
        long[] before = pairs;
        pairs = new long[before.length];
        groups = new int[before.length];
        each(before, new int[0], this::addWide);
    }

    private void resize(int length) {
        long[] before = pairs;
        int[] own = groups;
        pairs = new long[length];
        if (own.length == 0) {
            for (long pair : before) {
                if (pair != 0) {
                    addNarrow(pair);
                }
            }
            return;
        }
        groups = new int[length];
        each(before, own, this::addWide);
    }
}
