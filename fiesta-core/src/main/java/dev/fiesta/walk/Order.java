package dev.fiesta.walk;

import dev.fiesta.value.Bits;
import dev.fiesta.value.Column;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.TextColumn;
import dev.fiesta.value.TruthColumn;
import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Puts rows in order, stably. Each key becomes a whole number from 0 in the wanted order, missing last. */
public final class Order {
    private static final int DIGIT = 11;
    private static final int VALUES = 1 << DIGIT;
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
     * @param keys by position what the rows were sorted by, equal for rows that stand level; null where one long does not hold
     *     it beside the number of a row
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
        if (keys.isEmpty() || rows.length < 2) {
            return rows;
        }
        Sorting sorting = new Sorting(rows, keys.get(0).column().size(), parts);
        for (int k = keys.size() - 1; k >= 0; k--) {
            sorting.by(images(keys.get(k), parts));
        }
        return sorting.finish().rows();
    }

    /** The first rows of the order that {@link #sort(int[], List)} gives; the others are never sorted. */
    public static int[] first(int[] rows, List<Key> keys, long count, Parts parts) {
        if (keys.isEmpty() || count > rows.length / WORTH_CHOOSING) {
            int[] sorted = sort(rows, keys, parts);
            return count >= sorted.length ? sorted : Arrays.copyOf(sorted, (int) count);
        }
        long[] images = images(keys.get(0), parts);
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

    /** As {@link #sort(int[], List)}, but by partition first. */
    static Laid sort(int[] rows, List<Key> keys, int[] partition, Parts parts) {
        Sorting sorting = new Sorting(rows, partition.length, parts);
        for (int k = keys.size() - 1; k >= 0; k--) {
            sorting.by(images(keys.get(k), parts));
        }
        sorting.by(partition);
        return sorting.finish();
    }

    /** For each row a long; longs compare, read without a sign, as the rows stand in the order; missing is the greatest. */
    public static long[] images(Key key) {
        return images(key, Parts.ONE);
    }

    private static long[] images(Key key, Parts parts) {
        Column column = key.column().flat();
        int size = column.size();
        long[] images = new long[size];
        long[] from = column instanceof LongColumn longs ? longs.values() : images;
        int[] ranks = column instanceof TextColumn texts ? texts.dictionary().ranks() : new int[0];
        long[] least = new long[parts.count()];
        long[] greatest = new long[parts.count()];
        parts.each(p -> {
            int start = parts.start(p, size);
            int end = parts.start(p + 1, size);
            signed(column, ranks, images, start, end);
            least[p] = Long.MAX_VALUE;
            greatest[p] = Long.MIN_VALUE;
            long[] valid = column.valid();
            for (int i = start; i < end; i++) {
                if (valid == null || Bits.get(valid, i)) {
                    least[p] = Math.min(least[p], from[i]);
                    greatest[p] = Math.max(greatest[p], from[i]);
                }
            }
        });
        long first = Arrays.stream(least).min().orElse(0);
        long last = Arrays.stream(greatest).max().orElse(0);
        parts.each(p -> compress(
                from, images, column, first, last, key.descending(), parts.start(p, size), parts.start(p + 1, size)));
        return images;
    }

    /** Longs in the order of the values of a column that are none themselves. */
    private static void signed(Column column, int[] ranks, long[] images, int from, int to) {
        if (column instanceof DoubleColumn numbers) {
            double[] values = numbers.values();
            for (int i = from; i < to; i++) {
                images[i] = dev.fiesta.gather.values.Image.ordered(values[i]);
            }
        } else if (column instanceof TextColumn texts) {
            int[] codes = texts.codes();
            for (int i = from; i < to; i++) {
                images[i] = codes[i] < 0 ? 0 : ranks[codes[i]];
            }
        } else if (column instanceof TruthColumn truths) {
            for (int i = from; i < to; i++) {
                images[i] = truths.isTrue(i) ? 1 : 0;
            }
        }
    }

    /** Counts from 0 in the wanted direction, missing behind all. */
    private static void compress(
            long[] values,
            long[] images,
            Column column,
            long least,
            long greatest,
            boolean descending,
            int from,
            int to) {
        long[] valid = column.valid();
        // Where every long is in use, the greatest is shared, which 18-digit values cannot bring about.
        long missing = least > greatest ? 0 : greatest - least == -1 ? -1 : greatest - least + 1;
        for (int i = from; i < to; i++) {
            boolean there = valid == null || Bits.get(valid, i);
            images[i] = !there ? missing : descending ? greatest - values[i] : values[i] - least;
        }
    }
}
