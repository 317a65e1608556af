package dev.fiesta.source.cells;

import java.util.Arrays;

/** Where the cells of rows stand in a block of bytes: where each row starts and where each cell ends. */
public class FoundCells {
    /** Bytes that are looked at together, and by which arrays are longer than what they hold. */
    static final int BLOCK = 64;

    final int width;
    int[] rowEnds = new int[0];
    int[] ends = new int[1 << 14];
    int[] starts = new int[1 << 11];
    int rows;

    /** @param width the cells of a row */
    public FoundCells(int width) {
        this.width = width;
    }

    /** Cells of rows of one cell each, known otherwise: where they start and end; both equal where there is none. */
    public final void take(int[] starts, int[] ends, int rows) {
        this.starts = starts;
        this.ends = ends;
        this.rows = rows;
    }

    public final int rows() {
        return rows;
    }

    public final int start(int row, int cell) {
        return cell == 0 ? starts[row] : ends[row * width + cell - 1] + 1;
    }

    public final int end(int row, int cell) {
        return ends[row * width + cell];
    }

    /** The row of a cell that starts at a byte. */
    public final int row(int offset) {
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

    public final int rowStart(int row) {
        return starts[row];
    }

    /** Where the line of a row ends; where that is kept. */
    public final int rowEnd(int row) {
        return rowEnds[row];
    }

    /** Adds a row whose cells have their ends. */
    final void add(int start, int end, boolean keepsEnd) {
        if (rows == starts.length) {
            starts = Arrays.copyOf(starts, rows * 2);
        }
        if (keepsEnd) {
            rowEnds = rowEnds.length > rows ? rowEnds : Arrays.copyOf(rowEnds, starts.length);
            rowEnds[rows] = end;
        }
        starts[rows++] = start;
    }

    /** Room for the ends of the cells of a block behind some. */
    final int[] room(int taken) {
        if (taken + 2 * BLOCK > ends.length) {
            ends = Arrays.copyOf(ends, Math.max(ends.length * 2, taken + 2 * BLOCK));
        }
        return ends;
    }
}
