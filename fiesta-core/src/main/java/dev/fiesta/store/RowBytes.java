package dev.fiesta.store;

import dev.fiesta.value.Column;
import dev.fiesta.value.Packing;
import dev.fiesta.work.Workers;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Rows as bytes, block behind block, wherever they stand. */
public final class RowBytes {
    /** Stands behind the last block. */
    private static final int END = -1;

    private RowBytes() {}

    /** @param slots those that are written */
    public static void write(Stored rows, BitSet slots, DataOutput out) throws IOException {
        each(rows, slots, block -> {
            @Nullable Column[] columns = new Column[slots.length()];
            slots.stream().filter(s -> s < block.slots().length).forEach(s -> columns[s] = block.slots()[s]);
            out.writeInt(block.size());
            Packing.slots(out, columns);
        });
        end(out);
    }

    /** Takes a block. */
    @FunctionalInterface
    public interface Taking {
        void take(Rows block) throws IOException;
    }

    /**
     * Goes through rows, block by block.
     *
     * @param slots those that are looked at
     */
    public static void each(Stored rows, BitSet slots, Taking taking) throws IOException {
        Rows held = rows instanceof SpilledRows ? null : rows.load();
        for (int b = 0; b < rows.blocks(); b++) {
            Workers.stopIfInterrupted();
            taking.take(
                    held == null
                            ? ((SpilledRows) rows).read(b, slots)
                            : held.range((int) rows.start(b), (int) rows.start(b + 1)));
        }
    }

    /** There is no block, or none more. */
    public static void end(DataOutput out) throws IOException {
        out.writeInt(END);
    }

    /** Adds what was written. */
    public static void read(DataInput in, RowsBuilder into) throws IOException {
        for (Rows block = block(in); block != null; block = block(in)) {
            into.add(block.batch());
        }
    }

    /** All that was written, in memory; a block at least. */
    public static Rows read(DataInput in) throws IOException {
        List<Rows> blocks = new ArrayList<>();
        for (Rows block = block(in); block != null; block = block(in)) {
            blocks.add(block);
        }
        return Rows.join(blocks);
    }

    private static @Nullable Rows block(DataInput in) throws IOException {
        int rows = in.readInt();
        return rows == END ? null : new Rows(rows, Packing.slots(in));
    }
}
