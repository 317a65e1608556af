package dev.fiesta.gather;

import dev.fiesta.value.Type;
import java.math.BigInteger;

/** Some values in their order, as images. */
interface Sorted {
    Type type();

    /** How many there are. */
    int size();

    /** The value at a place, from 0. */
    long value(int place);

    /** The exact sum of the values from a place to before another, in parts of a {@link #unit}. */
    BigInteger sum(int from, int to);

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

        @Override
        public BigInteger sum(int first, int to) {
            ImageSums sums = new ImageSums(type, 1);
            for (int i = from + first; i < from + to; i++) {
                sums.add(0, values[i], false);
            }
            return sums.exact(0);
        }
    }

    /** Values on a shelf, a page of them in memory. */
    final class Paged implements Sorted {
        private final Type type;
        private final Shelf.Pages pages;
        private final Image image;
        private long[] held = new long[0];
        private int page = -1;

        Paged(Type type, Shelf.Pages pages) {
            this.type = type;
            this.pages = pages;
            this.image = new Image(type);
        }

        @Override
        public Type type() {
            return type;
        }

        @Override
        public int size() {
            return pages.before(pages.pages());
        }

        @Override
        public long value(int place) {
            if (page < 0 || place < pages.before(page) || place >= pages.before(page + 1)) {
                int low = 0;
                int high = pages.pages() - 1;
                while (low < high) {
                    int middle = (low + high + 1) >>> 1;
                    if (pages.before(middle) <= place) {
                        low = middle;
                    } else {
                        high = middle - 1;
                    }
                }
                page = low;
                held = image.of(pages.page(page).flat());
            }
            return held[place - pages.before(page)];
        }

        @Override
        public BigInteger sum(int from, int to) {
            ImageSums sums = new ImageSums(type, 1);
            for (int i = from; i < to; i++) {
                sums.add(0, value(i), false);
            }
            return sums.exact(0);
        }
    }
}
