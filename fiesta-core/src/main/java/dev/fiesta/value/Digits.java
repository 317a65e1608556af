package dev.fiesta.value;

/** Digits of whole numbers as bytes. */
public final class Digits {
    private Digits() {}

    /** The number of digits of a number that is not negative. */
    public static int count(long value) {
        int atLeast = (Long.SIZE - Long.numberOfLeadingZeros(value | 1)) * 1233 >>> 12; // times log10(2)
        return value < Values.power(atLeast) ? Math.max(1, atLeast) : atLeast + 1;
    }

    /** Puts so many digits, with zeros before them: two at a time, from the last; as soon as the rest is an int it is divided as one. */
    public static void put(long value, int count, byte[] to, int first) {
        int at = first + count;
        long large = value;
        while (large > Integer.MAX_VALUE) {
            long rest = large / 100;
            at -= 2;
            pair((int) (large - rest * 100), to, at);
            large = rest;
        }
        int small = (int) large;
        while (at - first >= 2) {
            int rest = small / 100;
            at -= 2;
            pair(small - rest * 100, to, at);
            small = rest;
        }
        if (at > first) {
            to[first] = (byte) ('0' + small);
        }
    }

    /** Puts the two digits of a number below 100. */
    public static void pair(int below100, byte[] to, int at) {
        int tens = below100 * 103 >>> 10; // a tenth, for numbers below 100
        to[at] = (byte) ('0' + tens);
        to[at + 1] = (byte) ('0' + below100 - 10 * tens);
    }

    /** Moves the last {@code scale} digits on for a point before them; the place behind them. */
    public static int point(byte[] to, int end, int scale) {
        System.arraycopy(to, end - scale, to, end - scale + 1, scale);
        to[end - scale] = '.';
        return end + 1;
    }
}
