package dev.fiesta.copy;

import dev.fiesta.copy.CopyIndex.Segment;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.Arrays;
import java.util.concurrent.atomic.AtomicLong;
import java.util.zip.CRC32C;

/** The bytes of a copy: segments, then the index, then where that stands. For several threads at once. */
final class CopyFile implements AutoCloseable {
    private static final byte[] MARK = "fiesta copy 1\n".getBytes(StandardCharsets.US_ASCII);
    /** The place, length and check of the index, and the mark. */
    private static final int FOOT = Long.BYTES + Integer.BYTES + Integer.BYTES + MARK.length;

    private final FileChannel channel;
    private final AtomicLong end = new AtomicLong();
    private final long most;

    /** Where the index stands, and what tells it from others. */
    private record Foot(long at, int length, int check) {}

    private CopyFile(FileChannel channel, long most) {
        this.channel = channel;
        this.most = most;
    }

    /** Bytes that are not those that were written. */
    static final class Damaged extends IOException {
        private static final long serialVersionUID = 1L;

        Damaged(String message) {
            super(message);
        }
    }

    /** @param most the bytes that may be written */
    static CopyFile writing(FileChannel channel, long most) {
        return new CopyFile(channel, most);
    }

    static CopyFile reading(Path file) throws IOException {
        return new CopyFile(FileChannel.open(file, StandardOpenOption.READ), 0);
    }

    /** @throws IOException when what stands there now has another index */
    static CopyFile reading(Path file, int check) throws IOException {
        CopyFile copy = reading(file);
        if (copy.foot().check() != check) {
            copy.close();
            throw new IOException("another copy stands there now");
        }
        return copy;
    }

    /** @throws IOException when it is larger than it may be, or cannot be written */
    Segment write(ByteBuffer bytes, boolean coded, long least, long greatest) throws IOException {
        int length = bytes.remaining();
        int check = check(bytes);
        long at = end.getAndAdd(length);
        if (at + length > most) {
            throw new IOException("it would take more than copies may");
        }
        put(bytes, at);
        return new Segment(at, length, check, coded, least, greatest);
    }

    private void put(ByteBuffer bytes, long from) throws IOException {
        for (long at = from; bytes.hasRemaining(); ) {
            at += channel.write(bytes, at);
        }
    }

    /** Ends what was written. */
    void finish(CopyIndex index) throws IOException {
        byte[] bytes = index.bytes();
        long at = end.get();
        put(ByteBuffer.wrap(bytes), at);
        ByteBuffer foot = ByteBuffer.allocate(FOOT);
        foot.putLong(at).putInt(bytes.length).putInt(check(ByteBuffer.wrap(bytes)));
        put(foot.put(MARK).flip(), at + bytes.length);
        channel.force(false);
    }

    private Foot foot() throws IOException {
        long size = channel.size();
        if (size < FOOT) {
            throw new Damaged("it is too short");
        }
        ByteBuffer bytes = bytes(size - FOOT, FOOT);
        Foot foot = new Foot(bytes.getLong(), bytes.getInt(), bytes.getInt());
        if (!Arrays.equals(MARK, 0, MARK.length, bytes.array(), bytes.position(), FOOT)
                || foot.length < 0
                || foot.at < 0
                || foot.at + foot.length != size - FOOT) {
            throw new Damaged("its end is none");
        }
        return foot;
    }

    /** What tells its index from others. */
    int check() throws IOException {
        return foot().check();
    }

    /** @throws IOException when this is no copy, or a damaged one */
    CopyIndex index() throws IOException {
        Foot foot = foot();
        ByteBuffer index = bytes(foot.at, foot.length);
        if (check(index) != foot.check) {
            throw new Damaged("its index is not the one that was written");
        }
        return CopyIndex.read(index.array());
    }

    /** @throws IOException when the bytes are not those that were written */
    ByteBuffer read(Segment segment) throws IOException {
        ByteBuffer bytes = bytes(segment.at(), segment.bytes());
        if (check(bytes) != segment.check()) {
            throw new Damaged("values in it are not those that were written");
        }
        return bytes;
    }

    private ByteBuffer bytes(long from, int length) throws IOException {
        ByteBuffer bytes = ByteBuffer.allocate(length);
        while (bytes.hasRemaining()) {
            if (channel.read(bytes, from + bytes.position()) < 0) {
                throw new Damaged("it is shorter than it was");
            }
        }
        return bytes.flip();
    }

    private static int check(ByteBuffer bytes) {
        CRC32C check = new CRC32C();
        check.update(bytes.array(), bytes.arrayOffset() + bytes.position(), bytes.remaining());
        return (int) check.getValue();
    }

    @Override
    public void close() throws IOException {
        channel.close();
    }
}
