package dev.fiesta.crew;

import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.DataOutputStream;
import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.ByteBuffer;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.UUID;
import java.util.zip.CRC32C;
import java.util.zip.CheckedOutputStream;
import java.util.zip.Deflater;
import java.util.zip.DeflaterOutputStream;
import java.util.zip.InflaterInputStream;

/**
 * A file that members and the one who asks hand each other: packed, with a sum at its end, written beside its place and moved
 * there once it is whole, so that writing it twice does no harm and nobody reads half of it.
 */
public final class StageFile {
    private static final int BUFFER = 1 << 16;
    private static final int SUM = Integer.BYTES;

    private StageFile() {}

    /** Writes a file whole, or not at all. */
    public static void write(Path file, Crew.Content content) throws IOException {
        Path beside = file.resolveSibling(file.getFileName() + "." + UUID.randomUUID() + ".part");
        Deflater deflater = new Deflater(Deflater.BEST_SPEED);
        try {
            try (OutputStream out = new BufferedOutputStream(Files.newOutputStream(beside), BUFFER)) {
                CheckedOutputStream checked = new CheckedOutputStream(out, new CRC32C());
                DeflaterOutputStream packed = new DeflaterOutputStream(checked, deflater, BUFFER);
                BufferedOutputStream gathered = new BufferedOutputStream(packed, BUFFER);
                content.writeTo(gathered);
                gathered.flush();
                packed.finish();
                new DataOutputStream(out).writeInt((int) checked.getChecksum().getValue());
            }
            Files.move(beside, file, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
        } finally {
            deflater.end();
            Files.deleteIfExists(beside);
        }
    }

    /** Whether a file is there, and whole. */
    public static boolean isWhole(Path file) {
        try {
            open(file).close();
            return true;
        } catch (IOException e) {
            return false;
        }
    }

    /**
     * What was written, from the beginning. It is looked through before, and whatever becomes of the file afterwards, it is this one that
     * is read.
     *
     * @throws IOException when it is not there, or not whole
     */
    public static InputStream open(Path file) throws IOException {
        FileChannel channel = FileChannel.open(file, StandardOpenOption.READ);
        try {
            long length = channel.size() - SUM;
            CRC32C sum = new CRC32C();
            ByteBuffer bytes = ByteBuffer.allocate(BUFFER);
            for (long at = 0; at < length; at += bytes.limit()) {
                bytes.clear().limit((int) Math.min(BUFFER, length - at));
                read(channel, bytes, at);
                sum.update(bytes.flip());
            }
            ByteBuffer told = ByteBuffer.allocate(SUM);
            read(channel, told, Math.max(0, length));
            if (told.flip().getInt() != (int) sum.getValue()) {
                throw new IOException("it is damaged");
            }
            return new InflaterInputStream(new BufferedInputStream(Channels.newInputStream(channel), BUFFER));
        } catch (IOException | RuntimeException e) {
            channel.close();
            throw e;
        }
    }

    private static void read(FileChannel channel, ByteBuffer bytes, long at) throws IOException {
        while (bytes.hasRemaining()) {
            if (channel.read(bytes, at + bytes.position()) < 0) {
                throw new EOFException("it was cut off");
            }
        }
    }
}
