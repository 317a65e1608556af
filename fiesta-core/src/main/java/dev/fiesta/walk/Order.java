package dev.fiesta.walk;

import dev.fiesta.value.Column;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.TextColumn;
import dev.fiesta.value.TruthColumn;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Puts rows in order, stably. Each key becomes a whole number from 0 in the wanted order, missing last; rows are then moved by
 * its digits, the last key first, and only over the digits that its values really use.
 */
public final class Order {
    private static final int DIGIT = 11;
    private static final int VALUES = 1 << DIGIT;

    /**
     * One key of an order.
     *
     * @param column the values
     */
    public record Key(Column column, boolean descending) {}

    /**
     * Rows in order.
     *
     * @param keys by position what the rows were sorted by last
     */
    private record Moved(int[] rows, long[] keys) {}

    /**
     * Rows by partition, in order.
     *
     * @param keys by position partition and keys in one long, equal for rows that stand level; null where one long does not
     *     hold them
     */
    record Laid(int[] rows, long @Nullable [] keys) {}

    private Order() {}

    /** The row numbers 0 to {@code size - 1}. */
    public static int[] asTheyStand(int size) {
        int[] rows = new int[size];
        for (int i = 0; i < size; i++) {
            rows[i] = i;
        }
        return rows;
    }

    /** Sorts row numbers by the keys of their rows; equal rows stay as they are. */
    public static int[] sort(int[] rows, List<Key> keys) {
        int[] sorted = rows;
        for (int k = keys.size() - 1; k >= 0; k--) {
            sorted = by(sorted, images(keys.get(k))).rows();
        }
        return sorted;
    }

    /** As {@link #sort(int[], List)}, but by partition first: one more key, which shares the digits of the first where it can. */
    static Laid sort(int[] rows, List<Key> keys, int[] partition, int partitions) {
        int[] sorted = rows;
        for (int k = keys.size() - 1; k >= 1; k--) {
            sorted = by(sorted, images(keys.get(k))).rows();
        }
        long[] first = keys.isEmpty() ? new long[partition.length] : images(keys.get(0));
        long used = 0;
        for (long image : first) {
            used |= image;
        }
        int bits = 64 - Long.numberOfLeadingZeros(used);
        int more = 32 - Integer.numberOfLeadingZeros(Math.max(0, partitions - 1));
        boolean together = bits + more < Long.SIZE;
        if (!together) {
            sorted = by(sorted, first).rows();
            bits = 0;
            first = new long[partition.length];
        }
        for (int i = 0; i < first.length; i++) {
            first[i] |= (long) partition[i] << bits;
        }
        Moved moved = by(sorted, first);
        return new Laid(moved.rows(), together && keys.size() < 2 ? moved.keys() : null);
    }

    /** For each row a long; longs compare, read without a sign, as the rows stand in the order; missing is the greatest. */
    public static long[] images(Key key) {
        Column column = key.column().flat();
        int size = column.size();
        long[] images = new long[size];
        if (column instanceof LongColumn longs) {
            for (int i = 0; i < size; i++) {
                images[i] = longs.values()[i] ^ Long.MIN_VALUE;
            }
        } else if (column instanceof DoubleColumn numbers) {
            for (int i = 0; i < size; i++) {
                images[i] = dev.fiesta.gather.Image.ordered(numbers.values()[i]) ^ Long.MIN_VALUE;
            }
        } else if (column instanceof TextColumn texts) {
            int[] ranks = texts.dictionary().ranks();
            for (int i = 0; i < size; i++) {
                int code = texts.codes()[i];
                images[i] = code < 0 ? 0 : ranks[code];
            }
        } else if (column instanceof TruthColumn truths) {
            for (int i = 0; i < size; i++) {
                images[i] = truths.isTrue(i) ? 1 : 0;
            }
        }
        compress(images, column, key.descending());
        return images;
    }

    /** Counts from 0 in the wanted direction, missing behind all. */
    private static void compress(long[] images, Column column, boolean descending) {
        long least = -1L;
        long greatest = 0;
        for (int i = 0; i < images.length; i++) {
            if (!column.isMissing(i)) {
                least = Long.compareUnsigned(images[i], least) < 0 ? images[i] : least;
                greatest = Long.compareUnsigned(images[i], greatest) > 0 ? images[i] : greatest;
            }
        }
        long missing = Long.compareUnsigned(least, greatest) > 0 ? 0 : greatest - least + 1;
        if (missing == 0 && column.valid() != null && Long.compareUnsigned(least, greatest) <= 0) {
            missing = -1L; // every long is in use: the greatest is shared, which 18-digit values cannot bring about
        }
        for (int i = 0; i < images.length; i++) {
            images[i] = column.isMissing(i) ? missing : descending ? greatest - images[i] : images[i] - least;
        }
    }

    /** Sorts row numbers by their images. */
    private static Moved by(int[] rows, long[] images) {
        int size = rows.length;
        long used = 0;
        boolean sorted = true;
        long[] keys = new long[size];
        for (int i = 0; i < size; i++) {
            keys[i] = images[rows[i]];
            used |= keys[i];
            sorted &= i == 0 || Long.compareUnsigned(keys[i - 1], keys[i]) <= 0;
        }
        int[] from = rows;
        if (sorted) {
            return new Moved(from, keys);
        }
        int bits = 64 - Long.numberOfLeadingZeros(used);
        int[] to = new int[size];
        long[] keysTo = new long[size];
        int[] spare = null;
        for (int shift = 0; shift < bits; shift += DIGIT) {
            int[] next = starts(keys, shift);
            for (int i = 0; i < size; i++) {
                int at = next[(int) (keys[i] >>> shift) & VALUES - 1]++;
                to[at] = from[i];
                keysTo[at] = keys[i];
            }
            int[] done = to;
            to = spare == null ? new int[size] : from;
            spare = done;
            from = done;
            long[] swap = keys;
            keys = keysTo;
            keysTo = swap;
        }
        return new Moved(from, keys);
    }

    private static int[] starts(long[] keys, int shift) {
        int[] counts = new int[VALUES];
        for (long key : keys) {
            counts[(int) (key >>> shift) & VALUES - 1]++;
        }
        int sum = 0;
        for (int v = 0; v < VALUES; v++) {
            int count = counts[v];
            counts[v] = sum;
            sum += count;
        }
        return counts;
    }
}
