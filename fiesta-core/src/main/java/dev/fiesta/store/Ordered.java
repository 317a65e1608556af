package dev.fiesta.store;

import dev.fiesta.value.Batch;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;

/**
 * Rows in memory in an order of their own. They are moved where a step needs them all in their places; what is only written or
 * read once is picked block by block, so that sorted rows are not held twice.
 */
public final class Ordered implements Stored {
    /** @param order the rows that there are, each once at most; null once they stand so */
    private record Laid(Rows rows, int @Nullable [] order) {}

    private final long size;
    private final int threads;
    private volatile Laid laid;

    /**
     * @param order the rows that there are, each once at most
     * @param threads how many move columns side by side
     */
    public Ordered(Rows rows, int[] order, int threads) {
        this(new Laid(rows, order), order.length, threads);
    }

    private Ordered(Laid laid, long size, int threads) {
        this.laid = laid;
        this.size = size;
        this.threads = threads;
    }

    /** Rows in their places, wherever they stand. */
    public static Stored moved(Stored rows) {
        return rows instanceof Ordered ordered ? ordered.load() : rows;
    }

    /** The same rows with other columns, made of those that they are laid out from. */
    public Ordered with(UnaryOperator<Rows> columns) {
        Laid now = laid;
        return new Ordered(new Laid(columns.apply(now.rows), now.order), size, threads);
    }

    @Override
    public long rows() {
        return size;
    }

    /** Moves the rows; they are held once all the same. */
    @Override
    public synchronized Rows load() {
        Laid now = laid;
        if (now.order != null) {
            now = new Laid(now.rows.take(now.order, threads), null);
            laid = now;
        }
        return now.rows;
    }

    @Override
    public int blocks() {
        return Rows.blocks((int) size);
    }

    @Override
    public long start(int block) {
        return Math.min(size, (long) block * Rows.BLOCK);
    }

    @Override
    public Batch batch(int block) {
        Laid now = laid;
        int[] order = now.order;
        if (order == null) {
            return now.rows.batch(block);
        }
        int from = block * Rows.BLOCK;
        return Batch.lazy(
                Math.min(Rows.BLOCK, order.length - from),
                now.rows.slots().length,
                (slot, picked, left) -> {
                    int[] own = new int[left];
                    for (int i = 0; i < left; i++) {
                        own[i] = order[from + (picked == null ? i : picked[i])];
                    }
                    return now.rows.column(slot).take(own, left);
                },
                block);
    }

    @Override
    public long bytes() {
        return laid.rows.bytes() + 4L * size;
    }
}
