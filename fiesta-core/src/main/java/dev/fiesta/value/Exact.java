package dev.fiesta.value;

import java.math.BigDecimal;
import java.math.BigInteger;
import org.jspecify.annotations.Nullable;

/** Results of exact calculations, rounded once to the nearest double, ties to even. */
public final class Exact {
    private static final long WHOLE = 1L << 53;
    private static final int SPARE_BITS = 66;
    private static final int LEAST_EXPONENT = -1074;

    private Exact() {}

    /** The double nearest to n / d; not finite when d is 0 or the result is too large. */
    public static double quotient(long n, long d) {
        if (n > -WHOLE && n < WHOLE && d > -WHOLE && d < WHOLE) {
            return (double) n / (double) d;
        }
        return quotient(BigInteger.valueOf(n), BigInteger.valueOf(d));
    }

    /** The double nearest to n / d; not finite when d is 0 or the result is too large. */
    public static double quotient(BigInteger n, BigInteger d) {
        if (d.signum() == 0) {
            return Double.NaN;
        }
        if (n.bitLength() <= 53 && d.bitLength() <= 53) {
            return (double) n.longValue() / (double) d.longValue();
        }
        int shift = SPARE_BITS - (n.bitLength() - d.bitLength());
        BigInteger top = shift > 0 ? n.abs().shiftLeft(shift) : n.abs();
        BigInteger bottom = shift < 0 ? d.abs().shiftLeft(-shift) : d.abs();
        BigInteger[] parts = top.divideAndRemainder(bottom);
        double size = nearest(parts[0], parts[1].signum() != 0, -shift);
        return n.signum() * d.signum() < 0 ? -size : size;
    }

    /** The double nearest to the root of n / d, both not negative. */
    public static double root(BigInteger n, BigInteger d) {
        if (n.signum() == 0) {
            return 0;
        }
        int half = SPARE_BITS - (n.bitLength() - d.bitLength()) / 2;
        BigInteger top = half > 0 ? n.shiftLeft(2 * half) : n;
        BigInteger bottom = half < 0 ? d.shiftLeft(-2 * half) : d;
        BigInteger[] parts = top.divideAndRemainder(bottom);
        BigInteger[] root = parts[0].sqrtAndRemainder();
        return nearest(root[0], parts[1].signum() != 0 || root[1].signum() != 0, -half);
    }

    /** The double nearest to m × 2^exponent. */
    public static double scaled(BigInteger m, int exponent) {
        double size = nearest(m.abs(), false, exponent);
        return m.signum() < 0 ? -size : size;
    }

    /** The double nearest to value / 10^scale. */
    public static double ofDecimal(long value, int scale) {
        return scale == 0 ? (double) value : quotient(value, Values.power(scale));
    }

    /** Compares a scaled decimal with a double by exact value. */
    public static int compare(long value, int scale, double number) {
        double near = ofDecimal(value, scale);
        // Rounding keeps order: only equal doubles can hide a difference.
        return near != number
                ? Double.compare(near, number)
                : BigDecimal.valueOf(value, scale).compareTo(new BigDecimal(number));
    }

    /** The nearest double to (m + a bit more if inexact) × 2^exponent. */
    private static double nearest(BigInteger m, boolean inexact, int exponent) {
        int drop = Math.max(m.bitLength() - 53, LEAST_EXPONENT - exponent);
        if (drop <= 0) {
            return Math.scalb((double) m.longValue(), exponent);
        }
        BigInteger kept = m.shiftRight(drop);
        boolean half = m.testBit(drop - 1);
        boolean above = inexact || m.getLowestSetBit() < drop - 1;
        if (half && (above || kept.testBit(0))) {
            kept = kept.add(BigInteger.ONE);
        }
        return Math.scalb((double) kept.longValue(), exponent + drop);
    }

    /** The number that a text writes with the digits 0 to 9, a point and an exponent; null for any other text. */
    public static @Nullable BigDecimal written(String text) {
        if (text.length() > 400 || !text.chars().allMatch(c -> c < 128)) {
            return null;
        }
        try {
            return new BigDecimal(text);
        } catch (NumberFormatException e) {
            return null;
        }
    }
}
