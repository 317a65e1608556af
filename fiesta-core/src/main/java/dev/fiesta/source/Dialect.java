package dev.fiesta.source;

import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * How delimited text is laid out.
 *
 * @param newline the byte that ends lines: LF, or CR in old files
 * @param comment the byte that starts a comment line, or 0
 * @param skip lines before the header
 * @param encoding the encoding told, or null: UTF-8, or UTF-16 where a byte-order mark says so
 * @param missing what stands for a missing value besides nothing at all
 */
public record Dialect(
        byte delimiter,
        byte quote,
        byte newline,
        byte comment,
        int skip,
        boolean header,
        boolean decimalComma,
        boolean quotedEmptyAsMissing,
        boolean shortRowsAsMissing,
        @Nullable Charset encoding,
        List<String> missing) {
    /** RFC 4180: commas, double quotes, a header. */
    public static final Dialect STANDARD =
            new Dialect((byte) ',', (byte) '"', (byte) '\n', (byte) 0, 0, true, false, false, false, null, List.of());

    private static final byte[] CANDIDATES = {',', ';', '\t', '|'};

    /** This dialect with what the first bytes of a file show: its line ends and, if not told, its delimiter. */
    Dialect seen(byte[] start, boolean delimiterTold) {
        byte found = delimiterTold ? delimiter : guess(start);
        boolean feeds = false;
        boolean returns = false;
        for (byte b : start) {
            feeds |= b == '\n';
            returns |= b == '\r';
        }
        byte end = !feeds && returns ? (byte) '\r' : (byte) '\n';
        return new Dialect(
                found,
                quote,
                end,
                comment,
                skip,
                header,
                decimalComma,
                quotedEmptyAsMissing,
                shortRowsAsMissing,
                encoding,
                missing);
    }

    /** The candidate that stands most often in the first line outside quotes; a comma when there is none. */
    private byte guess(byte[] start) {
        int[] counts = new int[CANDIDATES.length];
        boolean quoted = false;
        boolean lineStart = true;
        boolean inComment = false;
        int lines = 0;
        for (byte b : start) {
            inComment = lineStart ? comment != 0 && b == comment : inComment;
            lineStart = b == '\n' || b == '\r';
            quoted ^= b == quote && !inComment;
            if (!quoted && lineStart && !inComment && lines++ >= skip) {
                break;
            }
            for (int i = 0; !quoted && !inComment && lines >= skip && i < CANDIDATES.length; i++) {
                counts[i] += b == CANDIDATES[i] ? 1 : 0;
            }
        }
        int best = 0;
        for (int i = 1; i < counts.length; i++) {
            best = counts[i] > counts[best] ? i : best;
        }
        return CANDIDATES[best];
    }

    byte[][] missingBytes() {
        return missing.stream().map(m -> m.getBytes(StandardCharsets.UTF_8)).toArray(byte[][]::new);
    }
}
