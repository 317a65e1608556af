package dev.fiesta.gather.values;

import dev.fiesta.value.Type;
import java.math.BigInteger;
import java.util.Arrays;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * Some of many values that stand elsewhere in their order: a bit for each of all, and how many there are (with their sum, where it is
 * wanted) among some ranks together, in a tree of sums. What comes, goes and is looked for takes a few steps, and hardly any memory.
 */
public final class RankedValues implements Sorted {
    /** Ranks that are counted together, as a power of two. */
    private static final int TOGETHER_BITS = 8;

    private static final int HELD_PAGES = 64;

    private final Type type;
    private final Image image;
    private final Shelf.Pages all;
    private final long[][] pages = new long[HELD_PAGES][];
    private final int[] numbers = new int[HELD_PAGES];
    private final long[] bits;
    private final int[] tree;
    private final @Nullable ImageSums sums;
    private int page;
    private int size;

    /** @param all the values in their order; the rank of a value is its place there */
    public RankedValues(SortedFigure figure, Shelf.Pages all) {
        this.type = figure.type();
        this.image = new Image(type);
        this.all = all;
        int count = all.before(all.pages());
        this.bits = new long[(count >> 6) + 1];
        this.tree = new int[(count >> TOGETHER_BITS) + 2];
        this.sums = figure.sums() ? new ImageSums(type, tree.length) : null;
        Arrays.fill(numbers, -1);
    }

    /**
     * The value of a rank comes, or goes.
     *
     * @param value its image
     */
    public void move(int rank, long value, boolean away) {
        bits[rank >> 6] ^= 1L << rank;
        int by = away ? -1 : 1;
        size += by;
        for (int i = (rank >> TOGETHER_BITS) + 1; i < tree.length; i += i & -i) {
            tree[i] += by;
            if (sums != null) {
                sums.add(i, value, away);
            }
        }
    }

    @Override
    public Type type() {
        return type;
    }

    @Override
    public int size() {
        return size;
    }

    @Override
    public long value(int place) {
        int left = place;
        int at = 0;
        for (int step = Integer.highestOneBit(tree.length); step > 0; step >>= 1) {
            if (at + step < tree.length && tree[at + step] <= left) {
                at += step;
                left -= tree[at];
            }
        }
        int word = at << (TOGETHER_BITS - 6);
        for (int here = Long.bitCount(bits[word]); here <= left; here = Long.bitCount(bits[word])) {
            left -= here;
            word++;
        }
        long rest = bits[word];
        for (; left > 0; left--) {
            rest &= rest - 1;
        }
        return image((word << 6) + Long.numberOfTrailingZeros(rest));
    }

    @Override
    public BigInteger sum(int from, int to) {
        return to - from == 1 ? Sorted.super.sum(from, to) : least(to).subtract(least(from));
    }

    /** The sum of so many least values. */
    private BigInteger least(int count) {
        ImageSums together = Objects.requireNonNull(sums);
        int left = count;
        int at = 0;
        BigInteger sum = BigInteger.ZERO;
        for (int step = Integer.highestOneBit(tree.length); step > 0; step >>= 1) {
            if (at + step < tree.length && tree[at + step] <= left) {
                at += step;
                left -= tree[at];
                sum = sum.add(together.exact(at));
            }
        }
        ImageSums some = new ImageSums(type, 1);
        for (int word = at << (TOGETHER_BITS - 6); left > 0; word++) {
            for (long rest = bits[word]; rest != 0 && left > 0; rest &= rest - 1) {
                some.add(0, image((word << 6) + Long.numberOfTrailingZeros(rest)), false);
                left--;
            }
        }
        return sum.add(some.exact(0));
    }

    private long image(int rank) {
        if (rank < all.before(page) || rank >= all.before(page + 1)) {
            page = all.pageOf(rank);
        }
        int slot = page % HELD_PAGES;
        if (numbers[slot] != page) {
            pages[slot] = image.of(all.page(page).flat());
            numbers[slot] = page;
        }
        return pages[slot][rank - all.before(page)];
    }
}
