package dev.fiesta.source.files;

import dev.fiesta.problem.MachineException;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.StandardOpenOption;
import java.util.Arrays;

/** Tells from a file's bytes how its characters are written: files up to 16 MB whole, larger ones from blocks spread over them. */
enum Encoding {
    UTF_8,
    /** With a byte-order mark. */
    UTF_16_MARKED,
    UTF_16_LE,
    UTF_16_BE,
    /** Bytes that UTF-8 has not stand everywhere, and nothing else beyond ASCII. */
    WINDOWS;

    private static final int HEAD = 1 << 12;
    /** A byte that is not UTF-8 in so many is how files of another encoding are; fewer are faults. */
    private static final long BYTES_FOR_A_BAD_ONE = 20_000;

    static Encoding of(Paths.Named file) {
        try (FileChannel channel = FileChannel.open(file.path(), StandardOpenOption.READ)) {
            byte[] head = read(channel, 0, HEAD);
            Encoding wide = wide(head);
            if (wide != UTF_8) {
                return wide;
            }
            return narrow(channel);
        } catch (IOException e) {
            throw new MachineException("'" + file.name() + "' cannot be read", e);
        }
    }

    /**
     * UTF-8, unless many bytes are none and no character of several bytes is met: one bad byte in a large file, or beside good
     * characters, is a fault of the file, which whoever reads it tells with its place.
     */
    private static Encoding narrow(FileChannel channel) throws IOException {
        long bad = 0;
        long looked = 0;
        for (long[] block : SampledBytes.blocks(0, channel.size())) {
            byte[] bytes = read(channel, block[0], (int) block[1]);
            int start = block[0] == 0 ? 0 : Utf8.start(bytes);
            int end = block[0] + block[1] >= channel.size() ? bytes.length : Utf8.end(bytes);
            looked += bytes.length;
            if (!Utf8.isValid(bytes, start, end)) {
                Utf8.Met met = Utf8.met(bytes, start, end);
                if (met.wide() > 0) {
                    return UTF_8;
                }
                bad += met.bad();
            } else if (Utf8.hasWide(bytes, start, end)) {
                return UTF_8;
            }
        }
        return bad > 0 && bad >= looked / BYTES_FOR_A_BAD_ONE ? WINDOWS : UTF_8;
    }

    /** Characters of two bytes: by their mark, or by zero bytes in every other place. */
    private static Encoding wide(byte[] head) {
        if (head.length >= 2 && (head[0] & head[1] & 0xFE) == 0xFE && head[0] != head[1]) {
            return UTF_16_MARKED;
        }
        int[] zeros = new int[2];
        for (int i = 0; i < head.length; i++) {
            zeros[i & 1] += head[i] == 0 ? 1 : 0;
        }
        int many = Math.max(1, head.length / 4);
        if (zeros[1] >= many && zeros[0] == 0) {
            return UTF_16_LE;
        }
        return zeros[0] >= many && zeros[1] == 0 ? UTF_16_BE : UTF_8;
    }

    private static byte[] read(FileChannel channel, long at, int most) throws IOException {
        ByteBuffer buffer = ByteBuffer.allocate((int) Math.max(0, Math.min(most, channel.size() - at)));
        while (buffer.hasRemaining() && channel.read(buffer, at + buffer.position()) > 0) {
            continue;
        }
        return Arrays.copyOf(buffer.array(), buffer.position());
    }
}
