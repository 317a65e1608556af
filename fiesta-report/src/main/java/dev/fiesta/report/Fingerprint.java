package dev.fiesta.report;

import com.dynatrace.hash4j.hashing.HashStream64;
import com.dynatrace.hash4j.hashing.Hashing;
import dev.fiesta.problem.MachineException;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;
import java.util.stream.LongStream;

/** What tells whether a file or a text is the one it was. */
final class Fingerprint {
    private static final int PIECE = 1 << 20;

    private Fingerprint() {}

    /**
     * Of a file: XXH3 of each piece of 1 MiB of its bytes as stored, pieces side by side, and of those hashes in their order.
     * It finds changes; it is no seal against somebody who wants to deceive.
     *
     * @throws MachineException when it cannot be read
     */
    static String of(Path file, String name) {
        try {
            long size = Files.size(file);
            long pieces = (size + PIECE - 1) / PIECE;
            long[] hashes = LongStream.range(0, pieces)
                    .parallel()
                    .map(p -> piece(file, p * PIECE))
                    .toArray();
            HashStream64 all = Hashing.xxh3_64().hashStream();
            all.putLong(size);
            for (long hash : hashes) {
                all.putLong(hash);
            }
            return "xxh3:" + HexFormat.of().toHexDigits(all.getAsLong());
        } catch (IOException e) {
            throw new MachineException("'" + name + "' cannot be read", e);
        } catch (UncheckedIOException e) {
            throw new MachineException("'" + name + "' cannot be read", e.getCause());
        }
    }

    private static long piece(Path file, long from) {
        try (InputStream in = Files.newInputStream(file)) {
            in.skipNBytes(from);
            byte[] bytes = in.readNBytes(PIECE);
            return Hashing.xxh3_64().hashBytesToLong(bytes);
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
