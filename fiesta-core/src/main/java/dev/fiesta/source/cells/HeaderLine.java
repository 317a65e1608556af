package dev.fiesta.source.cells;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.util.List;

/** The line that names the columns. */
public final class HeaderLine {
    private HeaderLine() {}

    /** Where the first line starts that is neither a byte-order mark, skipped nor a comment. */
    public static int skip(byte[] start, Dialect dialect) {
        boolean marked =
                start.length >= 3 && start[0] == (byte) 0xEF && start[1] == (byte) 0xBB && start[2] == (byte) 0xBF;
        int at = marked ? 3 : 0;
        for (int line = 0; line < dialect.skip(); line++) {
            at = nextLine(start, at);
        }
        while (dialect.comment() != 0 && at < start.length && start[at] == dialect.comment()) {
            at = nextLine(start, at);
        }
        return at;
    }

    /** Behind a LF, a CR with a LF behind it, or a CR alone. */
    private static int nextLine(byte[] bytes, int from) {
        int at = from;
        while (at < bytes.length && bytes[at] != '\n' && bytes[at] != '\r') {
            at++;
        }
        boolean two = at + 1 < bytes.length && bytes[at] == '\r' && bytes[at + 1] == '\n';
        return Math.min(bytes.length, at + (two ? 2 : 1));
    }

    /**
     * Reads the cells of the line at a place.
     *
     * @return where the next line starts, or -1 when the bytes end before the line does
     */
    public static int parse(byte[] bytes, int from, Dialect dialect, List<String> cells) {
        ByteArrayOutputStream cell = new ByteArrayOutputStream();
        boolean quoted = false;
        boolean start = true;
        int i = from;
        for (; i < bytes.length; i++) {
            byte b = bytes[i];
            if (quoted) {
                if (b != dialect.quote()) {
                    cell.write(b);
                } else if (i + 1 < bytes.length && bytes[i + 1] == dialect.quote()) {
                    cell.write(b);
                    i++;
                } else {
                    quoted = false;
                }
            } else if (b == dialect.quote() && start) {
                quoted = true;
                start = false;
            } else if (b == dialect.delimiter()) {
                end(cell, cells);
                start = true;
            } else if (b == dialect.newline()) {
                end(cell, cells);
                return i + 1;
            } else {
                cell.write(b);
                start = false;
            }
        }
        if (i > from) {
            end(cell, cells);
        }
        return -1;
    }

    private static void end(ByteArrayOutputStream cell, List<String> cells) {
        String text = cell.toString(StandardCharsets.UTF_8);
        cells.add(text.endsWith("\r") ? text.substring(0, text.length() - 1) : text);
        cell.reset();
    }
}
