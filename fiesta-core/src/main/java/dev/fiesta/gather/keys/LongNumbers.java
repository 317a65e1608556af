package dev.fiesta.gather.keys;

import dev.fiesta.gather.values.Grow;

/** Longs numbered from 0 in the order in which they are met: an open-addressing table. */
final class LongNumbers {
    private long[] keys = new long[16];
    private int[] slots = new int[64];
    private int size;
    private int unnamed = -1;

    /** How many numbers were given. */
    int size() {
        return size;
    }

    /** The long that has a number; 0 for that of {@link #another}. */
    long key(int number) {
        return keys[number];
    }

    /** The number of a long, a new one when it was not met yet. */
    int of(long key) {
        int mask = slots.length - 1;
        int slot = (int) (mix(key) >>> 32) & mask;
        while (true) {
            int number = slots[slot] - 1;
            if (number < 0) {
                return add(key, slot);
            }
            if (keys[number] == key) {
                return number;
            }
            slot = (slot + 1) & mask;
        }
    }

    /** The number of a long, or -1. */
    int find(long key) {
        int mask = slots.length - 1;
        int slot = (int) (mix(key) >>> 32) & mask;
        while (slots[slot] != 0) {
            int number = slots[slot] - 1;
            if (keys[number] == key) {
                return number;
            }
            slot = (slot + 1) & mask;
        }
        return -1;
    }

    /** The number that no long has, or -1 while it is not given. */
    int findAnother() {
        return unnamed;
    }

    /** A number that no long has; given once. */
    int another() {
        if (unnamed < 0) {
            keys = Grow.to(keys, size + 1);
            unnamed = size++;
        }
        return unnamed;
    }

    boolean isAnother(int number) {
        return number == unnamed;
    }

    /** About the memory that it takes, in bytes. */
    long memory() {
        return 8L * keys.length + 4L * slots.length;
    }

    private static long mix(long key) {
        long h = key * 0x9E3779B97F4A7C15L;
        return h ^ h >>> 29;
    }

    private int add(long key, int slot) {
        slots[slot] = size + 1;
        keys = Grow.to(keys, size + 1);
        keys[size++] = key;
        if (size * 2 > slots.length) {
            rehash();
        }
        return size - 1;
    }

    private void rehash() {
        slots = new int[slots.length * 2];
        int mask = slots.length - 1;
        for (int number = 0; number < size; number++) {
            if (number == unnamed) {
                continue;
            }
            int slot = (int) (mix(keys[number]) >>> 32) & mask;
            while (slots[slot] != 0) {
                slot = (slot + 1) & mask;
            }
            slots[slot] = number + 1;
        }
    }
}
