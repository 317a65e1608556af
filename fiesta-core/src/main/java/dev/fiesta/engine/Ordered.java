package dev.fiesta.engine;

import dev.fiesta.value.Batch;
import org.jspecify.annotations.Nullable;

/**
 * Rows in memory in an order of their own. They are moved where a step needs them all in their places; what is only written or
 * read once is picked block by block, so that sorted rows are not held twice.
 */
final class Ordered implements Stored {
    private final Rows rows;
    private final int[] order;
    private final int threads;
    private @Nullable Rows moved;

    /**
     * @param order the rows that there are, each once at most
     * @param threads how many move columns side by side
     */
    Ordered(Rows rows, int[] order, int threads) {
        this.rows = rows;
        this.order = order;
        this.threads = threads;
    }

    /** The same rows with other columns. */
    Ordered with(Rows columns) {
        return new Ordered(columns, order, threads);
    }

    /** The rows as they stand. */
    Rows asTheyStand() {
        return rows;
    }

    @Override
    public long rows() {
        return order.length;
    }

    @Override
    public synchronized Rows load() {
        if (moved == null) {
            moved = rows.take(order, threads);
        }
        return moved;
    }

    @Override
    public int blocks() {
        return Rows.blocks(order.length);
    }

    @Override
    public long start(int block) {
        return Math.min(order.length, (long) block * Rows.BLOCK);
    }

    @Override
    public Batch batch(int block) {
        int from = block * Rows.BLOCK;
        int size = Math.min(Rows.BLOCK, order.length - from);
        return Batch.lazy(
                size,
                rows.slots().length,
                (slot, picked, left) -> {
                    int[] own = new int[left];
                    for (int i = 0; i < left; i++) {
                        own[i] = order[from + (picked == null ? i : picked[i])];
                    }
                    return rows.column(slot).take(own, left);
                },
                block);
    }

    @Override
    public long bytes() {
        return rows.bytes() + 4L * order.length;
    }
}
