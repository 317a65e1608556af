package dev.fiesta.source.cells;

import java.util.Arrays;
import java.util.Map;
import java.util.TreeMap;

/**
 * Finds the cells of rows in a block of bytes. Most are as they should be and found by {@link PlainCells}; here all others are, and what
 * is wrong with them. Of 64 bytes those that are a delimiter, a line end or a quote become the bits of one long, eight bytes at a time;
 * only these are looked at alone. A quote counts only where a cell starts; inside a quoted cell nothing else counts until its closing
 * quote.
 */
public final class CellFinder extends FoundCells {
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

    /** Where odd rows are kept, a quote that does not close within so many bytes never does. */
    private static final int LONGEST_SOUGHT = 8 << 20;

    /** Bytes that a block must have behind its last one. */
    public static final int PADDING = 72;

    private final Dialect dialect;
    private final boolean keepsOdd;
    private final Map<Integer, Ragged> odd = new TreeMap<>();
    private final PlainCells plain;
    private int behind;
    private @org.jspecify.annotations.Nullable Ragged ragged;

    /** @param width the cells of a row */
    public CellFinder(Dialect dialect, int width) {
        this(dialect, width, false);
    }

    /** @param keepsOdd whether rows with another number of cells are kept, as {@link #odd}, rather than ending what is found */
    public CellFinder(Dialect dialect, int width, boolean keepsOdd) {
        super(width);
        this.dialect = dialect;
        this.keepsOdd = keepsOdd;
        this.plain = new PlainCells(this, dialect, keepsOdd);
    }

    /** Rows that have another number of cells, or a quote that never closes, by number; where they are kept. */
    public Map<Integer, Ragged> odd() {
        return odd;
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
        long delimiters = PlainCells.ONES * dialect.delimiter();
        long newlines = PlainCells.ONES * lineEnd;
        long quotes = PlainCells.ONES * quote;
        int position = skipComments(bytes, from, filled);
        int rowStart = position;
        int cellStart = position;
        int cell = 0;
        int base = 0;
        int closely = dialect.comment() == 0 ? position : Integer.MAX_VALUE;
        byte saved = bytes[filled];
        if (last) {
            bytes[filled] = lineEnd; // stands in for the line end that the last line may lack
        }
        int end = last && rowStart < filled && bytes[filled - 1] != lineEnd ? filled + 1 : filled;
        try {
            while (position < end && rowStart < limit) {
                if (position >= closely) {
                    plain.cell = cell;
                    plain.rowStart = rowStart;
                    position = plain.goOn(bytes, position, position == cellStart, end, limit);
                    closely = plain.seen;
                    cell = plain.cell;
                    rowStart = plain.rowStart;
                    base = rows * wanted;
                    cellStart = cell == 0 ? rowStart : ends[base + cell - 1] + 1;
                    continue;
                }
                int block = position;
                long hits = hits(bytes, block, delimiters, newlines, quotes);
                position += BLOCK;
                found = room(base + cell);
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
                    found[base + cell] = at;
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

    /** Which of 64 bytes are one of three, as bits. */
    private static long hits(byte[] bytes, int from, long delimiters, long newlines, long quotes) {
        long hits = 0;
        for (int i = 0; i < BLOCK; i += 8) {
            long word = (long) PlainCells.LONGS.get(bytes, from + i);
            long d = word ^ delimiters;
            long n = word ^ newlines;
            long q = word ^ quotes;
            long others = ((d & PlainCells.LOW) + PlainCells.LOW | d)
                    & ((n & PlainCells.LOW) + PlainCells.LOW | n)
                    & ((q & PlainCells.LOW) + PlainCells.LOW | q);
            hits |= (~others & PlainCells.HIGH) >>> 7 - i / Long.BYTES;
        }
        return PlainCells.inOrder(hits);
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
            room(base + width);
            Arrays.fill(ends, base + Math.min(cells, width), base + width, end);
        }
        if (bytes[Math.max(start, end - 1)] == '\r' && end > start && dialect.newline() == '\n') {
            int last = Math.min(cells, width);
            ends[base + last - 1] = Math.min(ends[base + last - 1], end - 1);
            Arrays.fill(ends, base + last, base + width, end - 1);
        }
        add(start, end, keepsOdd);
        return true;
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
        room(base + width);
        Arrays.fill(ends, base, base + width, end);
        odd.put(rows, new Ragged(rows, quote, Ragged.UNCLOSED));
        add(start, end, keepsOdd);
        return skipComments(bytes, Math.min(filled, end + 1), filled);
    }

    /** Where the quote stands that closes one, or -1. */
    private int closing(byte[] bytes, int open, int filled) {
        byte quote = dialect.quote();
        long quotes = PlainCells.ONES * quote;
        int i = open + 1;
        while (i < filled) {
            long q = (long) PlainCells.LONGS.get(bytes, i) ^ quotes;
            q = ~((q & PlainCells.LOW) + PlainCells.LOW | q | PlainCells.LOW);
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
