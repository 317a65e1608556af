package dev.fiesta.value;

import java.math.BigDecimal;
import java.math.BigInteger;
import org.jspecify.annotations.Nullable;

/** Results of exact calculations, rounded once to the nearest double, ties to even. */
public final class Exact {
    private static final long WHOLE = 1L << 53;
    private static final int SPARE_BITS = 66;
    private static final int LEAST_EXPONENT = -1074;
    private static final int TOP_BITS = 62;
    private static final int MOST_STEPS = 8;

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
        int below = d.getLowestSetBit();
        int above = Math.max(0, n.getLowestSetBit());
        BigInteger part = n.abs().shiftRight(above);
        BigInteger of = d.abs().shiftRight(below);
        int shift = SPARE_BITS - (part.bitLength() - of.bitLength());
        BigInteger top = shift > 0 ? part.shiftLeft(shift) : part;
        BigInteger bottom = shift < 0 ? of.shiftLeft(-shift) : of;
        BigInteger[] parts = top.divideAndRemainder(bottom);
        double size = nearest(parts[0], parts[1].signum() != 0, above - below - shift);
        return n.signum() * d.signum() < 0 ? -size : size;
    }

    /** The double nearest to the root of n / d, both not negative. */
    public static double root(BigInteger n, BigInteger d) {
        if (n.signum() == 0) {
            return 0;
        }
        double close = closeRoot(n, d);
        return Double.isNaN(close) ? exactRoot(n, d) : close;
    }

    /**
     * The double nearest to the root of n / d: worked out in doubles, then held against n / d in whole numbers, which takes two products
     * where the root itself takes many divisions. NaN where doubles are not close, next to a power of two and out of their range.
     */
    private static double closeRoot(BigInteger n, BigInteger d) {
        int below = d.bitLength() - TOP_BITS;
        int above = n.bitLength() - TOP_BITS;
        above -= above - below & 1;
        double root = Math.sqrt((double) n.shiftRight(above).longValue()
                / (double) d.shiftRight(below).longValue());
        int exponent = Math.getExponent(root) - 52;
        long m = (long) Math.scalb(root, -exponent);
        exponent += (above - below) / 2;
        if (exponent < LEAST_EXPONENT || exponent > Double.MAX_EXPONENT - 53) {
            return Double.NaN;
        }
        // m × 2^exponent is the nearest where n / d lies between the squares of (2m - 1) and (2m + 1) × 2^(exponent -
        // 1).
        int shift = 2 - 2 * exponent;
        BigInteger wanted = shift > 0 ? n.shiftLeft(shift) : n;
        BigInteger unit = shift < 0 ? d.shiftLeft(-shift) : d;
        for (int i = 0; i < MOST_STEPS && m > WHOLE / 2 && m < WHOLE; i++) {
            int higher =
                    wanted.compareTo(unit.multiply(BigInteger.valueOf(2 * m + 1).pow(2)));
            int lower = higher > 0
                    ? 1
                    : wanted.compareTo(
                            unit.multiply(BigInteger.valueOf(2 * m - 1).pow(2)));
            boolean odd = (m & 1) != 0;
            if (higher > 0 || (higher == 0 && odd)) {
                m++;
            } else if (lower < 0 || (lower == 0 && odd)) {
                m--;
            } else {
                return Math.scalb((double) m, exponent);
            }
        }
        return Double.NaN;
    }

    private static double exactRoot(BigInteger n, BigInteger d) {
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
