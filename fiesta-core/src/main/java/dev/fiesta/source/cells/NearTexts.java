package dev.fiesta.source.cells;

import dev.fiesta.value.Dictionary;
import java.lang.invoke.MethodHandles;
import java.lang.invoke.VarHandle;
import java.nio.ByteOrder;

/**
 * Looks texts up in a dictionary. Texts of up to 16 bytes that came a moment ago are known by these bytes alone, as two longs:
 * columns of few different texts, as most are, never get as far as the dictionary.
 */
final class NearTexts {
    private static final VarHandle LONGS = MethodHandles.byteArrayViewVarHandle(long[].class, ByteOrder.LITTLE_ENDIAN);
    private static final long MIX = 0x9E3779B97F4A7C15L;
    private static final int LONGEST = 16;
    private static final int BITS = 8;
    /** Of more different texts than these hardly one came a moment ago. */
    private static final int MANY = 8 << BITS;

    /** Which bytes of the first and of the second eight belong to a text, by its length. */
    private static final long[] HEADS = new long[LONGEST + 1];

    private static final long[] TAILS = new long[LONGEST + 1];

    static {
        for (int length = 1; length <= LONGEST; length++) {
            HEADS[length] = -1L >>> Byte.SIZE * Math.max(0, Long.BYTES - length);
            TAILS[length] = length <= Long.BYTES ? 0 : -1L >>> Byte.SIZE * (LONGEST - length);
        }
    }

    private final Dictionary dictionary;

    /** Four longs for each place: the first and the last eight bytes, the length above the code counted from 1, and none. */
    private final long[] near = new long[4 << BITS];

    NearTexts(Dictionary dictionary) {
        this.dictionary = dictionary;
    }

    Dictionary dictionary() {
        return dictionary;
    }

    /** The code of the UTF-8 bytes from {@code start} to before {@code end}, which are added when new. */
    int intern(byte[] bytes, int start, int end) {
        int length = end - start;
        if (length == 0 || length > LONGEST || start + LONGEST > bytes.length || dictionary.size() > MANY) {
            return dictionary.intern(bytes, start, end);
        }
        // Lengths come as they like: masks cost less than asking.
        long head = (long) LONGS.get(bytes, start) & HEADS[length];
        long tail = (long) LONGS.get(bytes, start + Long.BYTES) & TAILS[length];
        int place = (int) ((head + tail * 31) * MIX >>> 64 - BITS) << 2;
        long known = near[place + 2];
        if (near[place] == head && near[place + 1] == tail && known >>> 32 == length) {
            return (int) known - 1;
        }
        int code = dictionary.intern(bytes, start, end);
        near[place] = head;
        near[place + 1] = tail;
        near[place + 2] = (long) length << 32 | code + 1;
        return code;
    }
}
