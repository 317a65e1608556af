package dev.fiesta.source.cells;

import ch.randelshofer.fastdoubleparser.JavaDoubleParser;
import dev.fiesta.value.Values;
import java.lang.invoke.MethodHandles;
import java.lang.invoke.VarHandle;
import java.nio.ByteOrder;

/** Numbers straight from bytes. */
public final class Numbers {
    /** What no value can be: the bytes are none. */
    public static final long BAD = Long.MIN_VALUE;

    private static final VarHandle LONGS = MethodHandles.byteArrayViewVarHandle(long[].class, ByteOrder.LITTLE_ENDIAN);
    private static final long ZEROS = 0x3030303030303030L;
    private static final long SIXES = 0x0606060606060606L;
    private static final long HALVES = 0xF0F0F0F0F0F0F0F0L;

    private Numbers() {}

    /** A scaled decimal (scale 0 for integers) of at most 18 digits in all, or {@link #BAD}. */
    public static long exact(byte[] b, int start, int end, int scale) {
        if (end - start <= Long.BYTES && end >= Long.BYTES && start < end && scale < Long.BYTES) {
            boolean negative = b[start] == '-';
            long value = ofEight(b, negative ? start + 1 : start, end, scale);
            if (value >= 0) {
                return negative ? -value : value;
            }
        }
        return digitByDigit(b, start, end, scale);
    }

    /**
     * Digits with as many of them behind the point as there may be, as one long of eight bytes: what stands in front of them counts as
     * zeros, those in front of the point move up to it, and then two, four and eight digits are put together by a product each. Negative
     * where they are not so.
     */
    private static long ofEight(byte[] b, int start, int end, int scale) {
        int length = end - start;
        if (length <= (scale == 0 ? 0 : scale + 1)) {
            return -1;
        }
        long above = -1L << Byte.SIZE * (Long.BYTES - length);
        long word = (long) LONGS.get(b, end - Long.BYTES) & above | ZEROS & ~above;
        if (scale > 0) {
            int point = Byte.SIZE * (Long.BYTES - 1 - scale);
            if ((word >>> point & 0xFF) != '.') {
                return -1;
            }
            word = word & -1L << point + Byte.SIZE | (word & (1L << point) - 1) << Byte.SIZE | '0';
        }
        if (((word & HALVES) ^ ZEROS | (word + SIXES & HALVES) ^ ZEROS) != 0) {
            return -1;
        }
        word = (word & 0x0F0F0F0F0F0F0F0FL) * (10 << 8 | 1) >>> 8;
        word = (word & 0x00FF00FF00FF00FFL) * (100 << 16 | 1) >>> 16;
        return (word & 0x0000FFFF0000FFFFL) * (10_000L << 32 | 1) >>> 32;
    }

    private static long digitByDigit(byte[] b, int start, int end, int scale) {
        int i = start;
        boolean negative = false;
        if (i < end && (b[i] == '-' || b[i] == '+')) {
            negative = b[i] == '-';
            i++;
        }
        long value = 0;
        int digits = 0;
        int first = i;
        for (; i < end; i++) {
            int digit = b[i] - '0';
            if (digit < 0 || digit > 9) {
                break;
            }
            value = value * 10 + digit;
            digits += value == 0 ? 0 : 1;
        }
        boolean any = i > first;
        int after = 0;
        if (i < end && b[i] == '.') {
            i++;
            for (; i < end; i++) {
                int digit = b[i] - '0';
                if (digit < 0 || digit > 9) {
                    return BAD;
                }
                any = true;
                if (after == scale) {
                    if (digit != 0) {
                        return BAD;
                    }
                    continue;
                }
                value = value * 10 + digit;
                digits += value == 0 ? 0 : 1;
                after++;
            }
        }
        if (i < end || !any || digits + scale - after > 18) {
            return BAD;
        }
        value *= Values.power(scale - after);
        return negative ? -value : value;
    }

    /** An integer of 19 digits that 64 bits still hold, or {@link #BAD}. */
    static long wide(byte[] b, int start, int end) {
        try {
            return Long.parseLong(new String(b, start, end - start, java.nio.charset.StandardCharsets.US_ASCII));
        } catch (NumberFormatException e) {
            return BAD;
        }
    }

    /** Whether a digit other than 0 stands before the exponent: then the value is not 0. */
    private static boolean hasDigits(byte[] b, int start, int end) {
        for (int i = start; i < end && b[i] != 'e' && b[i] != 'E'; i++) {
            if (b[i] > '0' && b[i] <= '9') {
                return true;
            }
        }
        return false;
    }

    /** A finite double, or NaN; so is what is too small for a double to tell from 0. */
    public static double number(byte[] b, int start, int end) {
        try {
            byte last = b[end - 1];
            if (last != '.' && (last < '0' || last > '9')) {
                return Double.NaN;
            }
            double value = JavaDoubleParser.parseDouble(b, start, end - start);
            boolean lost = value == 0 && hasDigits(b, start, end);
            return Double.isFinite(value) && !lost ? value + 0.0 : Double.NaN;
        } catch (NumberFormatException e) {
            return Double.NaN;
        }
    }
}
