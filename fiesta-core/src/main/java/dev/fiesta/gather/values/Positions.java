package dev.fiesta.gather.values;

import dev.fiesta.value.Column;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * Where rows that are kept stand among all rows: along keys, what is missing last, and then as the rows stand. A row is offered first,
 * compared with those that are kept, and kept at a place or not.
 */
public final class Positions {
    /** The place of a row that is not there. */
    private static final long NOTHING = Long.MIN_VALUE;

    private final List<AlongKey> keys;
    private final Image[] images;
    /** For each key whether it is missing, and its image; then the place of the row. */
    private final int width;

    private final long[] offered;
    private final long[][] batch;
    private Column[] columns = new Column[0];
    private long[] kept = new long[0];

    /** @param keys none where rows stand as they come */
    public Positions(List<AlongKey> keys) {
        this.keys = keys;
        this.images = keys.stream().map(k -> new Image(k.type())).toArray(Image[]::new);
        this.width = 2 * keys.size() + 1;
        this.offered = new long[width];
        this.batch = new long[keys.size()][];
    }

    /** How many keys there are; none where rows stand as they come. */
    public int keys() {
        return images.length;
    }

    /** Rows that are to be offered; the keys are the last of the columns. */
    public void rows(Column[] args) {
        int first = args.length - images.length;
        columns = Arrays.copyOfRange(args, first, args.length);
        for (int k = 0; k < images.length; k++) {
            batch[k] = images[k].of(columns[k]);
        }
    }

    /** Offers one of the rows. */
    public void offer(int row, long place) {
        for (int k = 0; k < images.length; k++) {
            boolean missing = columns[k].isMissing(row);
            offered[2 * k] = missing ? 1 : 0;
            offered[2 * k + 1] = missing ? 0 : batch[k][row];
        }
        offered[width - 1] = place;
    }

    /** For each key how images of other positions read here. */
    public int[] @Nullable [] translations(Positions other) {
        int[] @Nullable [] translations = new int[images.length][];
        for (int k = 0; k < images.length; k++) {
            translations[k] = images[k].translation(other.images[k]);
        }
        return translations;
    }

    /** Offers a row that others have kept. */
    public void offer(Positions other, int at, int[] @Nullable [] translations) {
        System.arraycopy(other.kept, at * width, offered, 0, width);
        for (int k = 0; k < images.length; k++) {
            offered[2 * k + 1] = offered[2 * k] == 1 ? 0 : Image.here(translations[k], offered[2 * k + 1]);
        }
    }

    /** Offers a row that others have kept, whose texts need not be known here. */
    private void take(Positions other, int at) {
        System.arraycopy(other.kept, at * width, offered, 0, width);
        for (int k = 0; k < images.length; k++) {
            boolean missing = offered[2 * k] == 1;
            offered[2 * k + 1] = missing ? 0 : images[k].take(other.images[k], offered[2 * k + 1]);
        }
    }

    /** Offers a row that was written. */
    public void offer(DataInput in) throws IOException {
        for (int k = 0; k < images.length; k++) {
            offered[2 * k] = in.readByte();
            offered[2 * k + 1] = offered[2 * k] == 1 ? 0 : images[k].read(in);
        }
        offered[width - 1] = in.readLong();
    }

    /** The place of the row offered. */
    public long place() {
        return offered[width - 1];
    }

    /** The place of a row that is kept. */
    public long place(int at) {
        return kept[(at + 1) * width - 1];
    }

    /** Makes room for so many rows. */
    public void grow(int rows) {
        int old = kept.length / width;
        if (rows > old) {
            kept = Grow.to(kept, rows * width);
            for (int at = old; at < kept.length / width; at++) {
                kept[(at + 1) * width - 1] = NOTHING;
            }
        }
    }

    /** Keeps the row offered at a place. */
    public void keep(int at) {
        System.arraycopy(offered, 0, kept, at * width, width);
    }

    public boolean isKept(int at) {
        return place(at) != NOTHING;
    }

    /** Whether the row offered stands before (negative) or behind one that is kept. */
    public int compare(int at) {
        return compare(offered, 0, kept, at * width);
    }

    /** Which of two rows that are kept stands before the other. */
    public int compareKept(int a, int b) {
        return compare(kept, a * width, kept, b * width);
    }

    private int compare(long[] a, int i, long[] b, int j) {
        for (int k = 0; k < images.length; k++, i += 2, j += 2) {
            int missing = Long.compare(a[i], b[j]);
            if (missing != 0) {
                return missing;
            }
            int order = a[i] == 1 ? 0 : images[k].compare(a[i + 1], b[j + 1]);
            if (order != 0) {
                return keys.get(k).descending() ? -order : order;
            }
        }
        return Long.compare(a[i], b[j]);
    }

    /** Some of the rows, in that order, without the texts of others. */
    public Positions compact(int[] rows) {
        Positions compact = new Positions(keys);
        compact.grow(rows.length);
        for (int i = 0; i < rows.length; i++) {
            if (isKept(rows[i])) {
                compact.take(this, rows[i]);
                compact.keep(i);
            }
        }
        return compact;
    }

    public void write(int at, DataOutput out) throws IOException {
        for (int k = 0; k < images.length; k++) {
            int slot = at * width + 2 * k;
            out.writeByte((int) kept[slot]);
            if (kept[slot] == 0) {
                images[k].write(kept[slot + 1], out);
            }
        }
        out.writeLong(kept[(at + 1) * width - 1]);
    }

    public long memory() {
        return 8L * kept.length
                + IntStream.range(0, images.length)
                        .mapToLong(k -> images[k].memory())
                        .sum();
    }
}
