package dev.fiesta.engine;

import dev.fiesta.problem.Notices;
import dev.fiesta.source.Source;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicLong;
import org.jspecify.annotations.Nullable;

/** A reading of rows that stand in memory or in a file, block by block. */
final class StoredScan implements Source.Scan {
    /** Rows of a block of those in memory. */
    static final int BLOCK = 1 << 13;

    private final Stored rows;
    private final int blocks;
    private final AtomicInteger next = new AtomicInteger();
    private final AtomicLong stop = new AtomicLong(Long.MAX_VALUE);

    StoredScan(Stored rows) {
        this.rows = rows;
        this.blocks =
                rows instanceof FileRows file ? file.blocks() : Math.max(1, (int) ((rows.rows() + BLOCK - 1) / BLOCK));
    }

    /** A block whose columns are fetched when they are asked for. */
    private Batch batch(int block) {
        if (rows instanceof FileRows file) {
            return file.batch(block);
        }
        Rows held = (Rows) rows;
        int start = block * BLOCK;
        int size = Math.min(BLOCK, held.size() - start);
        return Batch.lazy(
                size,
                held.slots().length,
                (slot, picked, left) -> {
                    Column column = held.column(slot).range(start, size);
                    return picked == null ? column : column.take(picked, left);
                },
                block);
    }

    /** A block without rows. */
    Batch nothing() {
        return batch(0).head(0);
    }

    @Override
    public Source.Reader reader(Notices notices) {
        return new Source.Reader() {
            private int at;

            @Override
            public @Nullable Batch next() {
                at = next.getAndIncrement();
                return at < blocks && at < stop.get() ? batch(at) : null;
            }

            @Override
            public long sequence() {
                return at;
            }
        };
    }

    @Override
    public void stop(long sequence) {
        stop.accumulateAndGet(sequence, Math::min);
    }

    @Override
    public double share() {
        return Math.min(1, (double) next.get() / blocks);
    }

    @Override
    public void close() {
        stop(0);
    }
}
