package dev.fiesta.source.cells;

import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * How delimited text is laid out.
 *
 * @param newline the byte that ends lines: LF, or CR in old files
 * @param comment the byte that starts a comment line, or 0
 * @param skip lines before the header
 * @param encoding the encoding told, or null: UTF-8, or UTF-16 where a byte-order mark says so
 * @param bracketsNegative whether {@code (12.50)} and {@code 12.50-} are negative
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
        List<String> missing,
        boolean bracketsNegative) {
    /** RFC 4180: commas, double quotes, a header. */
    public static final Dialect STANDARD = new Dialect(
            (byte) ',', (byte) '"', (byte) '\n', (byte) 0, 0, true, false, false, false, null, List.of(), false);

    private static final byte[] CANDIDATES = {',', ';', '\t', '|'};
    private static final int LINES = 100;

    /** This dialect with what the first bytes of a file show: its line ends and, if not told, its delimiter. */
    public Dialect seen(byte[] start, boolean delimiterTold) {
        byte found = delimiterTold ? delimiter : guess(start);
        byte end = lineEnd(start);
        if (found == delimiter && end == newline) {
            return this;
        }
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
                missing,
                bracketsNegative);
    }

    /** The first line end outside quotes: a CR without a LF behind it ends the lines of old files. */
    private byte lineEnd(byte[] start) {
        boolean quoted = false;
        for (int i = 0; i < start.length; i++) {
            quoted ^= start[i] == quote;
            if (!quoted && start[i] == '\n') {
                return '\n';
            }
            if (!quoted && start[i] == '\r' && i + 1 < start.length && start[i + 1] != '\n') {
                return '\r';
            }
        }
        return '\n';
    }

    /**
     * The candidate of which most lines have as many as the first, then the one that stands there most often; a comma when no
     * candidate stands in the first line.
     */
    private byte guess(byte[] start) {
        List<int[]> lines = counts(start);
        byte best = CANDIDATES[0];
        int mostAlike = 0;
        int most = 0;
        for (int c = 0; c < CANDIDATES.length && !lines.isEmpty(); c++) {
            int candidate = c;
            int first = lines.get(0)[c];
            int alike = (int) lines.stream().filter(l -> l[candidate] == first).count();
            if (first > 0 && (alike > mostAlike || (alike == mostAlike && first > most))) {
                best = CANDIDATES[c];
                mostAlike = alike;
                most = first;
            }
        }
        return best;
    }

    /** How often each candidate stands outside quotes, for the first lines that are neither skipped, empty nor comments. */
    private List<int[]> counts(byte[] start) {
        List<int[]> lines = new ArrayList<>();
        int at = HeaderLine.skip(start, this);
        while (at < start.length && lines.size() < LINES) {
            int[] counts = new int[CANDIDATES.length];
            boolean quoted = false;
            int from = at;
            for (; at < start.length && (quoted || (start[at] != '\n' && start[at] != '\r')); at++) {
                quoted ^= start[at] == quote;
                for (int c = 0; !quoted && c < CANDIDATES.length; c++) {
                    counts[c] += start[at] == CANDIDATES[c] ? 1 : 0;
                }
            }
            boolean whole = at < start.length || lines.isEmpty();
            boolean isComment = comment != 0 && start[from] == comment;
            if (whole && at > from && !isComment) {
                lines.add(counts);
            }
            at++;
        }
        return lines;
    }

    /** The delimiter in words: {@code semicolons (;)}. */
    public String delimiterName() {
        return switch (delimiter) {
            case ',' -> "commas (,)";
            case ';' -> "semicolons (;)";
            case '\t' -> "tabs";
            case '|' -> "upright strokes (|)";
            default -> "'" + (char) delimiter + "'";
        };
    }

    byte[][] missingBytes() {
        return missing.stream().map(m -> m.getBytes(StandardCharsets.UTF_8)).toArray(byte[][]::new);
    }
}
