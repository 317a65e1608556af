package dev.fiesta.store;

import dev.fiesta.value.Column;
import java.util.BitSet;
import java.util.List;
import java.util.function.Function;

/** How many rows each partition has, of rows that stand by partition: read once more, ahead of whoever asks. */
public final class PartitionSizes {
    private final SpilledRows sorted;
    private final BitSet read;
    private final Function<Rows, List<Column>> keys;
    private final PartitionStarts changes = new PartitionStarts();
    private boolean[] others = new boolean[0];
    private int block;
    private int at;

    /**
     * @param read the slots that keys are worked out from
     * @param keys of some rows
     */
    public PartitionSizes(SpilledRows sorted, BitSet read, Function<Rows, List<Column>> keys) {
        this.sorted = sorted;
        this.read = read;
        this.keys = keys;
    }

    /** The rows of the next partition; 0 behind the last. */
    public long next() {
        long size = 0;
        while (true) {
            if (at == others.length) {
                if (block == sorted.blocks()) {
                    return size;
                }
                Rows rows = sorted.read(block++, read);
                others = changes.in(keys.apply(rows), rows.size());
                at = 0;
            } else if (others[at] && size > 0) {
                return size;
            } else {
                at++;
                size++;
            }
        }
    }
}
