package dev.fiesta.store;

import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.work.Workers;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Puts rows below each other: in memory while they fit, in the file from then on. */
public final class RowsBuilder {
    private final Memory memory;
    private final BitSet wanted;
    private final List<Rows> parts = new ArrayList<>();
    private final List<SpilledRows.Block> written = new ArrayList<>();
    private long held;

    /** @param wanted the slots that are kept */
    public RowsBuilder(Memory memory, BitSet wanted) {
        this.memory = memory;
        this.wanted = wanted;
    }

    /** Adds rows; the first may be none, so that columns have their types. */
    public void add(Batch rows) {
        if (rows.size() == 0 && !(parts.isEmpty() && written.isEmpty())) {
            return;
        }
        @Nullable Column[] slots = new Column[Math.max(rows.width(), wanted.length())];
        wanted.stream().filter(s -> s < rows.width()).forEach(s -> {
            Column column = rows.loaded(s);
            slots[s] = column == null ? null : column.held();
        });
        add(new Rows(rows.size(), slots));
    }

    private void add(Rows rows) {
        Workers.stopIfInterrupted();
        if (!written.isEmpty()) {
            write(rows);
            return;
        }
        parts.add(rows);
        long bytes = rows.bytes();
        held += bytes;
        if (!memory.hold(bytes)) {
            parts.forEach(this::write);
            release();
        }
    }

    private void write(Rows rows) {
        int block = memory.blockRows();
        for (int start = 0; start < rows.size() || start == 0; start += block) {
            Rows some = rows.range(start, Math.min(rows.size(), start + block));
            written.add(SpilledRows.write(memory.scratch(), some.size(), some.slots()));
        }
    }

    /** Nobody wants the rows any more. */
    public void drop() {
        release();
        written.clear();
    }

    private void release() {
        parts.clear();
        memory.hold(-held);
        held = 0;
    }

    /** All rows. */
    public Stored finish() {
        if (!written.isEmpty()) {
            return new SpilledRows(memory.scratch(), written);
        }
        Rows all = Rows.join(parts);
        release();
        return all;
    }
}
