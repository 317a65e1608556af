package dev.fiesta.report;

import com.dynatrace.hash4j.hashing.HashStream64;
import com.dynatrace.hash4j.hashing.Hashing;
import dev.fiesta.Tables;
import dev.fiesta.source.files.FileSum;
import dev.fiesta.source.files.Paths;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.DigestInputStream;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;

/** What tells whether a file or a text is the one it was. */
final class Fingerprint {
    private Fingerprint() {}

    /** Whether a file of some tables still has a fingerprint, one of those that older records have too. */
    static boolean fits(String known, Paths.Named file, Tables tables) {
        return known.equals(known.startsWith("xxh3:") ? older(file.path(), file.name()) : tables.sum(file));
    }

    private static String older(Path file, String name) {
        HashStream64 all = Hashing.xxh3_64().hashStream();
        for (long hash : FileSum.pieces(file, name, Hashing.xxh3_64()::hashBytesToLong)) {
            all.putLong(hash);
        }
        return "xxh3:" + HexFormat.of().toHexDigits(all.getAsLong());
    }

    /** SHA-256 of a text in UTF-8. */
    static String of(String text) {
        return of(text.getBytes(StandardCharsets.UTF_8));
    }

    static String of(byte[] bytes) {
        return finished(digest(), bytes);
    }

    /** SHA-256 of a file, which may be larger than memory. */
    static String of(Path file) throws IOException {
        MessageDigest digest = digest();
        try (InputStream in = new DigestInputStream(Files.newInputStream(file), digest)) {
            in.transferTo(OutputStream.nullOutputStream());
        }
        return finished(digest, new byte[0]);
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
