package dev.fiesta.engine;

import dev.fiesta.problem.Notices;
import dev.fiesta.source.Source;
import dev.fiesta.source.Turns;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import org.jspecify.annotations.Nullable;

/** A reading of rows that stand in memory or in a file, block by block. */
final class StoredScan implements Source.Scan {
    /** Rows of a block of those in memory. */
    static final int BLOCK = 1 << 13;

    private final Stored rows;
    private final Turns turns;

    StoredScan(Stored rows) {
        this.rows = rows;
        this.turns = new Turns(
                rows instanceof FileRows file ? file.blocks() : Math.max(1, (int) ((rows.rows() + BLOCK - 1) / BLOCK)));
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
                int claimed = turns.claim();
                at = claimed < 0 ? at : claimed;
                return claimed < 0 ? null : batch(claimed);
            }

            @Override
            public long sequence() {
                return at;
            }
        };
    }

    @Override
    public void stop(long sequence) {
        turns.stop(sequence);
    }

    @Override
    public double share() {
        return turns.share();
    }

    @Override
    public void close() {
        stop(0);
    }
}
