package dev.fiesta.value;

import java.util.Arrays;

/** Sets of rows as bits in longs: row i is bit i % 64 of word i / 64. */
public final class Bits {
    private Bits() {}

    /** Room for so many bits, none set. */
    public static long[] none(int size) {
        return new long[(size + 63) >>> 6];
    }

    /** The first {@code size} bits set, none after them. */
    public static long[] all(int size) {
        long[] bits = none(size);
        Arrays.fill(bits, -1L);
        trim(bits, size);
        return bits;
    }

    public static boolean get(long[] bits, int i) {
        return (bits[i >>> 6] >>> i & 1) != 0;
    }

    public static void set(long[] bits, int i) {
        bits[i >>> 6] |= 1L << i;
    }

    public static void clear(long[] bits, int i) {
        bits[i >>> 6] &= ~(1L << i);
    }

    /** The first that is set from one on and before an end, otherwise the end. */
    public static int next(long[] bits, int from, int end) {
        int i = from;
        while (i < end) {
            long rest = bits[i >>> 6] >>> i;
            if (rest != 0) {
                return Math.min(end, i + Long.numberOfTrailingZeros(rest));
            }
            i = (i | 63) + 1;
        }
        return end;
    }

    /** The last that is set from one on and up to another, otherwise less than the first. */
    public static int last(long[] bits, int from, int to) {
        int i = to;
        while (i >= from) {
            long rest = bits[i >>> 6] << ~i;
            if (rest != 0) {
                return i - Long.numberOfLeadingZeros(rest);
            }
            i = (i & ~63) - 1;
        }
        return i;
    }

    public static int count(long[] bits) {
        int count = 0;
        for (long word : bits) {
            count += Long.bitCount(word);
        }
        return count;
    }

    /** Clears what lies behind the first {@code size} bits. */
    static void trim(long[] bits, int size) {
        if ((size & 63) != 0) {
            bits[bits.length - 1] &= (1L << size) - 1;
        }
    }
}
