package dev.fiesta.source;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;

/** The line that names the columns. */
final class HeaderLine {
    private HeaderLine() {}

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

    /** Names for all columns: trimmed; an empty one by its place, a repeated one with a number behind it. */
    static List<String> named(List<String> cells) {
        List<String> names = new ArrayList<>();
        Set<String> met = new HashSet<>();
        for (int i = 0; i < cells.size(); i++) {
            String name = cells.get(i).strip();
            String base = name.isEmpty() ? "column_" + (i + 1) : name;
            String unique = base;
            for (int n = 2; !met.add(unique); n++) {
                unique = base + "_" + n;
            }
            names.add(unique);
        }
        return names;
    }
}
