package dev.fiesta;

import dev.fiesta.total.Worked;
import dev.fiesta.value.Cells;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import java.util.BitSet;
import java.util.function.IntFunction;
import org.jspecify.annotations.Nullable;

/**
 * The values of a field whose rows stand in the file of a run. Part by part is read as rows are looked at, so that going through them
 * holds a part, however often; who looks here and there gets them all, once that has cost more than reading them a few times.
 */
final class FileCells implements Cells {
    /** As many parts as there are may be read out of their order so often before all are held. */
    private static final int PATIENCE = 6;

    private final Worked worked;
    private final int field;
    private final @Nullable BitSet hidden;
    private final IntFunction<Column> whole;
    private final Runnable open;
    private volatile Part held = new Part(-1, 0, 0, null);
    private int astray;

    /** @param column the values of rows from one to before another */
    private record Part(
            int number, long from, long to, @Nullable Column column) {}

    /**
     * @param whole gives all values of a field
     * @param open fails once the rows are gone
     */
    FileCells(Worked worked, int field, IntFunction<Column> whole, Runnable open) {
        this.open = open;
        this.worked = worked;
        this.field = field;
        this.hidden = worked.hidden().get(worked.schema().fields().get(field).name());
        this.whole = whole;
    }

    @Override
    public Type type() {
        return worked.schema().fields().get(field).type();
    }

    @Override
    public int size() {
        return Math.toIntExact(worked.rows());
    }

    @Override
    public boolean isMissing(int row) {
        Part part = part(row);
        return isHidden(row) || part.column == null || part.column.isMissing((int) (row - part.from));
    }

    @Override
    public @Nullable Object get(int row) {
        Part part = part(row);
        return isHidden(row) || part.column == null ? null : part.column.get((int) (row - part.from));
    }

    private boolean isHidden(int row) {
        return hidden != null && hidden.get(row);
    }

    private Part part(int row) {
        Part part = held;
        return row >= part.from && row < part.to ? part : read(row);
    }

    private synchronized Part read(int row) {
        open.run();
        if (astray > PATIENCE * worked.parts()) {
            held = new Part(0, 0, worked.rows(), whole.apply(field));
        } else if (row < held.from || row >= held.to) {
            int number = worked.part(row);
            astray += number == 0 || number == held.number + 1 ? 0 : 1;
            held = new Part(number, worked.start(number), worked.start(number + 1), worked.column(field, number));
        }
        return held;
    }
}
