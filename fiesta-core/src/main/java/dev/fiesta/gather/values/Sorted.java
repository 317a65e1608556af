package dev.fiesta.gather.values;

import dev.fiesta.value.Type;
import java.math.BigInteger;

/** Some values in their order, as images. */
public interface Sorted {
    Type type();

    /** How many there are. */
    int size();

    /** The value at a place, from 0. */
    long value(int place);

    /** The exact sum of the values from a place to before another, in parts of a {@link #unit}. */
    default BigInteger sum(int from, int to) {
        ImageSums sums = new ImageSums(type(), 1);
        for (int i = from; i < to; i++) {
            sums.add(0, value(i), false);
        }
        return sums.exact(0);
    }

    /** The number of parts that sums are counted in. */
    default BigInteger unit() {
        return type().isExact()
                ? BigInteger.TEN.pow(type().scale())
                : BigInteger.ONE.shiftLeft(-WideSums.LEAST_EXPONENT);
    }

    /** Values that stand side by side. */
    record Held(Type type, long[] values, int from, int behind) implements Sorted {
        @Override
        public int size() {
            return behind - from;
        }

        @Override
        public long value(int place) {
            return values[from + place];
        }
    }

    /** Some of the values on a shelf, a page of them in memory. */
    final class Paged implements Sorted {
        private final Type type;
        private final Shelf.Pages pages;
        private final Image image;
        private long[] held = new long[0];
        private int page = -1;
        private int from;
        private int behind;

        public Paged(Type type, Shelf.Pages pages) {
            this.type = type;
            this.pages = pages;
            this.image = new Image(type);
        }

        /** From now on the values from a place to before another. */
        public void show(int first, int end) {
            from = first;
            behind = end;
        }

        @Override
        public Type type() {
            return type;
        }

        @Override
        public int size() {
            return behind - from;
        }

        @Override
        public long value(int place) {
            int at = from + place;
            if (page < 0 || at < pages.before(page) || at >= pages.before(page + 1)) {
                turnTo(at);
            }
            return held[at - pages.before(page)];
        }

        private void turnTo(int at) {
            page = pages.pageOf(at);
            held = image.of(pages.page(page).flat());
        }
    }
}
