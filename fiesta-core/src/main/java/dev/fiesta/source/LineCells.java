package dev.fiesta.source;

import dev.fiesta.source.cells.CellFinder;
import dev.fiesta.source.cells.CellType;
import dev.fiesta.source.cells.FieldSpec;
import dev.fiesta.source.cells.FoundCells;
import dev.fiesta.value.Type;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/**
 * Lays the fields of records out as cells in memory, so that cells of all inputs are read by the same hands. Only the fields that a
 * record has take room: records of many kinds may name very many fields between them.
 */
final class LineCells implements LineFormat.Fields {
    /** What parts cells in lines; here nothing, but a dialect needs one. */
    static final byte DELIMITER = 0x1F;

    private static final byte QUOTE = '"';
    private static final String QUOTED = "\"";

    private final Map<String, Integer> places = new HashMap<>();
    private final Map<String, Type> unknown = new LinkedHashMap<>();
    private byte[] bytes = new byte[1 << 16];
    private int length;
    private long[] lines = new long[1 << 10];
    private long[] ends = new long[1 << 10];
    private final Map<Integer, String> odd = new TreeMap<>();
    private int[] rowStarts = new int[1 << 10];
    private int rows;
    /** The cells met, in the order of their records: field, row, start and end. */
    private int[] cells = new int[1 << 12];

    private int met;
    /** For each field where its cells begin in {@link #byField}. */
    private final int[] firsts;

    private int[] byField = new int[0];

    LineCells(List<FieldSpec> fields) {
        for (int i = 0; i < fields.size(); i++) {
            places.put(fields.get(i).column(), i);
        }
        firsts = new int[fields.size() + 1];
    }

    void clear() {
        odd.clear();
        length = 0;
        rows = 0;
        met = 0;
    }

    int rows() {
        return rows;
    }

    /** The row that comes next is none that can be read. */
    void odd(String why) {
        odd.put(rows, why);
    }

    /** Rows that cannot be read, and why. */
    Map<Integer, String> odd() {
        return odd;
    }

    /** Where the line of a row ends in the file. */
    long lineEnd(int row) {
        return ends[row];
    }

    /** Ends a row; its record stands in the line from one byte of the file to before another. */
    void endRow(long line, long end) {
        if (rows + 1 >= lines.length) {
            lines = Arrays.copyOf(lines, rows * 2);
            ends = Arrays.copyOf(ends, rows * 2);
            rowStarts = Arrays.copyOf(rowStarts, rows * 2);
        }
        ends[rows] = end;
        lines[rows++] = line;
        rowStarts[rows] = length;
    }

    byte[] bytes() {
        return bytes;
    }

    /** Where the record of a row starts in the file. */
    long line(int row) {
        return lines[row];
    }

    /** The row of a cell that starts at a byte. */
    int row(int offset) {
        int found = Arrays.binarySearch(rowStarts, 1, rows, offset);
        int row = found >= 0 ? found : -found - 2;
        while (row + 1 < rows && rowStarts[row + 1] <= offset) {
            row++;
        }
        return row;
    }

    /** Puts the cells of each field together, once all rows are there. */
    void gather() {
        Arrays.fill(firsts, 0);
        for (int i = 0; i < met; i++) {
            firsts[cells[4 * i] + 1]++;
        }
        for (int f = 1; f < firsts.length; f++) {
            firsts[f] += firsts[f - 1];
        }
        if (byField.length < met) {
            byField = new int[met];
        }
        int[] next = firsts.clone();
        for (int i = 0; i < met; i++) {
            byField[next[cells[4 * i]]++] = i;
        }
    }

    /** Hands the cells of a field over, one a row. */
    void column(int field, FoundCells to) {
        int[] starts = new int[rows];
        int[] ends = new int[rows];
        for (int i = firsts[field]; i < firsts[field + 1]; i++) {
            int cell = 4 * byField[i];
            starts[cells[cell + 1]] = cells[cell + 2];
            ends[cells[cell + 1]] = cells[cell + 3];
        }
        to.take(starts, ends, rows);
    }

    /** How many cells a field has. */
    int cells(int field) {
        return firsts[field + 1] - firsts[field];
    }

    /**
     * Hands over only the cells that a field has, and an empty one behind them.
     *
     * @return for each row which of them is its own
     */
    int[] thinned(int field, FoundCells to) {
        int there = cells(field);
        int[] spread = new int[rows];
        int[] starts = new int[there + 1];
        int[] ends = new int[there + 1];
        Arrays.fill(spread, there);
        for (int i = 0; i < there; i++) {
            int cell = 4 * byField[firsts[field] + i];
            spread[cells[cell + 1]] = i;
            starts[i] = cells[cell + 2];
            ends[i] = cells[cell + 3];
        }
        to.take(starts, ends, there + 1);
        return spread;
    }

    /** Fields met that were not known of, with the types of their values. */
    Map<String, Type> unknown() {
        return unknown;
    }

    private void put(String name, String text, Type type) {
        Integer place = places.get(name);
        if (place == null) {
            unknown.merge(name, type, CellType::both);
            return;
        }
        byte[] cell = text.getBytes(StandardCharsets.UTF_8);
        int needed = length + cell.length + CellFinder.PADDING;
        if (needed > bytes.length) {
            bytes = Arrays.copyOf(bytes, Math.max(needed, bytes.length * 2));
        }
        if (4 * met + 4 > cells.length) {
            cells = Arrays.copyOf(cells, cells.length * 2);
        }
        System.arraycopy(cell, 0, bytes, length, cell.length);
        cells[4 * met] = place;
        cells[4 * met + 1] = rows;
        cells[4 * met + 2] = length;
        length += cell.length;
        cells[4 * met++ + 3] = length;
    }

    @Override
    public void text(String name, String value) {
        String quoted = QUOTED + value.replace(QUOTED, QUOTED + QUOTED) + QUOTED;
        put(name, quoted, places.containsKey(name) ? Type.TEXT : LineGuess.typeOfText(value));
    }

    @Override
    public void number(String name, String digits) {
        byte[] known = digits.getBytes(StandardCharsets.US_ASCII);
        put(name, digits, places.containsKey(name) ? Type.REAL : CellType.ofNumber(known));
    }

    @Override
    public void cell(String name, String written) {
        if (places.containsKey(name)) {
            boolean quoted = !written.isEmpty() && written.charAt(0) == QUOTE;
            put(name, quoted ? QUOTED + written.replace(QUOTED, QUOTED + QUOTED) + QUOTED : written, Type.TEXT);
        } else {
            unknown.merge(name, LineGuess.typeOfText(written), CellType::both);
        }
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
