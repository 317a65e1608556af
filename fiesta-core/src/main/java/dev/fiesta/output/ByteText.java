package dev.fiesta.output;

import dev.fiesta.value.Days;
import dev.fiesta.value.Dictionary;
import dev.fiesta.value.Digits;
import dev.fiesta.value.ShortestNumber;
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
        int count = Math.max(Digits.count(size0), scale + 1);
        Digits.put(size0, count, bytes, size);
        size += count;
        if (scale > 0) {
            size = Digits.point(bytes, size, scale);
        }
    }

    /** A number in its shortest form. */
    void number(double value) {
        room(ShortestNumber.LONGEST);
        size = ShortestNumber.put(value, bytes, size);
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
        Digits.pair(year / 100, to, at);
        Digits.pair(year % 100, to, at + 2);
        to[at + 4] = '-';
        Digits.pair(rest / 100, to, at + 5);
        to[at + 7] = '-';
        Digits.pair(rest % 100, to, at + 8);
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
        Digits.pair(minutes / 60, to, at + 1);
        to[at + 3] = ':';
        Digits.pair(minutes % 60, to, at + 4);
        to[at + 6] = ':';
        Digits.pair(seconds % 60, to, at + 7);
        size = at + 9;
        long fraction = ofDay % MICROS;
        if (fraction > 0) {
            int places = 6;
            for (; fraction % 10 == 0; fraction /= 10) {
                places--;
            }
            bytes[size++] = '.';
            Digits.put(fraction, places, bytes, size);
            size += places;
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

    private void room(int wanted) {
        if (bytes.length - size < wanted) {
            bytes = Arrays.copyOf(bytes, Math.max(bytes.length * 2, Math.addExact(size, wanted)));
        }
    }
}
