package dev.fiesta.report;

import com.dynatrace.hash4j.hashing.HashStream64;
import com.dynatrace.hash4j.hashing.Hashing;
import dev.fiesta.problem.MachineException;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;
import java.util.function.ToLongFunction;
import java.util.stream.LongStream;
import java.util.zip.CRC32;
import java.util.zip.CRC32C;
import java.util.zip.Checksum;

/** What tells whether a file or a text is the one it was. */
final class Fingerprint {
    private static final int PIECE = 1 << 20;

    private Fingerprint() {}

    /**
     * Of a file: CRC-32C and CRC-32 of each piece of 1 MiB of its bytes as stored, pieces side by side, and of those sums in their
     * order. It finds changes; it is no seal against somebody who wants to deceive.
     *
     * @throws MachineException when it cannot be read
     */
    static String of(Path file, String name) {
        Checksum first = new CRC32C();
        Checksum second = new CRC32();
        for (long sums : pieces(file, name, Fingerprint::sums)) {
            byte[] bytes = ByteBuffer.allocate(Long.BYTES).putLong(sums).array();
            first.update(bytes);
            second.update(bytes);
        }
        return "crc:" + HexFormat.of().toHexDigits(first.getValue() << 32 | second.getValue());
    }

    /** Whether a file still has a fingerprint, one of those that older records have too. */
    static boolean fits(String known, Path file, String name) {
        return known.startsWith("xxh3:") ? known.equals(older(file, name)) : known.equals(of(file, name));
    }

    private static String older(Path file, String name) {
        HashStream64 all = Hashing.xxh3_64().hashStream();
        for (long hash : pieces(file, name, Hashing.xxh3_64()::hashBytesToLong)) {
            all.putLong(hash);
        }
        return "xxh3:" + HexFormat.of().toHexDigits(all.getAsLong());
    }

    private static long sums(byte[] bytes) {
        Checksum first = new CRC32C();
        Checksum second = new CRC32();
        first.update(bytes);
        second.update(bytes);
        return first.getValue() << 32 | second.getValue();
    }

    /** The size of a file, and what is made of each of its pieces. */
    private static long[] pieces(Path file, String name, ToLongFunction<byte[]> made) {
        try {
            long size = Files.size(file);
            long pieces = (size + PIECE - 1) / PIECE;
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

    /** SHA-256 of a text in UTF-8. */
    static String of(String text) {
        return of(text.getBytes(StandardCharsets.UTF_8));
    }

    static String of(byte[] bytes) {
        return finished(digest(), bytes);
    }

    static MessageDigest digest() {
        try {
            return MessageDigest.getInstance("SHA-256");
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }

    static String finished(MessageDigest digest, byte[] last) {
        return "sha256:" + HexFormat.of().formatHex(digest.digest(last));
    }
}
