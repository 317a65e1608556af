package dev.fiesta.crew;

import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.zip.CRC32C;
import java.util.zip.CheckedInputStream;
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
        Path beside = file.resolveSibling(file.getFileName() + "." + Long.toHexString(System.nanoTime()) + ".part");
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
        try (InputStream in = new BufferedInputStream(Files.newInputStream(file), BUFFER)) {
            long length = Files.size(file) - SUM;
            CheckedInputStream checked = new CheckedInputStream(in, new CRC32C());
            checked.skipNBytes(Math.max(0, length));
            return length >= 0
                    && new DataInputStream(in).readInt()
                            == (int) checked.getChecksum().getValue();
        } catch (IOException e) {
            return false;
        }
    }

    /** What was written, from the beginning. */
    public static InputStream open(Path file) throws IOException {
        return new InflaterInputStream(new BufferedInputStream(Files.newInputStream(file), BUFFER));
    }
}
