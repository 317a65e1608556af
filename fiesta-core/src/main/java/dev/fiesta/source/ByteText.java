package dev.fiesta.source;

import dev.fiesta.output.Utf8Out;
import dev.fiesta.value.Days;
import dev.fiesta.value.Dictionary;
import dev.fiesta.value.Values;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;

/** Text while it is put together, as UTF-8, so that values of columns need no objects. */
final class ByteText {
    private static final int LONGEST_NUMBER = 24;
    private static final int SECONDS_A_DAY = 86_400;
    private static final int MICROS = 1_000_000;

    private byte[] bytes = new byte[1 << 12];
    private int size;

    int size() {
        return size;
    }

    /** Hands on what was put together since the last time. */
    void sendTo(Appendable out) throws IOException {
        if (out instanceof Utf8Out utf8) {
            utf8.write(bytes, size);
        } else {
            out.append(new String(bytes, 0, size, StandardCharsets.UTF_8));
        }
        size = 0;
    }

    void put(char ascii) {
        room(1);
        bytes[size++] = (byte) ascii;
    }

    void put(String text) {
        byte[] utf8 = text.getBytes(StandardCharsets.UTF_8);
        room(utf8.length);
        System.arraycopy(utf8, 0, bytes, size, utf8.length);
        size += utf8.length;
    }

    void put(Dictionary dictionary, int code) {
        room(dictionary.length(code));
        size = dictionary.copy(code, bytes, size);
    }

    /** A scaled long with all the digits of its scale. */
    void exact(long value, int scale) {
        if (value == Long.MIN_VALUE) {
            put(Long.toString(value)); // only an integer may be so small
            return;
        }
        room(LONGEST_NUMBER);
        long size0 = Math.abs(value);
        if (value < 0) {
            bytes[size++] = '-';
        }
        int count = Math.max(digitsOf(size0), scale + 1);
        digits(size0, count);
        if (scale > 0) { // the digits behind the point make room for it
            System.arraycopy(bytes, size - scale, bytes, size - scale + 1, scale);
            bytes[size - scale] = '.';
            size++;
        }
    }

    /** A day of the years 0 to 9999; false, and nothing is put, for any other. */
    boolean day(long days) {
        int ymd = Days.ymd(days);
        if (ymd < 0 || ymd > 9999_12_31) {
            return false;
        }
        room(10);
        byte[] to = bytes;
        int at = size;
        int year = ymd / 10_000;
        int rest = ymd - year * 10_000;
        pair(to, at, year / 100);
        pair(to, at + 2, year % 100);
        to[at + 4] = '-';
        pair(to, at + 5, rest / 100);
        to[at + 7] = '-';
        pair(to, at + 8, rest % 100);
        size = at + 10;
        return true;
    }

    /** A day and a time in microseconds since 1970; false, and nothing is put, outside the years 0 to 9999. */
    boolean dayAndTime(long micros) {
        if (!day(Math.floorDiv(micros, Values.MICROS_A_DAY))) {
            return false;
        }
        room(LONGEST_NUMBER);
        long ofDay = Math.floorMod(micros, Values.MICROS_A_DAY);
        int seconds = (int) (ofDay / MICROS) % SECONDS_A_DAY;
        byte[] to = bytes;
        int at = size;
        int minutes = seconds / 60;
        to[at] = 'T';
        pair(to, at + 1, minutes / 60);
        to[at + 3] = ':';
        pair(to, at + 4, minutes % 60);
        to[at + 6] = ':';
        pair(to, at + 7, seconds % 60);
        size = at + 9;
        long fraction = ofDay % MICROS;
        if (fraction > 0) {
            int places = 6;
            for (; fraction % 10 == 0; fraction /= 10) {
                places--;
            }
            bytes[size++] = '.';
            digits(fraction, places);
        }
        return true;
    }

    /**
     * Makes what was put since {@code from} one cell: in quotes where it holds a delimiter, quote or line end, or nothing.
     *
     * @param quotesNothing whether an empty cell gets quotes
     */
    void cell(int from, byte delimiter, boolean quotesNothing) {
        int quotes = 0;
        boolean needed = quotesNothing && from == size;
        for (int i = from; i < size; i++) {
            byte b = bytes[i];
            if (b <= '"' || b == delimiter) {
                quotes += b == '"' ? 1 : 0;
                needed |= b == '"' || b == delimiter || b == '\n' || b == '\r';
            }
        }
        if (needed) {
            quote(from, quotes);
        }
    }

    private void quote(int from, int quotes) {
        room(quotes + 2);
        int to = size + quotes + 1;
        int end = to + 1;
        bytes[to--] = '"';
        for (int i = size - 1; i >= from; i--) {
            bytes[to--] = bytes[i];
            if (bytes[i] == '"') {
                bytes[to--] = '"';
            }
        }
        bytes[to] = '"';
        size = end;
    }

    /** The number of digits of a number that is not negative. */
    private static int digitsOf(long value) {
        int atLeast = (Long.SIZE - Long.numberOfLeadingZeros(value | 1)) * 1233 >>> 12; // times log10(2)
        return value < Values.power(atLeast) ? Math.max(1, atLeast) : atLeast + 1;
    }

    /** Digits two at a time, from the last; as soon as the rest is an int it is divided as one. */
    private void digits(long value, int count) {
        byte[] to = bytes;
        int first = size;
        int at = first + count;
        size = at;
        long large = value;
        while (large > Integer.MAX_VALUE) {
            long rest = large / 100;
            at -= 2;
            pair(to, at, (int) (large - rest * 100));
            large = rest;
        }
        int small = (int) large;
        while (at - first >= 2) {
            int rest = small / 100;
            at -= 2;
            pair(to, at, small - rest * 100);
            small = rest;
        }
        if (at > first) {
            to[first] = (byte) ('0' + small);
        }
    }

    private static void pair(byte[] to, int at, int below100) {
        int tens = below100 * 103 >>> 10; // a tenth, for numbers below 100
        to[at] = (byte) ('0' + tens);
        to[at + 1] = (byte) ('0' + below100 - 10 * tens);
    }

    private void room(int wanted) {
        if (bytes.length - size < wanted) {
            bytes = Arrays.copyOf(bytes, Math.max(bytes.length * 2, Math.addExact(size, wanted)));
        }
    }
}
