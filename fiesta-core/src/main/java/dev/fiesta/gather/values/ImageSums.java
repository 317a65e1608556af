package dev.fiesta.gather.values;

import dev.fiesta.value.Type;
import java.math.BigInteger;

/** Exact sums of numbers that are given as images, by group. */
final class ImageSums {
    private static final int WINDOW = 6;

    private final boolean exact;
    private final LongSums longs = new LongSums();
    private final WideSums numbers = new WideSums(WINDOW);

    ImageSums(Type type, int groups) {
        this.exact = type.isExact();
        if (exact) {
            longs.grow(groups);
        } else {
            numbers.grow(groups);
        }
    }

    /** Adds a number, or takes it away. */
    void add(int group, long image, boolean away) {
        if (exact) {
            longs.addOne(group, away ? -image : image);
        } else {
            numbers.add(group, Image.number(image), away);
        }
    }

    /** The sum of a group, in parts of {@link Sorted#unit}. */
    BigInteger exact(int group) {
        return exact ? longs.exact(group) : numbers.exact(group);
    }
}
