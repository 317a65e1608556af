package dev.fiesta.parquet;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.Arrays;

/**
 * Small numbers as the format packs them: runs of one number, and groups of eight numbers of a few bits each. All of a page are unpacked
 * at once.
 */
final class ParquetLevels {
    private ParquetLevels() {}

    /**
     * Unpacks numbers.
     *
     * @param bits of each number, 0 to 32
     * @param count how many numbers
     */
    static int[] unpacked(ByteBuffer from, int bits, int count) {
        ByteBuffer in = from.slice().order(ByteOrder.LITTLE_ENDIAN);
        int[] out = new int[count];
        int bytes = (bits + 7) / 8;
        for (int done = 0; done < count; ) {
            int header = unsigned(in);
            if ((header & 1) == 0) {
                int run = header >>> 1;
                int value = 0;
                for (int b = 0; b < bytes; b++) {
                    value |= (in.get() & 0xFF) << 8 * b;
                }
                int end = (int) Math.min(count, (long) done + run);
                if (run == 0) {
                    throw new IllegalArgumentException("a run of nothing");
                }
                Arrays.fill(out, done, end, value);
                done = end;
            } else {
                done = groups(in, (header >>> 1) * 8, bits, out, done);
            }
        }
        return out;
    }

    /** Numbers of a few bits, the lowest bits of the first byte first. The last group may be cut off. */
    private static int groups(ByteBuffer in, int numbers, int bits, int[] out, int start) {
        int end = (int) Math.min(out.length, (long) start + numbers);
        int packed = (int) ((long) numbers * bits / 8);
        long mask = (1L << bits) - 1;
        long held = 0;
        int heldBits = 0;
        int used = 0;
        for (int i = start; i < end; i++) {
            while (heldBits < bits) {
                held |= (in.get() & 0xFFL) << heldBits;
                heldBits += 8;
                used++;
            }
            out[i] = (int) (held & mask);
            held >>>= bits;
            heldBits -= bits;
        }
        in.position(Math.min(in.limit(), in.position() + packed - used));
        return end;
    }

    private static int unsigned(ByteBuffer in) {
        int value = 0;
        for (int shift = 0; ; shift += 7) {
            byte b = in.get();
            value |= (b & 0x7F) << shift;
            if (b >= 0) {
                return value;
            }
        }
    }
}
