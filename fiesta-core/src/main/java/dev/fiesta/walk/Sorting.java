package dev.fiesta.walk;

import org.jspecify.annotations.Nullable;

/**
 * A stable sort of row numbers by whole numbers from 0, the least significant key first. As many keys as have room beside the
 * number of a row share one long with it; these longs are moved digit by digit, and only over the digits in use.
 */
final class Sorting {
    /** More digits at a time, and the places written to no longer lie close at hand. */
    private static final int MOST_BITS = 11;

    private final Parts parts;
    private final int rowBits;
    private int[] rows;
    private long @Nullable [] keys;
    private int bits;
    private boolean once = true;

    /**
     * @param rows row numbers, which are not changed
     * @param count all row numbers are less than this
     * @param parts in which rows are moved side by side
     */
    Sorting(int[] rows, int count, Parts parts) {
        this.rows = rows;
        this.rowBits = width(Math.max(0, count - 1));
        this.parts = parts;
    }

    /** One more key, for each row number; the array is this sort's own from now on. */
    void by(long[] images) {
        long used = used(images);
        int wide = width(used);
        int room = Long.SIZE - rowBits;
        long[] below = keys;
        if (wide > room) {
            sort();
            keys = images.clone();
            bits = room;
            long low = -1L >>> rowBits;
            for (int i = 0; i < images.length; i++) {
                keys[i] &= low;
                images[i] >>>= room;
            }
            sort();
            keys = images;
            bits = wide - room;
        } else if (below != null && bits + wide <= room) {
            int shift = bits;
            each(images.length, (from, to) -> join(below, images, shift, from, to));
            bits += wide;
        } else {
            sort();
            keys = images;
            bits = wide;
        }
    }

    /** As {@link #by(long[])}. */
    void by(int[] images) {
        int most = 0;
        for (int image : images) {
            most |= image;
        }
        long[] below = keys;
        if (below != null && bits + width(most) <= Long.SIZE - rowBits) {
            int shift = bits;
            each(images.length, (from, to) -> {
                for (int i = from; i < to; i++) {
                    below[i] |= (long) images[i] << shift;
                }
            });
            bits += width(most);
            return;
        }
        long[] longs = new long[images.length];
        for (int i = 0; i < longs.length; i++) {
            longs[i] = images[i];
        }
        by(longs);
    }

    /** The rows in order. */
    Order.Laid finish() {
        boolean whole = once;
        long[] sorted = sort();
        return new Order.Laid(rows, whole ? sorted : null);
    }

    private static void join(long[] keys, long[] more, int shift, int from, int to) {
        for (int i = from; i < to; i++) {
            keys[i] |= more[i] << shift;
        }
    }

    private static int width(long value) {
        return Long.SIZE - Long.numberOfLeadingZeros(value);
    }

    /** A loop over some of the rows. */
    @FunctionalInterface
    private interface Loop {
        void run(int from, int to);
    }

    private void each(int size, Loop loop) {
        parts.each(p -> loop.run(parts.start(p, size), parts.start(p + 1, size)));
    }

    private long used(long[] images) {
        long[] used = new long[parts.count()];
        parts.each(p -> {
            int end = parts.start(p + 1, images.length);
            long any = 0;
            for (int i = parts.start(p, images.length); i < end; i++) {
                any |= images[i];
            }
            used[p] = any;
        });
        long all = 0;
        for (long any : used) {
            all |= any;
        }
        return all;
    }

    /** Sorts the rows by the keys gathered so far; their keys by position, null when there were none. */
    private long @Nullable [] sort() {
        long[] images = keys;
        if (images == null) {
            return null;
        }
        once = false;
        keys = null;
        int size = rows.length;
        long[] packed = new long[size];
        boolean sorted = packed(images, packed);
        if (!sorted) {
            packed = moved(packed);
            int[] inOrder = new int[size];
            long[] all = packed;
            each(size, (from, to) -> rowsOf(all, inOrder, from, to));
            rows = inOrder;
        }
        long[] laid = packed;
        each(size, (from, to) -> {
            for (int i = from; i < to; i++) {
                laid[i] >>>= rowBits;
            }
        });
        return laid;
    }

    private void rowsOf(long[] packed, int[] to, int from, int end) {
        long mask = (1L << rowBits) - 1;
        for (int i = from; i < end; i++) {
            to[i] = (int) (packed[i] & mask);
        }
    }

    /** Puts key and number of each row in one long; whether they stand in order already. */
    private boolean packed(long[] images, long[] packed) {
        int size = rows.length;
        boolean[] sorted = new boolean[parts.count()];
        parts.each(p -> sorted[p] = pack(images, packed, parts.start(p, size), parts.start(p + 1, size)));
        boolean inOrder = true;
        for (int p = 0; p < sorted.length; p++) {
            int border = parts.start(p, size);
            boolean rises =
                    border == 0 || border == size || packed[border - 1] >>> rowBits <= packed[border] >>> rowBits;
            inOrder &= sorted[p] && rises;
        }
        return inOrder;
    }

    private boolean pack(long[] images, long[] packed, int from, int to) {
        int[] order = rows;
        int shift = rowBits;
        boolean sorted = true;
        long last = 0;
        for (int i = from; i < to; i++) {
            int row = order[i];
            long key = images[row];
            packed[i] = key << shift | row;
            sorted &= last <= key;
            last = key;
        }
        return sorted;
    }

    /** Moves the packed rows digit by digit. Each part counts its digits, then moves its own rows behind those of the parts before. */
    private long[] moved(long[] packed) {
        int size = packed.length;
        int passes = (bits + MOST_BITS - 1) / MOST_BITS;
        int digit = (bits + passes - 1) / passes;
        long[] from = packed;
        long[] to = new long[size];
        for (int pass = 0; pass < passes; pass++) {
            int shift = rowBits + pass * digit;
            long[] here = from;
            long[] there = to;
            int[][] next = new int[parts.count()][];
            parts.each(p -> next[p] = counts(here, shift, digit, parts.start(p, size), parts.start(p + 1, size)));
            starts(next);
            parts.each(p -> move(here, there, next[p], shift, digit, parts.start(p, size), parts.start(p + 1, size)));
            from = there;
            to = here;
        }
        return from;
    }

    private static int[] counts(long[] packed, int shift, int digit, int from, int to) {
        int[] counts = new int[1 << digit];
        int mask = counts.length - 1;
        for (int i = from; i < to; i++) {
            counts[(int) (packed[i] >>> shift) & mask]++;
        }
        return counts;
    }

    private static void move(long[] from, long[] to, int[] next, int shift, int digit, int start, int end) {
        int mask = (1 << digit) - 1;
        for (int i = start; i < end; i++) {
            long one = from[i];
            to[next[(int) (one >>> shift) & mask]++] = one;
        }
    }

    /** Turns counts into places: by digit, then by part. */
    private static void starts(int[][] parts) {
        int sum = 0;
        for (int v = 0; v < parts[0].length; v++) {
            for (int[] part : parts) {
                int count = part[v];
                part[v] = sum;
                sum += count;
            }
        }
    }
}
