package dev.fiesta.source;

import dev.fiesta.value.Type;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Lays records out as delimited text in memory, so that cells of all inputs are read by the same hands. */
final class LineCells implements LineFormat.Fields {
    /** A unit separator: cells are quoted, so it need not be rare, only cheap to find. */
    static final byte DELIMITER = 0x1F;

    private static final byte QUOTE = '"';

    private final List<FieldSpec> fields;
    private final Map<String, Integer> places = new HashMap<>();
    private final Map<String, Type> unknown = new LinkedHashMap<>();
    private final byte[][] row;
    private byte[] bytes = new byte[1 << 16];
    private int length;
    private long[] lines = new long[1 << 10];
    private int rows;

    LineCells(List<FieldSpec> fields) {
        this.fields = fields;
        this.row = new byte[fields.size()][];
        for (int i = 0; i < fields.size(); i++) {
            places.put(fields.get(i).column(), i);
        }
    }

    void clear() {
        length = 0;
        rows = 0;
        Arrays.fill(row, null);
    }

    /** Ends a row; its record stands in the line that starts at a byte of the file. */
    void endRow(long line) {
        for (int f = 0; f < row.length; f++) {
            byte[] cell = row[f];
            int needed = length + (cell == null ? 0 : cell.length) + 2 + Cells.PADDING;
            if (needed > bytes.length) {
                bytes = Arrays.copyOf(bytes, Math.max(needed, bytes.length * 2));
            }
            if (cell != null) {
                System.arraycopy(cell, 0, bytes, length, cell.length);
                length += cell.length;
            }
            bytes[length++] = f + 1 < row.length ? DELIMITER : (byte) '\n';
            row[f] = null;
        }
        if (rows == lines.length) {
            lines = Arrays.copyOf(lines, rows * 2);
        }
        lines[rows++] = line;
    }

    byte[] bytes() {
        return bytes;
    }

    int length() {
        return length;
    }

    /** Where the record of a row starts in the file. */
    long line(int row) {
        return lines[row];
    }

    /** Fields met that were not known of, with the types of their values. */
    Map<String, Type> unknown() {
        return unknown;
    }

    private void put(String name, String cell, Type type) {
        Integer place = places.get(name);
        if (place == null) {
            unknown.merge(name, type, CellType::both);
        } else {
            row[place] = cell.getBytes(StandardCharsets.UTF_8);
        }
    }

    @Override
    public void text(String name, String value) {
        String quoted = (char) QUOTE + value.replace("\"", "\"\"") + (char) QUOTE;
        put(name, quoted, places.containsKey(name) ? Type.TEXT : LineGuess.typeOfText(value));
    }

    @Override
    public void number(String name, String digits) {
        byte[] known = digits.getBytes(StandardCharsets.US_ASCII);
        put(name, digits, places.containsKey(name) ? Type.NUMBER : CellType.ofNumber(known));
    }

    @Override
    public void truth(String name, boolean value) {
        put(name, Boolean.toString(value), Type.TRUTH);
    }

    @Override
    public void missing(String name) {
        put(name, "", Type.EMPTY);
    }
}
