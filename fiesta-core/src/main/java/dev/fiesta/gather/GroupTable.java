package dev.fiesta.gather;

import dev.fiesta.value.Column;
import java.util.Arrays;

/**
 * Gives each combination of keys a number, from 0, in the order in which they are met. Every key is first numbered on its own,
 * then pairs of numbers are numbered, and so on: a pair is a single long, whatever the types and however many the keys.
 */
public final class GroupTable {
    private static final int MOST_DIRECT = 1 << 20;
    private static final int MOST_NEAR = 1 << 12;

    private final Image[] images;
    private final Numbers[] singles;
    private final Numbers[] pairs;
    private int lone;

    /** @param images one for each key; several tables that are to be compared may not share them */
    public GroupTable(Image... images) {
        this.images = images;
        this.singles = new Numbers[images.length];
        this.pairs = new Numbers[Math.max(0, images.length - 1)];
        Arrays.setAll(singles, i -> new Numbers());
        Arrays.setAll(pairs, i -> new Numbers());
    }

    /** The number of combinations met. */
    public int size() {
        return images.length == 0 ? lone : images.length == 1 ? singles[0].size : pairs[pairs.length - 1].size;
    }

    /**
     * The numbers of some rows; combinations not met yet get new ones.
     *
     * @param into where the numbers go; has room for all rows
     */
    public void number(Column[] keys, int rows, int[] into) {
        if (keys.length == 0) {
            Arrays.fill(into, 0, rows, 0);
            lone = rows > 0 ? 1 : lone;
            return;
        }
        single(0, keys[0], rows, into);
        int[] next = keys.length > 1 ? new int[rows] : into;
        for (int k = 1; k < keys.length; k++) {
            single(k, keys[k], rows, next);
            pairs[k - 1].pair(into, next, singles[k].size, rows);
        }
    }

    /** Makes sure that there is one group, for figures over no records. */
    public void oneAtLeast() {
        lone = Math.max(lone, images.length == 0 ? 1 : 0);
    }

    /** About the memory that it takes, in bytes. */
    public long memory() {
        long bytes = 0;
        for (int k = 0; k < images.length; k++) {
            bytes += images[k].memory() + singles[k].memory() + (k == 0 ? 0 : pairs[k - 1].memory());
        }
        return bytes;
    }

    private void single(int k, Column key, int rows, int[] into) {
        long[] values = images[k].of(key);
        singles[k].number(values, key, rows, into);
    }

    /** The keys of all combinations, in the order of their numbers. */
    public Column[] keys() {
        int size = size();
        int[] numbers = new int[size];
        Arrays.setAll(numbers, i -> i);
        Column[] keys = new Column[images.length];
        for (int k = images.length - 1; k >= 0; k--) {
            int[] own = numbers;
            if (k > 0) {
                own = new int[size];
                for (int i = 0; i < size; i++) {
                    long pair = pairs[k - 1].keys[numbers[i]];
                    own[i] = (int) pair;
                    numbers[i] = (int) (pair >>> 32);
                }
            }
            keys[k] = singles[k].column(images[k], own);
        }
        return keys;
    }

    /** Longs numbered in the order in which they are met; missing has a number of its own. */
    private static final class Numbers {
        private long[] keys = new long[16];
        private int[] slots = new int[64];
        private int[] direct = new int[0];
        private int[] near = new int[0];
        private long nearest;
        private int size;
        private int missing = -1;

        void number(long[] values, Column column, int rows, int[] into) {
            if (column.valid() == null) {
                complete(values, rows, into);
                return;
            }
            for (int i = 0; i < rows; i++) {
                into[i] = column.isMissing(i) ? ofMissing() : find(values[i]);
            }
        }

        /** Values near each other, such as codes, months or days, are looked up directly. */
        private void complete(long[] values, int rows, int[] into) {
            long least = Long.MAX_VALUE;
            long greatest = Long.MIN_VALUE;
            for (int i = 0; i < rows; i++) {
                least = Math.min(least, values[i]);
                greatest = Math.max(greatest, values[i]);
            }
            if (rows == 0 || greatest - least < 0 || greatest - least >= MOST_NEAR) {
                for (int i = 0; i < rows; i++) {
                    into[i] = find(values[i]);
                }
                return;
            }
            lookAt(least, greatest);
            int[] known = near;
            long first = nearest;
            for (int i = 0; i < rows; i++) {
                int at = (int) (values[i] - first);
                int number = known[at] - 1;
                if (number < 0) {
                    number = find(values[i]);
                    known[at] = number + 1;
                }
                into[i] = number;
            }
        }

        /** Moves the window of direct look-ups where it does not hold these values yet. */
        private void lookAt(long least, long greatest) {
            if (least < nearest || greatest - nearest < 0 || greatest - nearest >= near.length) {
                near = new int[Math.max(64, (int) Long.highestOneBit((greatest - least) * 2 + 1))];
                nearest = least;
            }
        }

        /** Numbers pairs; small spaces of pairs are looked up directly. */
        void pair(int[] first, int[] second, int seconds, int rows) {
            int shift = 32 - Integer.numberOfLeadingZeros(Math.max(1, seconds - 1));
            int most = 0;
            for (int i = 0; i < rows; i++) {
                most = Math.max(most, first[i]);
            }
            long space = (most + 1L) << shift;
            if (space > MOST_DIRECT) {
                direct = new int[0];
                for (int i = 0; i < rows; i++) {
                    first[i] = find((long) first[i] << 32 | second[i]);
                }
                return;
            }
            if (shift != directShift || direct.length < space) {
                directShift = shift;
                direct = new int[(int) Long.highestOneBit(Math.max(1, space * 2 - 1))];
            }
            int[] known = direct;
            for (int i = 0; i < rows; i++) {
                int at = first[i] << shift | second[i];
                int number = known[at] - 1;
                if (number < 0) {
                    number = find((long) first[i] << 32 | second[i]);
                    known[at] = number + 1;
                }
                first[i] = number;
            }
        }

        private int directShift = -1;

        private int find(long key) {
            int mask = slots.length - 1;
            int slot = (int) (mix(key) >>> 32) & mask;
            while (true) {
                int number = slots[slot] - 1;
                if (number < 0) {
                    return add(key, slot);
                }
                if (keys[number] == key && number != missing) {
                    return number;
                }
                slot = (slot + 1) & mask;
            }
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
                if (number == missing) {
                    continue;
                }
                int slot = (int) (mix(keys[number]) >>> 32) & mask;
                while (slots[slot] != 0) {
                    slot = (slot + 1) & mask;
                }
                slots[slot] = number + 1;
            }
        }

        long memory() {
            return 8L * keys.length + 4L * (slots.length + direct.length + near.length);
        }

        private int ofMissing() {
            if (missing < 0) {
                missing = size;
                keys = Grow.to(keys, size + 1);
                keys[size++] = 0;
            }
            return missing;
        }

        Column column(Image image, int[] numbers) {
            long[] values = new long[numbers.length];
            long[] valid = null;
            for (int i = 0; i < numbers.length; i++) {
                values[i] = keys[numbers[i]];
                if (numbers[i] == missing) {
                    valid = dev.fiesta.value.Validity.without(valid, numbers.length, i);
                }
            }
            return image.column(values, numbers.length, valid);
        }
    }
}
