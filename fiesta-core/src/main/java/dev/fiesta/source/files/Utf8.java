package dev.fiesta.source.files;

import java.lang.invoke.MethodHandles;
import java.lang.invoke.VarHandle;
import java.nio.ByteOrder;

/** Whether bytes are UTF-8: shortest forms only, no surrogates, nothing above U+10FFFF. (RFC 3629, section 4.) */
public final class Utf8 {
    private static final VarHandle LONGS = MethodHandles.byteArrayViewVarHandle(long[].class, ByteOrder.LITTLE_ENDIAN);
    private static final long HIGH = 0x8080808080808080L;
    private static final int LONGEST = 4;

    private Utf8() {}

    public static boolean isValid(byte[] b, int start, int end) {
        int i = start;
        while (i < end) {
            if (i + 8 <= end && ((long) LONGS.get(b, i) & HIGH) == 0) {
                i += 8;
                continue;
            }
            int length = length(b, i, end);
            if (length == 0) {
                return false;
            }
            i += length;
        }
        return true;
    }

    /**
     * What stands in bytes besides ASCII.
     *
     * @param wide characters of several bytes
     * @param bad bytes that belong to no character
     */
    record Met(long wide, long bad) {}

    static Met met(byte[] b, int start, int end) {
        long wide = 0;
        long bad = 0;
        for (int i = start; i < end; ) {
            int length = length(b, i, end);
            wide += length > 1 ? 1 : 0;
            bad += length == 0 ? 1 : 0;
            i += Math.max(1, length);
        }
        return new Met(wide, bad);
    }

    /** Whether anything stands in valid bytes besides ASCII. */
    static boolean hasWide(byte[] b, int start, int end) {
        int i = start;
        while (i + 8 <= end && ((long) LONGS.get(b, i) & HIGH) == 0) {
            i += 8;
        }
        while (i < end && b[i] >= 0) {
            i++;
        }
        return i < end;
    }

    /** The bytes of the character at a place, 0 when there is none. */
    private static int length(byte[] b, int i, int end) {
        int first = b[i] & 0xFF;
        if (first < 0x80) {
            return 1;
        }
        int length = first >= 0xF0 ? 4 : first >= 0xE0 ? 3 : 2;
        if (first < 0xC2 || first > 0xF4 || i + length > end) {
            return 0;
        }
        for (int k = 1; k < length; k++) {
            if (isNoFollower(b[i + k])) {
                return 0;
            }
        }
        int second = b[i + 1] & 0xFF;
        boolean outside = (first == 0xE0 && second < 0xA0)
                || (first == 0xED && second > 0x9F)
                || (first == 0xF0 && second < 0x90)
                || (first == 0xF4 && second > 0x8F);
        return outside ? 0 : length;
    }

    private static boolean isNoFollower(byte b) {
        return (b & 0xC0) != 0x80;
    }

    /** The first place where a character starts. */
    static int start(byte[] b) {
        int i = 0;
        while (i < b.length && i < LONGEST && !isNoFollower(b[i])) {
            i++;
        }
        return i;
    }

    /** Behind the last character that is surely whole. */
    static int end(byte[] b) {
        for (int back = 1; back <= LONGEST && back <= b.length; back++) {
            if (isNoFollower(b[b.length - back])) {
                return b[b.length - back] >= 0 ? b.length : b.length - back;
            }
        }
        return b.length;
    }
}
