package dev.fiesta.gather;

import dev.fiesta.value.Column;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.Kind;
import dev.fiesta.value.Type;
import dev.fiesta.value.Validity;
import java.math.BigInteger;
import java.util.Arrays;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * The values of a frame that moves with the row: counts (and sums, where they are wanted) by rank in a tree of sums, so that a
 * value enters, leaves and is found in steps of the tree's height.
 */
final class MovingSorted implements Sorted {
    private final Type type;
    private final Ranks ranks;
    private final int[] tree;
    private final @Nullable ImageSums sums;
    private int size;

    private MovingSorted(Column column, boolean withSums) {
        this.type = column.type();
        this.ranks = new Ranks(column);
        this.tree = new int[ranks.different() + 1];
        this.sums = withSums ? new ImageSums(type, tree.length) : null;
    }

    /** A figure of frames that move with the row; missing where a frame holds no value. */
    static Column over(Frames frames, Column x, SortedFigure figure) {
        MovingSorted moving = new MovingSorted(x, figure.sums());
        double[] out = new double[frames.size()];
        long[][] valid = new long[1][];
        frames.each(moving::move, i -> {
            if (moving.size == 0) {
                valid[0] = Validity.without(valid[0], out.length, i);
            } else {
                out[i] = figure.figure().applyAsDouble(moving);
            }
        });
        return DoubleColumn.cleaned(out, out.length, valid[0]);
    }

    private void move(int position, boolean away) {
        int rank = ranks.of(position);
        if (rank < 0) {
            return;
        }
        int by = away ? -1 : 1;
        size += by;
        for (int i = rank + 1; i < tree.length; i += i & -i) {
            tree[i] += by;
            if (sums != null) {
                sums.add(i, ranks.image(rank), away);
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
        return ranks.image(at);
    }

    @Override
    public BigInteger sum(int from, int to) {
        return least(to).subtract(least(from));
    }

    /** The sum of so many least values. */
    private BigInteger least(int count) {
        ImageSums all = Objects.requireNonNull(sums);
        int left = count;
        int at = 0;
        BigInteger sum = BigInteger.ZERO;
        for (int step = Integer.highestOneBit(tree.length); step > 0; step >>= 1) {
            if (at + step < tree.length && tree[at + step] <= left) {
                at += step;
                left -= tree[at];
                sum = sum.add(all.exact(at));
            }
        }
        if (left > 0) {
            ImageSums one = new ImageSums(type, 1);
            one.add(0, ranks.image(at), false);
            sum = sum.add(one.exact(0).multiply(BigInteger.valueOf(left)));
        }
        return sum;
    }

    /** The values of a column as places among the different ones. */
    static final class Ranks {
        private final long[] images;
        private final int[] ranks;

        Ranks(Column column) {
            Image image = new Image(column.type());
            long[] all = image.of(column);
            long[] sorted = new long[all.length];
            int present = 0;
            for (int i = 0; i < all.length; i++) {
                if (!column.isMissing(i)) {
                    sorted[present++] = all[i];
                }
            }
            Arrays.sort(sorted, 0, present);
            int different = 0;
            for (int i = 0; i < present; i++) {
                if (i == 0 || sorted[i] != sorted[i - 1]) {
                    sorted[different++] = sorted[i];
                }
            }
            long[] asCodes = Arrays.copyOf(sorted, different);
            images = column.type().kind() == Kind.TEXT ? inOrder(image, asCodes) : asCodes;
            int[] rank = new int[different];
            for (int r = 0; r < different; r++) {
                rank[Arrays.binarySearch(asCodes, images[r])] = r;
            }
            ranks = new int[all.length];
            for (int i = 0; i < all.length; i++) {
                ranks[i] = column.isMissing(i) ? -1 : rank[Arrays.binarySearch(asCodes, all[i])];
            }
        }

        /** Images of texts are codes, whose order says nothing. */
        private static long[] inOrder(Image image, long[] codes) {
            return Arrays.stream(codes)
                    .boxed()
                    .sorted(image::compare)
                    .mapToLong(Long::longValue)
                    .toArray();
        }

        /** The rank of the value at a position, -1 where there is none. */
        int of(int position) {
            return ranks[position];
        }

        long image(int rank) {
            return images[rank];
        }

        int different() {
            return images.length;
        }
    }
}
