package dev.fiesta.value;

import java.lang.invoke.MethodHandles;
import java.lang.invoke.VarHandle;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import org.jspecify.annotations.Nullable;

/**
 * Different texts, numbered from 0 in the order in which they came. Texts are kept as UTF-8, so that a scan can look its
 * bytes up without making a {@code String}. It grows while its owner, a single thread, reads; codes once given never change,
 * so that others may read those codes after they have been handed over.
 */
public final class Dictionary {
    private static final VarHandle LONGS = MethodHandles.byteArrayViewVarHandle(long[].class, ByteOrder.LITTLE_ENDIAN);
    private static final long MIX = 0x9E3779B97F4A7C15L;
    private static final int MOST_REMEMBERED = 1 << 16;
    /** Texts that share so many bytes are compared as a whole. */
    private static final int MOST_SHARED = 1 << 10;

    private byte[] bytes = new byte[256];
    private int[] starts = new int[17];
    private int[] hashes = new int[16];
    /** A key and a code counted from 1 for each place, side by side: texts of up to seven bytes are found where they are looked for. */
    private long[] slots = new long[64];

    private @Nullable String[] texts = new String[0];
    private int @Nullable [] ranks;
    private int size;

    /** An empty dictionary. */
    public Dictionary() {}

    /** The number of texts. */
    public int size() {
        return size;
    }

    /** The code of a text, which is added when new. */
    public int intern(String text) {
        byte[] utf8 = text.getBytes(StandardCharsets.UTF_8);
        return intern(utf8, 0, utf8.length);
    }

    /** The code of the UTF-8 bytes from {@code start} to before {@code end}, which are added when new. */
    public int intern(byte[] from, int start, int end) {
        long key = key(from, start, end);
        long[] places = slots;
        int mask = places.length - 1;
        int at = hash(key) << 1 & mask;
        while (true) {
            int code = (int) places[at + 1] - 1;
            if (code < 0) {
                return add(from, start, end, key, at);
            }
            if (places[at] == key && (key >= 0 || equal(code, from, start, end))) {
                return code;
            }
            at = at + 2 & mask;
        }
    }

    /** The code of a text, or -1. */
    public int find(String text) {
        byte[] utf8 = text.getBytes(StandardCharsets.UTF_8);
        return find(utf8, 0, utf8.length);
    }

    /** The code of a text of another dictionary, or -1. */
    public int find(Dictionary other, int code) {
        return find(other.bytes, other.starts[code], other.starts[code + 1]);
    }

    private int find(byte[] from, int start, int end) {
        long key = key(from, start, end);
        int mask = slots.length - 1;
        for (int at = hash(key) << 1 & mask; slots[at + 1] != 0; at = at + 2 & mask) {
            int code = (int) slots[at + 1] - 1;
            if (slots[at] == key && (key >= 0 || equal(code, from, start, end))) {
                return code;
            }
        }
        return -1;
    }

    /** The text of a code. */
    public String text(int code) {
        @Nullable String[] known = texts;
        String text = code < known.length ? known[code] : null;
        if (text == null) {
            text = new String(bytes, starts[code], starts[code + 1] - starts[code], StandardCharsets.UTF_8);
            remember(code, text);
        }
        return text;
    }

    /** The code of a text of another dictionary, which is added when new. */
    public int intern(Dictionary other, int code) {
        return intern(other.bytes, other.starts[code], other.starts[code + 1]);
    }

    /** A hash of the bytes of a text, the same in every dictionary. */
    public int hash(int code) {
        return hashes[code];
    }

    /** Texts shown again are not made again, but for large dictionaries, whose texts hardly repeat. */
    private void remember(int code, String text) {
        if (code >= MOST_REMEMBERED) {
            return;
        }
        @Nullable
        String[] known = texts; // others may remember at the same time: each writes to an array that is large enough
        if (code >= known.length) {
            known = Arrays.copyOf(known, Math.max(16, Integer.highestOneBit(code) * 2));
            texts = known;
        }
        known[code] = text;
    }

    /** The number of bytes of a text in UTF-8. */
    public int length(int code) {
        return starts[code + 1] - starts[code];
    }

    /** Writes the length of a text and its bytes in UTF-8. */
    public void write(int code, ByteBuffer out) {
        out.putInt(length(code));
        out.put(bytes, starts[code], length(code));
    }

    /** Copies the bytes of a text in UTF-8; where they end in {@code to}. */
    public int copy(int code, byte[] to, int at) {
        System.arraycopy(bytes, starts[code], to, at, length(code));
        return at + length(code);
    }

    /** About the memory that it takes, in bytes. */
    public long memory() {
        return bytes.length + 8L * slots.length + 4L * (starts.length + hashes.length + texts.length);
    }

    /** Compares two texts of this dictionary by code points. */
    public int compare(int a, int b) {
        return a == b ? 0 : Arrays.compareUnsigned(bytes, starts[a], starts[a + 1], bytes, starts[b], starts[b + 1]);
    }

    /** Compares a text of this dictionary with one of another by code points. */
    public int compare(int a, Dictionary other, int b) {
        return Arrays.compareUnsigned(
                bytes, starts[a], starts[a + 1], other.bytes, other.starts[b], other.starts[b + 1]);
    }

    /** For each code its place in code-point order, from 0. */
    public synchronized int[] ranks() {
        if (ranks == null || ranks.length < size) {
            long[] codes = new long[size];
            Arrays.setAll(codes, i -> i);
            sort(codes, 0, size, 0);
            int[] places = new int[size];
            for (int i = 0; i < size; i++) {
                places[(int) codes[i]] = i;
            }
            ranks = places;
        }
        return ranks;
    }

    /**
     * Puts the codes from one place to before another in the order of their texts, which are the same up to a byte: by the next four
     * bytes, which stand above the code, then those that are still the same by the bytes behind.
     */
    private void sort(long[] codes, int from, int to, int depth) {
        if (depth > MOST_SHARED) {
            Integer[] order = new Integer[to - from];
            Arrays.setAll(order, i -> (int) codes[from + i]);
            Arrays.sort(order, this::compare);
            for (int i = 0; i < order.length; i++) {
                codes[from + i] = order[i];
            }
            return;
        }
        for (int i = from; i < to; i++) {
            int code = (int) codes[i];
            codes[i] = (long) fourBytes(code, depth) << 32 | code;
        }
        Arrays.sort(codes, from, to);
        int start = from;
        for (int i = from + 1; i <= to; i++) {
            if (i == to || codes[i] >> 32 != codes[start] >> 32) {
                if (i - start > 1) {
                    sort(codes, start, i, depth + Integer.BYTES);
                }
                start = i;
            }
        }
    }

    /** Four bytes of a text, zeros behind its end, as an int that compares as they do. */
    private int fourBytes(int code, int depth) {
        int four = 0;
        for (int i = starts[code] + depth; i < starts[code] + depth + Integer.BYTES; i++) {
            four = four << 8 | (i < starts[code + 1] ? bytes[i] & 0xFF : 0);
        }
        return four ^ Integer.MIN_VALUE;
    }

    /** The codes that the texts of another dictionary have here; those not here yet are added. */
    public int[] translate(Dictionary other) {
        int[] codes = new int[other.size];
        translate(other, codes, 0);
        return codes;
    }

    /**
     * As {@link #translate(Dictionary)}.
     *
     * @param codes the codes, of which the first are there already
     * @param known how many are there
     */
    public void translate(Dictionary other, int[] codes, int known) {
        for (int i = known; i < other.size; i++) {
            codes[i] = intern(other, i);
        }
    }

    private int add(byte[] from, int start, int end, long key, int place) {
        int code = size;
        int at = starts[code];
        int after = Math.addExact(at, end - start);
        if (code + 1 == starts.length - 1) {
            starts = Arrays.copyOf(starts, starts.length * 2);
            hashes = Arrays.copyOf(hashes, starts.length);
        }
        if (after > bytes.length) {
            bytes = Arrays.copyOf(bytes, Math.max(after, (int) Math.min(bytes.length * 2L, Integer.MAX_VALUE - 8)));
        }
        System.arraycopy(from, start, bytes, at, end - start);
        starts[code + 1] = after;
        hashes[code] = hash(key);
        slots[place] = key;
        slots[place + 1] = code + 1;
        size++;
        if (size * 5L > slots.length * 2L) {
            rehash();
        }
        return code;
    }

    /** Four of five places are taken at most, of two longs each: those that follow a taken one stand in the same line of memory. */
    private void rehash() {
        long[] before = slots;
        long[] places = new long[before.length * 2];
        int mask = places.length - 1;
        for (int i = 0; i < before.length; i += 2) {
            if (before[i + 1] != 0) {
                int at = hash(before[i]) << 1 & mask;
                while (places[at + 1] != 0) {
                    at = at + 2 & mask;
                }
                places[at] = before[i];
                places[at + 1] = before[i + 1];
            }
        }
        slots = places;
    }

    private boolean equal(int code, byte[] from, int start, int end) {
        int at = starts[code];
        int length = end - start;
        if (starts[code + 1] - at != length) {
            return false;
        }
        int i = 0;
        for (; i + 8 <= length; i += 8) {
            if ((long) LONGS.get(bytes, at + i) != (long) LONGS.get(from, start + i)) {
                return false;
            }
        }
        return i == length || rest(bytes, at + i, length - i) == rest(from, start + i, length - i);
    }

    /** Up to seven bytes and how many they are, which no other text has; of longer ones a negative hash. */
    private static long key(byte[] from, int start, int end) {
        int length = end - start;
        if (length < Long.BYTES) {
            return length == 0 ? 0 : rest(from, start, length) | (long) length << 56;
        }
        long hash = length;
        int i = start;
        for (; i + 8 <= end; i += 8) {
            hash = (hash ^ (long) LONGS.get(from, i)) * MIX;
            hash ^= hash >>> 32;
        }
        long rest = i == end ? 0 : rest(from, i, end - i);
        return (hash ^ rest) * MIX | Long.MIN_VALUE;
    }

    private static int hash(long key) {
        long mixed = (key ^ key >>> 32) * MIX;
        return (int) (mixed >>> 32);
    }

    /** One to seven bytes as a long: a whole long is read and cut where the array goes on far enough. */
    private static long rest(byte[] from, int start, int count) {
        if (start + 8 <= from.length) {
            return (long) LONGS.get(from, start) & -1L >>> (64 - 8 * count);
        }
        long rest = 0;
        for (int i = count - 1; i >= 0; i--) {
            rest = rest << 8 | (from[start + i] & 0xFF);
        }
        return rest;
    }
}
