package dev.fiesta.gather.values;

import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.math.BigInteger;
import java.util.Arrays;
import org.jspecify.annotations.Nullable;

/**
 * Exact sums of binary numbers and of their products, by group. A sum is a row of longs that each count a piece of 32 bits;
 * the bits above them wait there as carries. Each group starts with a window of a few pieces around its first value and gets
 * the full width only when a value falls outside. (Known technique: R. Neal, Fast exact summation using small and large
 * superaccumulators, 2015.)
 */
public final class WideSums {
    /** The exponent of the lowest bit: that of the product of two smallest doubles. */
    public static final int LEAST_EXPONENT = -2148;

    private static final int FULL = 4300 / 32 + 4;
    private static final int ADDS_BEFORE_CARRY = 1 << 29;

    private final int window;
    private long[] pieces = new long[0];
    private int[] bases = new int[0];
    private long[] @Nullable [] full = new long[0] @Nullable [];
    private int adds;
    private int wideGroups;

    /** @param window the pieces that a group starts with; one value needs up to 3, a product up to 5 */
    public WideSums(int window) {
        this.window = window;
    }

    public void grow(int groups) {
        if (groups > bases.length) {
            int old = bases.length;
            bases = Grow.to(bases, groups);
            Arrays.fill(bases, old, bases.length, -1);
            pieces = Arrays.copyOf(pieces, Math.multiplyExact(bases.length, window));
            full = Arrays.copyOf(full, bases.length);
        }
    }

    /** Adds a double, or takes it away. */
    public void add(int group, double value, boolean away) {
        if (value != 0) {
            addBits(group, value < 0 != away, 0, mantissa(value), exponent(value));
        }
    }

    /** Adds the product of two doubles, or takes it away. */
    public void addProduct(int group, double x, double y, boolean away) {
        if (x != 0 && y != 0) {
            long mx = mantissa(x);
            long my = mantissa(y);
            boolean negative = x < 0 != y < 0;
            addBits(group, negative != away, Math.multiplyHigh(mx, my), mx * my, exponent(x) + exponent(y));
        }
    }

    private static long mantissa(double value) {
        long bits = Double.doubleToRawLongBits(value);
        long fraction = bits & 0xFFFFFFFFFFFFFL;
        return (bits & 0x7FF0000000000000L) == 0 ? fraction : fraction | 1L << 52;
    }

    private static int exponent(double value) {
        return Math.max((int) (Double.doubleToRawLongBits(value) >>> 52) & 0x7FF, 1) - 1075;
    }

    /** Adds the product of two longs, or takes it away. */
    public void addProduct(int group, long x, long y, boolean away) {
        long high = Math.multiplyHigh(x, y);
        long low = x * y;
        boolean negative = high < 0;
        if (negative) {
            low = -low;
            high = low == 0 ? -high : ~high;
        }
        if ((high | low) != 0) {
            addBits(group, negative != away, high, low, 0);
        }
    }

    /** Adds ±(high × 2^64 + low) × 2^exponent, the 128 bits read without a sign. */
    private void addBits(int group, boolean negative, long high, long low, int exponent) {
        int at = exponent - LEAST_EXPONENT;
        int first = at >>> 5;
        int shift = at & 31;
        int used = (127 - (high != 0 ? Long.numberOfLeadingZeros(high) : 64 + Long.numberOfLeadingZeros(low)) + shift
                        >>> 5)
                + 1;
        long[] row = pieces;
        int start = group * window - bases[group];
        if (full[group] != null || bases[group] < 0 || first < bases[group] || first + used >= bases[group] + window) {
            row = roomFor(group, first, used);
            start = full[group] != null ? 0 : group * window - bases[group];
        }
        long sign = negative ? -1 : 0;
        long left = low;
        long above = high;
        long piece = left << shift & 0xFFFFFFFFL;
        row[start + first] += (piece ^ sign) - sign;
        int taken = 32 - shift;
        for (int i = 1; i < used; i++) {
            left = left >>> taken | above << (64 - taken);
            above >>>= taken;
            taken = 32;
            piece = left & 0xFFFFFFFFL;
            row[start + first + i] += (piece ^ sign) - sign;
        }
        if (++adds == ADDS_BEFORE_CARRY) {
            carryAll();
        }
    }

    private long[] roomFor(int group, int first, int used) {
        long[] wide = full[group];
        if (wide == null) {
            if (bases[group] < 0) {
                bases[group] = Math.max(0, first - Math.max(1, (window - used) / 2));
                return pieces;
            }
            wide = widen(group);
        }
        return wide;
    }

    private long[] widen(int group) {
        long[] wide = new long[FULL];
        if (bases[group] >= 0) {
            int count = Math.min(window, FULL - bases[group]);
            System.arraycopy(pieces, group * window, wide, bases[group], count);
        }
        full[group] = wide;
        wideGroups++;
        return wide;
    }

    /** Moves what has gathered above 32 bits one piece up, before a long can overflow; the top piece holds carries only. */
    private void carryAll() {
        adds = 0;
        for (int group = 0; group < bases.length; group++) {
            long @Nullable [] wide = full[group];
            if (wide != null) {
                carry(wide, 0, FULL);
            } else if (bases[group] >= 0) {
                carry(pieces, group * window, window);
            }
        }
    }

    private static void carry(long[] row, int start, int count) {
        for (int i = start; i < start + count - 1; i++) {
            row[i + 1] += row[i] >> 32;
            row[i] &= 0xFFFFFFFFL;
        }
    }

    public void merge(WideSums other, int[] into) {
        carryAll();
        other.carryAll();
        for (int i = 0; i < into.length; i++) {
            long @Nullable [] wide = other.full[i];
            if (into[i] < 0) {
                continue;
            }
            if (wide != null) {
                add(into[i], wide, 0, 0, FULL);
            } else if (other.bases[i] >= 0) {
                add(into[i], other.pieces, i * window, other.bases[i], window);
            }
        }
    }

    /** Adds pieces, the first of which counts 2^(32 × base). */
    private void add(int group, long[] row, int start, int base, int count) {
        if (full[group] == null && bases[group] < 0 && count == window) {
            bases[group] = base;
        }
        long[] wide = full[group];
        boolean same = wide == null && bases[group] == base && count == window;
        long[] to = same ? pieces : wide == null ? widen(group) : wide;
        int at = same ? group * window : base;
        for (int i = 0; i < count && at + i < to.length; i++) {
            to[at + i] += row[start + i];
        }
    }

    /** The sum in units of 2^{@link #LEAST_EXPONENT}. */
    public BigInteger exact(int group) {
        return exact(group, LEAST_EXPONENT);
    }

    /** The sum in units of 2^exponent, of which each value added was a multiple. */
    public BigInteger exact(int group, int exponent) {
        long @Nullable [] row = full[group];
        if (row == null && bases[group] < 0) {
            return BigInteger.ZERO;
        }
        int start = row == null ? group * window : 0;
        int count = row == null ? window : FULL;
        int base = row == null ? bases[group] : 0;
        long[] from = row == null ? pieces : row;
        // Carried into plain digits first, so that one BigInteger is made rather than one for each piece.
        byte[] digits = new byte[count * 4 + 9];
        long carry = 0;
        for (int i = 0; i < count; i++) {
            long value = from[start + i] + carry;
            carry = value >> 32;
            for (int b = 0; b < 4; b++) {
                digits[digits.length - 1 - i * 4 - b] = (byte) (value >>> 8 * b);
            }
        }
        for (int b = 0; b < 9; b++) {
            digits[digits.length - 1 - count * 4 - b] = (byte) (b < 8 ? carry >> 8 * b : carry >> 63);
        }
        return new BigInteger(digits).shiftLeft(base * 32 + LEAST_EXPONENT - exponent);
    }

    public long memory() {
        return 8L * (pieces.length + full.length) + 4L * bases.length + 8L * FULL * wideGroups;
    }

    /** The base and the number of the pieces, then those: 32 bits each but for the top one, which has the sign. */
    public void write(int group, DataOutput out) throws IOException {
        long @Nullable [] wide = full[group];
        boolean any = wide != null || bases[group] >= 0;
        out.writeShort(!any ? -1 : wide != null ? 0 : bases[group]);
        if (!any) {
            return;
        }
        long[] row = wide != null ? wide : pieces;
        int start = wide != null ? 0 : group * window;
        int count = wide != null ? FULL : window;
        carry(row, start, count);
        out.writeShort(count);
        for (int i = 0; i < count - 1; i++) {
            out.writeInt((int) row[start + i]);
        }
        out.writeLong(row[start + count - 1]);
    }

    public void read(int group, DataInput in) throws IOException {
        int base = in.readShort();
        if (base < 0) {
            return;
        }
        long[] row = new long[in.readShort()];
        for (int i = 0; i < row.length - 1; i++) {
            row[i] = in.readInt() & 0xFFFFFFFFL;
        }
        row[row.length - 1] = in.readLong();
        add(group, row, 0, base, row.length);
        if (++adds == ADDS_BEFORE_CARRY) {
            carryAll();
        }
    }
}
