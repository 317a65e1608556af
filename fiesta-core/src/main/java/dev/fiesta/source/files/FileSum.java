package dev.fiesta.source.files;

import dev.fiesta.problem.MachineException;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HexFormat;
import java.util.function.ToLongFunction;
import java.util.stream.LongStream;
import java.util.zip.CRC32;
import java.util.zip.CRC32C;
import java.util.zip.Checksum;

/** What tells whether a file is the one it was. It finds changes; it is no seal against somebody who wants to deceive. */
public final class FileSum {
    private static final String PREFIX = "crc:";
    private static final int PIECE = 1 << 20;

    private FileSum() {}

    /**
     * Of a file: CRC-32C and CRC-32 of each piece of 1 MiB of its bytes as stored, pieces side by side, and of those sums in their
     * order.
     *
     * @return such as {@code crc:0011223344556677}
     * @throws MachineException when it cannot be read
     */
    public static String of(Path file, String name) {
        return of(pieces(file, name, FileSum::sums));
    }

    /**
     * As {@link #of(Path, String)}, of what was found of each piece.
     *
     * @param all the size of the file, then what {@link #some} gave for its pieces
     */
    public static String of(long[] all) {
        Checksum first = new CRC32C();
        Checksum second = new CRC32();
        for (long sums : all) {
            byte[] bytes = ByteBuffer.allocate(Long.BYTES).putLong(sums).array();
            first.update(bytes);
            second.update(bytes);
        }
        return PREFIX + HexFormat.of().toHexDigits(first.getValue() << 32 | second.getValue());
    }

    /** The digits of what {@link #of(Path, String)} gives, for a name of a file. */
    public static String digits(Path file) {
        return of(file, file.toString()).substring(PREFIX.length());
    }

    /** The digits of both sums of bytes, for a name of a file. */
    public static String digits(byte[] bytes) {
        return HexFormat.of().toHexDigits(sums(bytes));
    }

    /** The number of pieces of a file of so many bytes. */
    public static long pieces(long size) {
        return (size + PIECE - 1) / PIECE;
    }

    /** About the pieces that so many bytes make, one at least. */
    public static long piecesIn(long bytes) {
        return Math.max(1, bytes / PIECE);
    }

    /** The sums of the pieces of a file from one to before another. */
    public static long[] some(Path file, long from, long to) throws IOException {
        long[] sums = new long[Math.toIntExact(to - from)];
        try (InputStream in = Files.newInputStream(file)) {
            in.skipNBytes(from * PIECE);
            for (int i = 0; i < sums.length; i++) {
                sums[i] = sums(in.readNBytes(PIECE));
            }
        }
        return sums;
    }

    private static long sums(byte[] bytes) {
        Checksum first = new CRC32C();
        Checksum second = new CRC32();
        first.update(bytes);
        second.update(bytes);
        return first.getValue() << 32 | second.getValue();
    }

    /** The size of a file, and what is made of each of its pieces. */
    public static long[] pieces(Path file, String name, ToLongFunction<byte[]> made) {
        try {
            long size = Files.size(file);
            long pieces = pieces(size);
            return LongStream.concat(
                            LongStream.of(size),
                            LongStream.range(0, pieces).parallel().map(p -> made.applyAsLong(piece(file, p * PIECE))))
                    .toArray();
        } catch (IOException e) {
            throw new MachineException("'" + name + "' cannot be read", e);
        } catch (UncheckedIOException e) {
            throw new MachineException("'" + name + "' cannot be read", e.getCause());
        }
    }

    private static byte[] piece(Path file, long from) {
        try (InputStream in = Files.newInputStream(file)) {
            in.skipNBytes(from);
            return in.readNBytes(PIECE);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
