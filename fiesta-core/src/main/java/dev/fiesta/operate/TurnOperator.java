package dev.fiesta.operate;

import dev.fiesta.compute.Types;
import dev.fiesta.step.TurnStep;
import dev.fiesta.store.Memory;
import dev.fiesta.store.Rows;
import dev.fiesta.store.RowsBuilder;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.store.Stored;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import dev.fiesta.work.Workers;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Makes of each row as many as there are columns to be turned. */
public final class TurnOperator implements Operator {
    private static final int AT_ONCE = 1 << 13;

    private final TurnStep step;
    private final Memory memory;

    public TurnOperator(TurnStep step, Ground ground) {
        this.step = step;
        this.memory = ground.memory();
    }

    @Override
    public Stored run(Stored rows, BitSet before, BitSet after) {
        return rows instanceof SpilledRows file ? inFile(file, before, after) : held(rows.load(), after);
    }

    private Stored held(Rows rows, BitSet after) {
        RowsBuilder all = new RowsBuilder(memory, after);
        for (int start = 0; start < rows.size() || start == 0; start += AT_ONCE) {
            all.add(turned(rows.range(start, Math.min(rows.size(), start + AT_ONCE)), after)
                    .batch());
        }
        return all.finish();
    }

    private SpilledRows inFile(SpilledRows rows, BitSet before, BitSet after) {
        List<SpilledRows.Block> blocks = new ArrayList<>();
        for (int b = 0; b < rows.blocks(); b++) {
            Workers.stopIfInterrupted();
            Rows turned = turned(rows.read(b, before), after);
            blocks.add(SpilledRows.write(rows.scratch(), turned.size(), turned.slots()));
        }
        return new SpilledRows(rows.scratch(), blocks);
    }

    private Rows turned(Rows rows, BitSet after) {
        int times = step.slots().size();
        int size = Math.multiplyExact(rows.size(), times);
        int[] origin = new int[size];
        int[] which = new int[size];
        int[] pick = new int[size];
        for (int i = 0; i < size; i++) {
            origin[i] = i / times;
            which[i] = i % times;
            pick[i] = which[i] * rows.size() + origin[i];
        }
        int kept = step.kept().size();
        @Nullable Column[] slots = new Column[kept + 2];
        for (int k = 0; k < kept; k++) {
            slots[k] = after.get(k) ? rows.column(step.kept().get(k)).take(origin, size) : null;
        }
        slots[kept] = Column.of(Type.TEXT, step.names()).take(which, size);
        if (after.get(kept + 1)) {
            List<Column> parts = step.slots().stream()
                    .map(s -> Types.widen(rows.column(s), step.type()))
                    .toList();
            slots[kept + 1] = Column.join(step.type(), parts).take(pick, size);
        }
        return new Rows(size, slots);
    }
}
