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
}
