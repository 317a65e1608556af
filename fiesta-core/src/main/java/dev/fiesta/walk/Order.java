package dev.fiesta.walk;

import dev.fiesta.value.Column;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.TextColumn;
import dev.fiesta.value.TruthColumn;
import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Puts rows in order, stably. Each key becomes a whole number from 0 in the wanted order, missing last; rows are then moved by
 * its digits, the last key first, and only over the digits that its values really use.
 */
public final class Order {
    private static final int DIGIT = 11;
    private static final int VALUES = 1 << DIGIT;
    private static final int WORTH_PARTS = 1 << 17;
    /** Rows are chosen before they are sorted when so small a part of them is wanted. */
    private static final int WORTH_CHOOSING = 4;

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
        return sort(rows, keys, Parts.ONE);
    }

    /** As {@link #sort(int[], List)}, parts of the rows moved side by side. */
    public static int[] sort(int[] rows, List<Key> keys, Parts parts) {
        int[] sorted = rows;
        for (int k = keys.size() - 1; k >= 0; k--) {
            sorted = by(sorted, images(keys.get(k)), parts).rows();
        }
        return sorted;
    }

    /** The first rows of the order that {@link #sort(int[], List)} gives; the others are never sorted. */
    public static int[] first(int[] rows, List<Key> keys, long count, Parts parts) {
        if (keys.isEmpty() || count > rows.length / WORTH_CHOOSING) {
            int[] sorted = sort(rows, keys, parts);
            return count >= sorted.length ? sorted : Arrays.copyOf(sorted, (int) count);
        }
        long[] images = images(keys.get(0));
        int[] near = upTo(rows, images, (int) count);
        return Arrays.copyOf(sort(near, keys, parts), (int) count);
    }

    /** The rows, as they stand, whose leading digit is one of those that the first so many rows have. */
    private static int[] upTo(int[] rows, long[] images, int count) {
        long used = 0;
        for (int row : rows) {
            used |= images[row];
        }
        int shift = Math.max(0, 64 - Long.numberOfLeadingZeros(used) - DIGIT);
        int[] counts = new int[VALUES];
        for (int row : rows) {
            counts[(int) (images[row] >>> shift)]++;
        }
        int last = 0;
        int size = counts[0];
        while (size < count) {
            size += counts[++last];
        }
        int[] near = new int[size];
        int next = 0;
        for (int row : rows) {
            if ((int) (images[row] >>> shift) <= last) {
                near[next++] = row;
            }
        }
        return near;
    }

    /** As {@link #sort(int[], List)}, but by partition first: one more key, which shares the digits of the first where it can. */
    static Laid sort(int[] rows, List<Key> keys, int[] partition, int partitions, Parts parts) {
        int[] sorted = rows;
        for (int k = keys.size() - 1; k >= 1; k--) {
            sorted = by(sorted, images(keys.get(k)), parts).rows();
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
            sorted = by(sorted, first, parts).rows();
            bits = 0;
            first = new long[partition.length];
        }
        for (int i = 0; i < first.length; i++) {
            first[i] |= (long) partition[i] << bits;
        }
        Moved moved = by(sorted, first, parts);
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
    private static Moved by(int[] rows, long[] images, Parts parts) {
        int size = rows.length;
        Parts several = size < WORTH_PARTS ? Parts.ONE : parts;
        long[] keys = new long[size];
        long[] used = new long[several.count()];
        boolean[] sorted = new boolean[several.count()];
        several.each(part -> {
            int from = several.start(part, size);
            int to = several.start(part + 1, size);
            sorted[part] = fill(keys, rows, images, from, to);
            used[part] = anyOf(keys, from, to);
        });
        long all = 0;
        boolean inOrder = true;
        for (int p = 0; p < used.length; p++) {
            int border = several.start(p, size);
            all |= used[p];
            inOrder &= sorted[p] && (border == 0 || Long.compareUnsigned(keys[border - 1], keys[border]) <= 0);
        }
        return inOrder ? new Moved(rows, keys) : moved(rows, keys, 64 - Long.numberOfLeadingZeros(all), several);
    }

    /** Fetches the images of rows; whether they stand in order already. */
    private static boolean fill(long[] keys, int[] rows, long[] images, int from, int to) {
        boolean sorted = true;
        long last = 0;
        for (int i = from; i < to; i++) {
            long key = images[rows[i]];
            keys[i] = key;
            sorted &= i == from || Long.compareUnsigned(last, key) <= 0;
            last = key;
        }
        return sorted;
    }

    private static long anyOf(long[] keys, int from, int to) {
        long used = 0;
        for (int i = from; i < to; i++) {
            used |= keys[i];
        }
        return used;
    }

    /** Moves rows digit by digit, the lowest first. Each part counts its digits, then moves its own rows behind those of the parts before. */
    private static Moved moved(int[] rows, long[] first, int bits, Parts parts) {
        int size = rows.length;
        int[] from = rows;
        int[] to = new int[size];
        long[] keys = first;
        long[] keysTo = new long[size];
        for (int digit = 0; digit < bits; digit += DIGIT) {
            int shift = digit;
            int[] rowsFrom = from;
            int[] rowsTo = to;
            long[] keysFrom = keys;
            long[] keysBehind = keysTo;
            int[][] next = new int[parts.count()][];
            parts.each(p -> next[p] = counts(keysFrom, shift, parts.start(p, size), parts.start(p + 1, size)));
            starts(next);
            parts.each(p -> move(
                    rowsFrom,
                    keysFrom,
                    rowsTo,
                    keysBehind,
                    next[p],
                    shift,
                    parts.start(p, size),
                    parts.start(p + 1, size)));
            to = from == rows ? new int[size] : from; // the rows given are the caller's
            from = rowsTo;
            keysTo = keysFrom;
            keys = keysBehind;
        }
        return new Moved(from, keys);
    }

    private static void move(
            int[] rows, long[] keys, int[] rowsTo, long[] keysTo, int[] next, int shift, int from, int to) {
        for (int i = from; i < to; i++) {
            long key = keys[i];
            int at = next[(int) (key >>> shift) & VALUES - 1]++;
            rowsTo[at] = rows[i];
            keysTo[at] = key;
        }
    }

    private static int[] counts(long[] keys, int shift, int from, int to) {
        int[] counts = new int[VALUES];
        for (int i = from; i < to; i++) {
            counts[(int) (keys[i] >>> shift) & VALUES - 1]++;
        }
        return counts;
    }

    /** Turns counts into places: by digit, then by part. */
    private static void starts(int[][] parts) {
        int sum = 0;
        for (int v = 0; v < VALUES; v++) {
            for (int[] part : parts) {
                int count = part[v];
                part[v] = sum;
                sum += count;
            }
        }
    }
}
