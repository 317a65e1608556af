package dev.fiesta.store;

import dev.fiesta.value.Column;
import dev.fiesta.value.Packing;
import dev.fiesta.work.Workers;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.BitSet;
import org.jspecify.annotations.Nullable;

/** Rows as bytes, block behind block, wherever they stand. */
public final class RowBytes {
    /** Stands behind the last block. */
    private static final int END = -1;

    private RowBytes() {}

    /** @param slots those that are written */
    public static void write(Stored rows, BitSet slots, DataOutput out) throws IOException {
        Rows held = rows instanceof SpilledRows ? null : rows.load();
        for (int b = 0; b < rows.blocks(); b++) {
            Workers.stopIfInterrupted();
            Rows block = held == null
                    ? ((SpilledRows) rows).read(b, slots)
                    : held.range((int) rows.start(b), (int) rows.start(b + 1));
            @Nullable Column[] columns = new Column[slots.length()];
            slots.stream().filter(s -> s < block.slots().length).forEach(s -> columns[s] = block.slots()[s]);
            out.writeInt(block.size());
            Packing.slots(out, columns);
        }
        end(out);
    }

    /** There is no block, or none more. */
    public static void end(DataOutput out) throws IOException {
        out.writeInt(END);
    }

    /** Adds what was written. */
    public static void read(DataInput in, RowsBuilder into) throws IOException {
        for (int rows = in.readInt(); rows != END; rows = in.readInt()) {
            into.add(new Rows(rows, Packing.slots(in)).batch());
        }
    }
}
