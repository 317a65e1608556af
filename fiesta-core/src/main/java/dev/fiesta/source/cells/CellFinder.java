package dev.fiesta.source.cells;

import java.lang.invoke.MethodHandles;
import java.lang.invoke.VarHandle;
import java.nio.ByteOrder;
import java.util.Arrays;
import java.util.Map;
import java.util.TreeMap;

/**
 * Finds the cells of rows in a block of bytes: where each row starts and where each cell ends. Of 64 bytes those that are a
 * delimiter, a line end or a quote become the bits of one long, eight bytes at a time; only these are looked at alone. A quote
 * counts only where a cell starts; inside a quoted cell nothing else counts until its closing quote.
 */
public final class CellFinder {
    /**
     * What is wrong with a row.
     *
     * @param cells how many it has, or {@link #UNCLOSED}
     */
    public record Ragged(int row, int start, int cells) {
        /** A quote is opened in it and never closed. */
        public static final int UNCLOSED = -1;

        /** @param width the cells of the header */
        public String why(int width) {
            return cells == UNCLOSED
                    ? "a quote is opened here and never closed"
                    : "this row has " + cells + (cells == 1 ? " cell" : " cells") + ", the header has " + width;
        }
    }

    private static final VarHandle LONGS = MethodHandles.byteArrayViewVarHandle(long[].class, ByteOrder.LITTLE_ENDIAN);
    private static final long LOW = 0x7F7F7F7F7F7F7F7FL;
    private static final long HIGH = ~LOW;
    private static final long ONES = 0x0101010101010101L;
    private static final long TOGETHER = 0x0102040810204080L;
    /** Where odd rows are kept, a quote that does not close within so many bytes never does. */
    private static final int LONGEST_SOUGHT = 8 << 20;

    /** Bytes that a block must have behind its last one. */
    public static final int PADDING = 72;

    private static final int BLOCK = 64;

    private final Dialect dialect;
    private final int width;
    private final boolean keepsOdd;
    private final Map<Integer, Ragged> odd = new TreeMap<>();
    private int[] rowEnds = new int[0];
    private int[] ends = new int[1 << 14];
    private int[] starts = new int[1 << 11];
    private int rows;
    private int behind;
    private @org.jspecify.annotations.Nullable Ragged ragged;

    /** @param width the cells of a row */
    public CellFinder(Dialect dialect, int width) {
        this(dialect, width, false);
    }

    /** @param keepsOdd whether rows with another number of cells are kept, as {@link #odd}, rather than ending what is found */
    public CellFinder(Dialect dialect, int width, boolean keepsOdd) {
        this.dialect = dialect;
        this.width = width;
        this.keepsOdd = keepsOdd;
    }

    /** Rows that have another number of cells, or a quote that never closes, by number; where they are kept. */
    public Map<Integer, Ragged> odd() {
        return odd;
    }

    /** Where the line of a row ends; where odd rows are kept. */
    public int rowEnd(int row) {
        return rowEnds[row];
    }

    /** Cells of rows of one cell each, known otherwise: where they start and end; both equal where there is none. */
    public void take(int[] starts, int[] ends, int rows) {
        this.starts = starts;
        this.ends = ends;
        this.rows = rows;
    }

    public int rows() {
        return rows;
    }

    /** Where the first row behind those found starts. */
    public int behind() {
        return behind;
    }

    /** The first row with another number of cells; rows behind it were not read. */
    @org.jspecify.annotations.Nullable
    public Ragged ragged() {
        return ragged;
    }

    public int start(int row, int cell) {
        return cell == 0 ? starts[row] : ends[row * width + cell - 1] + 1;
    }

    public int end(int row, int cell) {
        return ends[row * width + cell];
    }

    /** The row of a cell that starts at a byte. */
    public int row(int offset) {
        int from = 0;
        int to = rows;
        while (to - from > 1) {
            int middle = (from + to) >>> 1;
            if (starts[middle] <= offset) {
                from = middle;
            } else {
                to = middle;
            }
        }
        return from;
    }

    public int rowStart(int row) {
        return starts[row];
    }

    /**
     * Finds the rows that start before {@code limit}.
     *
     * @param bytes the block, with {@link #PADDING} bytes behind {@code filled}
     * @param from where the first row starts
     * @param filled the bytes there are
     * @param last whether the file ends there
     * @return whether the rows are complete; if not, more bytes are needed
     */
    public boolean find(byte[] bytes, int from, int limit, int filled, boolean last) {
        rows = 0;
        ragged = null;
        odd.clear();
        behind = from;
        byte lineEnd = dialect.newline();
        byte quote = dialect.quote();
        int wanted = width;
        int[] found = ends;
        long delimiters = ONES * dialect.delimiter();
        long newlines = ONES * lineEnd;
        long quotes = ONES * quote;
        int position = skipComments(bytes, from, filled);
        int rowStart = position;
        int cellStart = position;
        int cell = 0;
        int base = 0;
        byte saved = bytes[filled];
        if (last) {
            bytes[filled] = lineEnd; // stands in for the line end that the last line may lack
        }
        int end = last && rowStart < filled && bytes[filled - 1] != lineEnd ? filled + 1 : filled;
        try {
            while (position < end && rowStart < limit) {
                int block = position;
                long hits = hits(bytes, block, delimiters, newlines, quotes);
                position += BLOCK;
                if (base + cell + BLOCK >= found.length) {
                    ends = Arrays.copyOf(ends, ends.length * 2 + BLOCK);
                    found = ends;
                }
                while (hits != 0) {
                    int at = block + Long.numberOfTrailingZeros(hits);
                    hits &= hits - 1;
                    if (at >= end) {
                        break;
                    }
                    byte hit = bytes[at];
                    if (hit == quote) {
                        if (at == cellStart) {
                            int closed = closing(bytes, at, filled) + 1;
                            boolean stray = closed > 0 && keepsOdd && isStray(bytes, at, closed, filled);
                            if (closed <= 0 || stray) {
                                if (!stray && !last && !(keepsOdd && filled - at > LONGEST_SOUGHT)) {
                                    behind = rowStart;
                                    return false;
                                }
                                if (!keepsOdd) {
                                    ragged = new Ragged(rows, at, Ragged.UNCLOSED);
                                    behind = filled;
                                    return true;
                                }
                                position = unclosed(bytes, rowStart, at, base, filled);
                                found = ends;
                                base = rows * wanted;
                                cell = 0;
                                rowStart = position;
                                cellStart = position;
                                break;
                            }
                            if (closed - block >= BLOCK) {
                                position = closed;
                                break;
                            }
                            hits &= -1L << closed - block; // what stands between the quotes counts no more
                        }
                        continue;
                    }
                    if (cell < wanted) {
                        found[base + cell] = at;
                    }
                    cell++;
                    cellStart = at + 1;
                    if (hit == lineEnd) {
                        if (!row(bytes, rowStart, at, cell, base)) {
                            return true;
                        }
                        found = ends;
                        base = rows * wanted;
                        cell = 0;
                        rowStart = at + 1;
                        if (dialect.comment() != 0 && bytes[rowStart] == dialect.comment()) {
                            rowStart = skipComments(bytes, rowStart, filled);
                            position = rowStart;
                            cellStart = rowStart;
                            break;
                        }
                        cellStart = rowStart;
                        if (rowStart >= limit) {
                            break;
                        }
                    }
                }
            }
        } finally {
            bytes[filled] = saved;
        }
        behind = Math.min(rowStart, Math.max(filled, from));
        return rowStart >= limit || last;
    }

    /** Which of 64 bytes are one of three, as bits: the highest bits of eight bytes are moved together by a product. */
    private static long hits(byte[] bytes, int from, long delimiters, long newlines, long quotes) {
        long hits = 0;
        for (int i = 0; i < BLOCK; i += 8) {
            long word = (long) LONGS.get(bytes, from + i);
            long d = word ^ delimiters;
            long n = word ^ newlines;
            long q = word ^ quotes;
            long others = ((d & LOW) + LOW | d) & ((n & LOW) + LOW | n) & ((q & LOW) + LOW | q);
            hits |= ((~others & HIGH) >>> 7) * TOGETHER >>> 56 << i;
        }
        return hits;
    }

    /** Takes a row; false when it has too few or too many cells. */
    private boolean row(byte[] bytes, int start, int end, int cells, int base) {
        boolean empty = end == start || (end == start + 1 && bytes[start] == '\r');
        if (empty && cells == 1 && width > 1) {
            return true;
        }
        if (cells != width) {
            boolean wrong = cells > width || !dialect.shortRowsAsMissing();
            if (wrong && keepsOdd) {
                odd.put(rows, new Ragged(rows, start, cells));
            } else if (wrong) {
                ragged = new Ragged(rows, start, cells);
                behind = end + 1;
                return false;
            }
            if (base + width + BLOCK >= ends.length) {
                ends = Arrays.copyOf(ends, Math.max(ends.length * 2, base + width + 2 * BLOCK));
            }
            Arrays.fill(ends, base + Math.min(cells, width), base + width, end);
        }
        if (bytes[Math.max(start, end - 1)] == '\r' && end > start && dialect.newline() == '\n') {
            int last = Math.min(cells, width);
            ends[base + last - 1] = Math.min(ends[base + last - 1], end - 1);
            Arrays.fill(ends, base + last, base + width, end - 1);
        }
        add(start, end);
        return true;
    }

    private void add(int start, int end) {
        if (rows == starts.length) {
            starts = Arrays.copyOf(starts, rows * 2);
        }
        if (keepsOdd) {
            rowEnds = rowEnds.length > rows ? rowEnds : Arrays.copyOf(rowEnds, starts.length);
            rowEnds[rows] = end;
        }
        starts[rows++] = start;
    }

    /** Whether what closes a quote stands in another line, in front of further letters: it opens one there, and ours never closes. */
    private boolean isStray(byte[] bytes, int open, int behind, int filled) {
        byte next = behind < filled ? bytes[behind] : dialect.newline();
        if (next == dialect.delimiter() || next == dialect.newline() || next == '\r') {
            return false;
        }
        int at = open;
        while (at < behind && bytes[at] != dialect.newline()) {
            at++;
        }
        return at < behind;
    }

    /** A row with a quote that never closes ends at its first line end; where the next one starts. */
    private int unclosed(byte[] bytes, int start, int quote, int base, int filled) {
        int end = quote;
        while (end < filled && bytes[end] != dialect.newline()) {
            end++;
        }
        if (base + width + BLOCK >= ends.length) {
            ends = Arrays.copyOf(ends, Math.max(ends.length * 2, base + width + 2 * BLOCK));
        }
        Arrays.fill(ends, base, base + width, end);
        odd.put(rows, new Ragged(rows, quote, Ragged.UNCLOSED));
        add(start, end);
        return skipComments(bytes, Math.min(filled, end + 1), filled);
    }

    /** Where the quote stands that closes one, or -1. */
    private int closing(byte[] bytes, int open, int filled) {
        byte quote = dialect.quote();
        long quotes = ONES * quote;
        int i = open + 1;
        while (i < filled) {
            long q = (long) LONGS.get(bytes, i) ^ quotes;
            q = ~((q & LOW) + LOW | q | LOW);
            if (q == 0) {
                i += 8;
                continue;
            }
            i += Long.numberOfTrailingZeros(q) >>> 3;
            if (i + 1 >= filled || bytes[i + 1] != quote) {
                return i < filled ? i : -1;
            }
            i += 2;
        }
        return -1;
    }

    private int skipComments(byte[] bytes, int from, int filled) {
        int at = from;
        while (dialect.comment() != 0 && at < filled && bytes[at] == dialect.comment()) {
            while (at < filled && bytes[at] != dialect.newline()) {
                at++;
            }
            at = Math.min(filled, at + 1);
        }
        return at;
    }
}
