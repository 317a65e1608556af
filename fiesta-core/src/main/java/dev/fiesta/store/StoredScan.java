package dev.fiesta.store;

import dev.fiesta.problem.Notices;
import dev.fiesta.source.PieceTurns;
import dev.fiesta.source.Source;
import dev.fiesta.value.Batch;
import org.jspecify.annotations.Nullable;

/** A reading of rows that stand in memory or in a file, block by block. */
public final class StoredScan implements Source.Scan {
    private final Stored rows;
    private final PieceTurns turns;

    public StoredScan(Stored rows) {
        this.rows = rows;
        this.turns = new PieceTurns(rows.blocks());
    }

    /** A block without rows. */
    public Batch nothing() {
        return rows.batch(0).head(0);
    }

    @Override
    public Source.Reader reader(Notices notices) {
        return new Source.Reader() {
            private int at;

            @Override
            public @Nullable Batch next() {
                int claimed = turns.claim();
                at = claimed < 0 ? at : claimed;
                return claimed < 0 ? null : rows.batch(claimed);
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
