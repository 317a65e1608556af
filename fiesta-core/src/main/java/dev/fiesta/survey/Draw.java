package dev.fiesta.survey;

import dev.fiesta.value.Hashes;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.Arrays;

/** Which rows are drawn for a sample: those whose hashes end in so many zero bits, whoever reads them. */
final class Draw {
    private static final int MOST = 1 << 15;
    /** Values drawn of all fields together. */
    private static final int MOST_VALUES = 1 << 24;

    private final int most;
    private long[] hashes = new long[1024];
    private int size;
    private int level;
    private int[] picked = new int[256];

    /** @param fields the fields of a row: of very many, fewer rows are drawn */
    Draw(int fields) {
        most = Math.max(64, Math.min(MOST, MOST_VALUES / Math.max(1, fields)));
    }

    /** The number of rows drawn so far. */
    int size() {
        return size;
    }

    /**
     * Draws from rows.
     *
     * @param origins what tells each row from all others
     * @return how many rows were drawn; {@link #picked} tells which
     */
    int draw(long[] origins, int rows) {
        int count = 0;
        long mask = (1L << level) - 1;
        if (picked.length < rows) {
            picked = new int[rows];
        }
        for (int i = 0; i < rows; i++) {
            long hash = Hashes.mixed(origins[i]);
            if ((hash & mask) == 0) {
                picked[count++] = i;
                if (size == hashes.length) {
                    hashes = Arrays.copyOf(hashes, size * 2);
                }
                hashes[size++] = hash;
            }
        }
        return count;
    }

    int[] picked() {
        return picked;
    }

    /** Whether more would be drawn with these rows than are to be. */
    boolean wouldBeOverfull(long[] origins, int rows) {
        long mask = (1L << level) - 1;
        int count = size;
        for (int i = 0; i < rows; i++) {
            count += (Hashes.mixed(origins[i]) & mask) == 0 ? 1 : 0;
        }
        return count > most;
    }

    boolean isOverfull() {
        return size > most;
    }

    /** Draws fewer rows. The places, among those drawn so far, of the rows that stay. */
    int[] thin(int to) {
        level = Math.max(level, to);
        long mask = (1L << level) - 1;
        int[] stay = new int[size];
        int count = 0;
        for (int i = 0; i < size; i++) {
            if ((hashes[i] & mask) == 0) {
                hashes[count] = hashes[i];
                stay[count++] = i;
            }
        }
        size = count;
        return Arrays.copyOf(stay, count);
    }

    int level() {
        return level;
    }

    /** Takes in another draw of the same level. */
    void merge(Draw other) {
        hashes = Arrays.copyOf(hashes, Math.max(hashes.length, size + other.size));
        System.arraycopy(other.hashes, 0, hashes, size, other.size);
        size += other.size;
    }

    void write(DataOutput out) throws IOException {
        out.writeInt(level);
        out.writeInt(size);
        for (int i = 0; i < size; i++) {
            out.writeLong(hashes[i]);
        }
    }

    /** Begins with what another one wrote. */
    void read(DataInput in) throws IOException {
        level = in.readInt();
        size = in.readInt();
        hashes = new long[Math.max(1024, size)];
        for (int i = 0; i < size; i++) {
            hashes[i] = in.readLong();
        }
    }
}
