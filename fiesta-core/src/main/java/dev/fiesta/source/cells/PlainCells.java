package dev.fiesta.source.cells;

import java.lang.invoke.MethodHandles;
import java.lang.invoke.VarHandle;
import java.nio.ByteOrder;

/**
 * Finds the cells of rows that are as they should be: of as many cells as the header, with quotes only around whole cells and twice
 * inside them. Of 64 bytes those that are a delimiter or a line end become the bits of one long, of which those between quotes are
 * taken out; hardly a byte is looked at alone. It stops in front of the first block that is not so, for {@link CellFinder} to look at
 * closely.
 */
final class PlainCells {
    static final VarHandle LONGS = MethodHandles.byteArrayViewVarHandle(long[].class, ByteOrder.LITTLE_ENDIAN);
    static final long LOW = 0x7F7F7F7F7F7F7F7FL;
    static final long HIGH = ~LOW;
    static final long ONES = 0x0101010101010101L;

    private static final int BLOCK = FoundCells.BLOCK;
    private static final int WORDS = BLOCK / Long.BYTES;
    /** Blocks whose bytes are compared in one loop, which a compiler can make one of vectors. */
    private static final int TOGETHER = 64;

    private final FoundCells found;
    private final boolean keepsEnds;
    private final boolean mayReturn;
    private final long delimiters;
    private final long newlines;
    private final long quotes;
    private final long[] words = new long[TOGETHER * WORDS];
    private final long[] separating = new long[TOGETHER * WORDS];
    private final long[] ending = new long[TOGETHER * WORDS];
    private final long[] quoting = new long[TOGETHER * WORDS];

    /** Cells found of a row whose end is not, and where it starts. */
    int cell;

    int rowStart;
    /** How far it has looked: what stands before must be looked at closely where it stopped in front of it. */
    int seen;

    /** Ends of cells that are found. */
    private int count;

    private long separators;
    private long lines;
    /** All bits where a block starts inside quotes. */
    private long inside;

    /** One where it starts behind a separator, and where it starts behind a closing quote. */
    private long separated;

    private long closed;
    private int safe;
    private int safeCount;
    private int safeRows;
    private int safeStart;

    PlainCells(FoundCells found, Dialect dialect, boolean keepsEnds) {
        this.found = found;
        this.keepsEnds = keepsEnds;
        this.mayReturn = dialect.newline() == '\n';
        this.delimiters = ONES * dialect.delimiter();
        this.newlines = ONES * dialect.newline();
        this.quotes = ONES * dialect.quote();
    }

    /**
     * Goes on from a place outside quotes, in a row of which {@link #cell} and {@link #rowStart} tell.
     *
     * @param atStart whether a cell starts there
     * @param limit rows that start behind it are not looked for
     * @return where it stopped, outside quotes
     */
    int goOn(byte[] bytes, int from, boolean atStart, int end, int limit) {
        count = found.rows * found.width + cell;
        inside = 0;
        separated = atStart ? 1 : 0;
        closed = 0;
        keep(from);
        int at = from;
        while (at + BLOCK <= end) {
            int blocks = Math.min(TOGETHER, (end - at) / BLOCK);
            mark(bytes, at, blocks * WORDS);
            for (int i = 0; i < blocks; i++) {
                if (!block(bytes, at, i * WORDS, limit)) {
                    return stop(at + BLOCK);
                }
                if (rowStart >= limit) {
                    cell = 0;
                    return rowStart;
                }
                at += BLOCK;
                if ((inside | closed) == 0) {
                    keep(at);
                }
            }
        }
        return stop(end);
    }

    /** Marks delimiters, line ends and quotes by the highest bit of their bytes. */
    private void mark(byte[] bytes, int from, int count) {
        for (int i = 0; i < count; i++) {
            words[i] = (long) LONGS.get(bytes, from + i * Long.BYTES);
        }
        mark(words, delimiters, newlines, separating, ending, count);
        mark(words, quotes, quoting, count);
    }

    private static void mark(
            long[] words, long delimiters, long newlines, long[] separating, long[] ending, int count) {
        for (int i = 0; i < count; i++) {
            long d = words[i] ^ delimiters;
            long n = words[i] ^ newlines;
            long noLine = (n & LOW) + LOW | n;
            ending[i] = ~noLine & HIGH;
            separating[i] = ~(((d & LOW) + LOW | d) & noLine) & HIGH;
        }
    }

    private static void mark(long[] words, long signs, long[] marks, int count) {
        for (int i = 0; i < count; i++) {
            long x = words[i] ^ signs;
            marks[i] = ~((x & LOW) + LOW | x) & HIGH;
        }
    }

    /** Takes the cells and rows that end in a block; false when something is not as it should be. */
    private boolean block(byte[] bytes, int at, int word, int limit) {
        separators = bits(separating, word);
        lines = bits(ending, word);
        if ((any(quoting, word) | inside | closed) != 0 && !unquoted(bytes, at, bits(quoting, word))) {
            return false;
        }
        separated = separators >>> 63;
        int before = count;
        count += Long.bitCount(separators);
        put(found.room(count), before, at);
        for (long left = lines; left != 0; left &= left - 1) {
            int last = before + Long.bitCount(separators & left - 1 & ~left);
            if (!row(bytes, at + Long.numberOfTrailingZeros(left), last)) {
                return false;
            }
            if (rowStart >= limit) {
                return true;
            }
        }
        return true;
    }

    /** Takes out what stands between quotes; false when one stands elsewhere than around a cell or twice inside it. */
    private boolean unquoted(byte[] bytes, int at, long signs) {
        long within = parity(signs) ^ inside;
        long opening = signs & within;
        long closing = signs & ~within;
        long behindClosing = closing << 1 | closed;
        separators &= ~within;
        lines &= ~within;
        if ((opening & ~(separators << 1 | separated | behindClosing)) != 0
                || !returns(bytes, at, behindClosing & ~(separators | opening))) {
            return false;
        }
        inside = within >> 63;
        closed = closing >>> 63;
        return true;
    }

    /** Whether a carriage return and a line end stand wherever another sign than a separator stands behind a closing quote. */
    private boolean returns(byte[] bytes, int at, long others) {
        for (long left = others; left != 0; left &= left - 1) {
            int behind = at + Long.numberOfTrailingZeros(left);
            if (!mayReturn || bytes[behind] != '\r' || bytes[behind + 1] != '\n') {
                return false;
            }
        }
        return true;
    }

    /** Puts the places of separators behind the ends that are there; a few more are written, which do not count. */
    private void put(int[] ends, int from, int at) {
        long left = separators;
        for (int i = from; i < count; i += 4) {
            ends[i] = at + Long.numberOfTrailingZeros(left);
            left &= left - 1;
            ends[i + 1] = at + Long.numberOfTrailingZeros(left);
            left &= left - 1;
            ends[i + 2] = at + Long.numberOfTrailingZeros(left);
            left &= left - 1;
            ends[i + 3] = at + Long.numberOfTrailingZeros(left);
            left &= left - 1;
        }
    }

    /** Takes the row that ends at a line end, which is the end of a cell by its number; false when it has too few or too many cells. */
    private boolean row(byte[] bytes, int at, int last) {
        if (last + 1 - found.rows * found.width != found.width) {
            return false;
        }
        if (mayReturn && at > rowStart && bytes[at - 1] == '\r') {
            found.ends[last] = at - 1;
        }
        found.add(rowStart, at, keepsEnds);
        rowStart = at + 1;
        return true;
    }

    /** Here it may be stopped: in front of a block, outside quotes. */
    private void keep(int at) {
        safe = at;
        safeRows = found.rows;
        safeStart = rowStart;
        safeCount = count;
    }

    private int stop(int looked) {
        found.rows = safeRows;
        rowStart = safeStart;
        cell = safeCount - safeRows * found.width;
        seen = looked;
        return safe;
    }

    private static long any(long[] marks, int word) {
        return marks[word]
                | marks[word + 1]
                | marks[word + 2]
                | marks[word + 3]
                | marks[word + 4]
                | marks[word + 5]
                | marks[word + 6]
                | marks[word + 7];
    }

    /** The marks of 64 bytes as the bits of one long, in their order. */
    private static long bits(long[] marks, int word) {
        return inOrder(marks[word] >>> 7
                | marks[word + 1] >>> 6
                | marks[word + 2] >>> 5
                | marks[word + 3] >>> 4
                | marks[word + 4] >>> 3
                | marks[word + 5] >>> 2
                | marks[word + 6] >>> 1
                | marks[word + 7]);
    }

    /** Eight rows of eight bits with rows and columns exchanged. */
    static long inOrder(long rows) {
        long x = rows;
        long t = (x ^ x >>> 7) & 0x00AA00AA00AA00AAL;
        x ^= t ^ t << 7;
        t = (x ^ x >>> 14) & 0x0000CCCC0000CCCCL;
        x ^= t ^ t << 14;
        t = (x ^ x >>> 28) & 0x00000000F0F0F0F0L;
        return x ^ t ^ t << 28;
    }

    /** For each bit whether an odd number of bits are set up to it. */
    private static long parity(long bits) {
        long x = bits ^ bits << 1;
        x ^= x << 2;
        x ^= x << 4;
        x ^= x << 8;
        x ^= x << 16;
        return x ^ x << 32;
    }
}
