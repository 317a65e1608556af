package dev.fiesta.operate;

import dev.fiesta.compute.Fault;
import dev.fiesta.compute.Types;
import dev.fiesta.step.TurnStep;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import java.util.BitSet;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Makes of each row as many as there are columns to be turned; only what is asked for is repeated. */
public final class TurnStage {
    private final TurnStep step;
    private final BitSet after;
    private final BitSet before;
    private final Column names;

    /** @param after the slots needed behind the step */
    public TurnStage(TurnStep step, BitSet after) {
        this.step = step;
        this.after = after;
        this.before = step.before(after);
        this.names = Column.of(Type.TEXT, step.names()).flat();
    }

    public Batch apply(Batch batch) {
        before.stream().forEach(batch::column); // the step looks at them in all rows, whoever asks for them later
        List<Column> values = after.get(step.kept().size() + 1)
                ? step.slots().stream().map(s -> value(batch, s)).toList()
                : List.of();
        int times = step.times();
        int[] of = new int[Math.multiplyExact(batch.size(), times)];
        for (int i = 0; i < of.length; i++) {
            of[i] = i / times;
        }
        return batch.made(
                of, times, step.kept().size() + 2, (slot, rows, count) -> column(batch, values, slot, rows, count));
    }

    private Column value(Batch batch, int slot) {
        try {
            return Types.widen(batch.column(slot), step.type());
        } catch (Fault fault) {
            throw step.place().failure(fault, batch);
        }
    }

    private Column column(Batch batch, List<Column> values, int slot, int @Nullable [] rows, int count) {
        int times = step.times();
        int kept = step.kept().size();
        int[] pick = new int[count];
        if (slot < kept) {
            for (int i = 0; i < count; i++) {
                pick[i] = (rows == null ? i : rows[i]) / times;
            }
            return batch.column(step.kept().get(slot)).take(pick, count);
        }
        if (slot == kept) {
            for (int i = 0; i < count; i++) {
                pick[i] = (rows == null ? i : rows[i]) % times;
            }
            return names.take(pick, count);
        }
        for (int i = 0; i < count; i++) {
            int row = rows == null ? i : rows[i];
            pick[i] = row % times * batch.size() + row / times;
        }
        return Column.join(step.type(), values).take(pick, count);
    }
}
