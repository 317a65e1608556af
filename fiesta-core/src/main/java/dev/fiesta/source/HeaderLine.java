package dev.fiesta.source;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** The line that names the columns. */
final class HeaderLine {
    private static final int MOST_TOLD = 5;

    private HeaderLine() {}

    /** Where the first line starts that is neither a byte-order mark, skipped nor a comment. */
    static int skip(byte[] start, Dialect dialect) {
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
    static int parse(byte[] bytes, int from, Dialect dialect, List<String> cells) {
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

    /**
     * Names for all columns: trimmed; an empty one by its place, a repeated one with a number behind it.
     *
     * @param remarks gets a line for each name that had to be made
     */
    static List<String> named(List<String> cells, String file, List<String> remarks) {
        List<String> names = new ArrayList<>();
        Set<String> met = new HashSet<>();
        Map<String, Integer> times = new HashMap<>();
        List<String> nameless = new ArrayList<>();
        List<String> repeated = new ArrayList<>();
        for (int i = 0; i < cells.size(); i++) {
            String name = cells.get(i).strip();
            String base = name.isEmpty() ? "field_" + (i + 1) : name;
            String unique = base;
            while (!met.add(unique)) {
                unique = base + "_" + (times.merge(base, 1, Integer::sum) + 1);
            }
            if (name.isEmpty()) {
                nameless.add(unique);
            } else if (!unique.equals(name)) {
                repeated.add("a second column '" + name + "'; it is called " + unique);
            }
            names.add(unique);
        }
        if (!nameless.isEmpty()) {
            remarks.add(file + ": "
                    + (nameless.size() == 1
                            ? "a column has no name; it is called "
                            : nameless.size() + " columns have no name; they are called ")
                    + listed(nameless, ", ") + ".");
        }
        if (!repeated.isEmpty()) {
            remarks.add(file + ": there is " + listed(repeated, "; ") + ".");
        }
        return names;
    }

    private static String listed(List<String> all, String between) {
        String shown = String.join(between, all.subList(0, Math.min(MOST_TOLD, all.size())));
        return all.size() > MOST_TOLD ? shown + between + "and " + (all.size() - MOST_TOLD) + " more" : shown;
    }
}
