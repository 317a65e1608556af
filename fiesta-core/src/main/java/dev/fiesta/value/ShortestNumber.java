package dev.fiesta.value;

import java.math.BigInteger;
import java.nio.charset.StandardCharsets;

/**
 * The shortest decimal that reads back as a double, and of several the nearest: plain for sizes from 1e-6 to 1e17, else with an
 * exponent. The same on every JDK; {@code Double.toString} is not always shortest before JDK 19.
 *
 * <p>A double stands for all numbers nearer to it than to its neighbours. Of the powers of ten one, {@code 10^k}, is just small
 * enough that at least one multiple of it lies between these ends, and at most one of {@code 10^(k+1)}: if there is one, it is
 * the shortest, else the nearest of the two multiples around the double. Products with the powers, which have 126 bits, are
 * rounded to odd, so that comparisons are exact (R. Giulietti, <i>The Schubfach way to render doubles</i>).
 */
public final class ShortestNumber {
    /** The most bytes that a number takes. */
    public static final int LONGEST = 26;

    private static final int FRACTION_BITS = 52;
    private static final long HIDDEN_BIT = 1L << FRACTION_BITS;
    private static final int LEAST_EXPONENT = -1074;
    private static final long LOW_63 = Long.MAX_VALUE;

    private static final int LEAST_POWER = -292;
    private static final int GREATEST_POWER = 324;
    private static final Power[] POWERS = new Power[GREATEST_POWER - LEAST_POWER + 1];

    private static final int LEAST_PLAIN = -6;
    private static final int GREATEST_PLAIN = 16;

    /** A power of ten times a power of two: {@code high * 2^63 + low} lies between 2^125 and 2^126. */
    private record Power(long high, long low) {}

    private ShortestNumber() {}

    /** A number as text. */
    public static String of(double value) {
        byte[] text = new byte[LONGEST];
        return new String(text, 0, put(value, text, 0), StandardCharsets.US_ASCII);
    }

    /**
     * Puts a number, which is finite, where there is room for {@link #LONGEST} bytes.
     *
     * @return the place behind it
     */
    public static int put(double value, byte[] to, int at) {
        int start = at;
        double size = Math.abs(value);
        if (value < 0) {
            to[start++] = '-';
        }
        if (size < HIDDEN_BIT && size == (long) size) {
            return digits((long) size, 0, to, start);
        }
        long bits = Double.doubleToRawLongBits(size);
        long fraction = bits & HIDDEN_BIT - 1;
        int exponent = (int) (bits >>> FRACTION_BITS);
        return exponent == 0
                ? shortest(fraction, LEAST_EXPONENT, to, start)
                : shortest(HIDDEN_BIT | fraction, exponent - 1 + LEAST_EXPONENT, to, start);
    }

    /** Puts {@code c * 2^q}. */
    private static int shortest(long c, int q, byte[] to, int at) {
        long odd = c & 1; // the ends of an odd one's numbers are not its own
        boolean even = c != HIDDEN_BIT || q == LEAST_EXPONENT; // else the neighbour below is only half as far
        int k = even ? powerOfTenBelow(q) : powerOfTenBelowThreeQuarters(q);
        int shift = q + powerOfTwoBelow(-k) + 2;
        Power power = power(-k);
        long four = c << 2;
        long middle = product(power, four << shift);
        long lower = product(power, four - (even ? 2 : 1) << shift) + odd;
        long upper = product(power, four + 2 << shift) - odd;
        long s = middle >> 2;
        long tens = s / 10 * 10;
        boolean tensBelow = lower <= tens << 2;
        boolean tensAbove = tens + 10 << 2 <= upper;
        if (tensBelow != tensAbove) {
            return digits(tensBelow ? tens : tens + 10, k, to, at);
        }
        boolean below = lower <= s << 2;
        boolean above = s + 1 << 2 <= upper;
        if (below != above) {
            return digits(below ? s : s + 1, k, to, at);
        }
        long nearer = middle - (2 * s + 1 << 1);
        return digits(nearer < 0 || nearer == 0 && (s & 1) == 0 ? s : s + 1, k, to, at);
    }

    /** The greatest k with 10^k at most 2^q. */
    private static int powerOfTenBelow(int q) {
        return (int) (q * 661_971_961_083L >> 41);
    }

    private static int powerOfTenBelowThreeQuarters(int q) {
        return (int) (q * 661_971_961_083L - 274_743_187_321L >> 41);
    }

    /** The greatest q with 2^q at most 10^k. */
    private static int powerOfTwoBelow(int k) {
        return (int) (k * 913_124_641_741L >> 38);
    }

    /** The high bits of a product, the last of them 1 where any of those left away is. */
    private static long product(Power power, long factor) {
        long middle = power.high * factor;
        long carried = (middle >>> 1) + Math.multiplyHigh(power.low, factor);
        long high = Math.multiplyHigh(power.high, factor) + (carried >>> 63);
        return high | (carried & LOW_63) + LOW_63 >>> 63;
    }

    private static Power power(int exponent) {
        Power known = POWERS[exponent - LEAST_POWER];
        if (known == null) {
            int bits = 125 - powerOfTwoBelow(exponent);
            BigInteger ten = BigInteger.TEN.pow(Math.abs(exponent));
            BigInteger scaled = exponent < 0 ? BigInteger.ONE.shiftLeft(bits).divide(ten) : ten.shiftLeft(bits);
            BigInteger power = scaled.add(BigInteger.ONE);
            known = new Power(power.shiftRight(63).longValue(), power.longValue() & LOW_63);
            POWERS[exponent - LEAST_POWER] = known;
        }
        return known;
    }

    /** Puts {@code whole * 10^exponent}. */
    private static int digits(long whole, int exponent, byte[] to, int at) {
        long digits = whole;
        int scale = -exponent;
        while (scale > 0 && digits % 10 == 0 && digits != 0) {
            digits /= 10;
            scale--;
        }
        int count = Digits.count(digits);
        int leading = count - scale - 1; // the power of ten of the first digit
        if (leading < LEAST_PLAIN || leading > GREATEST_PLAIN) {
            return withExponent(digits, leading, to, at);
        }
        if (scale <= 0) {
            Digits.put(digits, count, to, at);
            Digits.put(0, -scale, to, at + count);
            return at + count - scale;
        }
        int all = Math.max(count, scale + 1);
        Digits.put(digits, all, to, at);
        return Digits.point(to, at + all, scale);
    }

    /** With a sign it reads back as a number: an exponent without one may be that of an identifier. */
    private static int withExponent(long whole, int exponent, byte[] to, int at) {
        long digits = whole;
        while (digits % 10 == 0) {
            digits /= 10;
        }
        int count = Digits.count(digits);
        Digits.put(digits, count, to, at);
        int end = count == 1 ? at + 1 : Digits.point(to, at + count, count - 1);
        to[end++] = 'e';
        to[end++] = (byte) (exponent < 0 ? '-' : '+');
        int size = Digits.count(Math.abs(exponent));
        Digits.put(Math.abs(exponent), size, to, end);
        return end + size;
    }
}
