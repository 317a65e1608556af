package dev.fiesta.crew;

import java.io.BufferedInputStream;
import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.nio.ByteBuffer;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.UUID;
import java.util.zip.CRC32C;
import java.util.zip.InflaterInputStream;

/**
 * A file that members and the one who asks hand each other: sections, each packed and with a sum, and at the end where they end. It
 * is written beside its place and moved there once it is whole, so that writing it twice does no harm and nobody reads half of it.
 */
public final class StageFile {
    private static final int BUFFER = 1 << 16;
    /** Of a section: where it ends, its sum. */
    static final int ENTRY = Long.BYTES + Integer.BYTES;
    /** How many sections, and the sum of what is told of them. */
    private static final int TAIL = 2 * Integer.BYTES;

    private StageFile() {}

    /** Writes a file whole, or not at all. */
    public static void write(Path file, Crew.Content content) throws IOException {
        Path beside = file.resolveSibling(file.getFileName() + "." + UUID.randomUUID() + ".part");
        try {
            try (PackedSections out = new PackedSections(Files.newOutputStream(beside))) {
                content.writeTo(out);
                out.finish();
            }
            Files.move(beside, file, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
        } finally {
            Files.deleteIfExists(beside);
        }
    }

    /** Whether a file is there, and whole. */
    public static boolean isWhole(Path file) {
        try (FileChannel channel = FileChannel.open(file, StandardOpenOption.READ)) {
            ByteBuffer index = index(channel);
            for (int section = 0; section * ENTRY < index.limit(); section++) {
                check(channel, index, section);
            }
            return true;
        } catch (IOException e) {
            return false;
        }
    }

    /**
     * What was written into a section, from its beginning. It is looked through before, and whatever becomes of the file afterwards, it is
     * this one that is read.
     *
     * @param section its number, from 0
     * @throws IOException when it is not there, or not whole
     */
    public static InputStream open(Path file, int section) throws IOException {
        FileChannel channel = FileChannel.open(file, StandardOpenOption.READ);
        try {
            ByteBuffer index = index(channel);
            if (section * ENTRY >= index.limit()) {
                throw new EOFException("it has no section " + section);
            }
            check(channel, index, section);
            channel.position(start(index, section));
            return new InflaterInputStream(new BufferedInputStream(Channels.newInputStream(channel), BUFFER));
        } catch (IOException | RuntimeException e) {
            channel.close();
            throw e;
        }
    }

    /** Where sections end, and their sums. */
    private static ByteBuffer index(FileChannel channel) throws IOException {
        long end = channel.size() - TAIL;
        ByteBuffer tail = read(channel, end, TAIL);
        int sections = tail.getInt();
        if (sections <= 0 || (long) sections * ENTRY > end) {
            throw damaged();
        }
        ByteBuffer index = read(channel, end - (long) sections * ENTRY, sections * ENTRY);
        if (tail.getInt() != sum(index)) {
            throw damaged();
        }
        return index;
    }

    /** The sum of all that is told of sections. */
    static int sum(ByteBuffer index) {
        CRC32C sum = new CRC32C();
        sum.update(index.duplicate());
        return (int) sum.getValue();
    }

    private static long start(ByteBuffer index, int section) {
        return section == 0 ? 0 : index.getLong((section - 1) * ENTRY);
    }

    private static void check(FileChannel channel, ByteBuffer index, int section) throws IOException {
        long end = index.getLong(section * ENTRY);
        CRC32C sum = new CRC32C();
        for (long at = start(index, section); at < end; at += BUFFER) {
            sum.update(read(channel, at, (int) Math.min(BUFFER, end - at)));
        }
        if (index.getInt(section * ENTRY + Long.BYTES) != (int) sum.getValue()) {
            throw damaged();
        }
    }

    private static ByteBuffer read(FileChannel channel, long at, int length) throws IOException {
        ByteBuffer bytes = ByteBuffer.allocate(length);
        while (bytes.hasRemaining()) {
            if (at < 0 || channel.read(bytes, at + bytes.position()) < 0) {
                throw new EOFException("it was cut off");
            }
        }
        return bytes.flip();
    }

    private static IOException damaged() {
        return new IOException("it is damaged");
    }
}
