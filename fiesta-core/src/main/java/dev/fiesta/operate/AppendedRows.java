package dev.fiesta.operate;

import dev.fiesta.step.AppendStep;
import dev.fiesta.store.Rows;
import dev.fiesta.store.Stored;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Rows in memory below others. They stay where they are for what goes through them block by block, and are put into columns of their own
 * where a step needs them all.
 */
final class AppendedRows implements Stored {
    /**
     * Rows of a table.
     *
     * @param slots for each column of the result the slot here, or -1
     */
    record Part(Rows rows, List<Integer> slots) {}

    private final List<Part> parts;
    private final AppendStep step;
    private final BitSet wanted;
    private final long size;
    private @Nullable Rows joined;

    /**
     * @param wanted the columns that somebody needs
     */
    AppendedRows(List<Part> parts, AppendStep step, BitSet wanted) {
        this.parts = parts;
        this.step = step;
        this.wanted = wanted;
        this.size = parts.stream().mapToLong(p -> p.rows().rows()).sum();
    }

    @Override
    public long rows() {
        return size;
    }

    @Override
    public synchronized Rows load() {
        if (joined == null) {
            @Nullable Column[] columns = new Column[step.types().size()];
            for (int f = wanted.nextSetBit(0); f >= 0 && f < columns.length; f = wanted.nextSetBit(f + 1)) {
                List<Column> each = new ArrayList<>();
                for (Part part : parts) {
                    Batch all = part.rows().batch();
                    each.add(column(part, all, f));
                }
                columns[f] = Column.join(step.types().get(f), each);
            }
            joined = new Rows(Math.toIntExact(size), columns);
        }
        return joined;
    }

    private Column column(Part part, Batch some, int field) {
        int slot = part.slots().get(field);
        Type type = step.types().get(field);
        return slot < 0 ? Column.missing(type, some.size()) : AppendOperator.widened(step, some.column(slot), type);
    }

    @Override
    public int blocks() {
        return parts.stream().mapToInt(p -> p.rows().blocks()).sum();
    }

    @Override
    public long start(int block) {
        long before = 0;
        int left = block;
        for (Part part : parts) {
            if (left < part.rows().blocks()) {
                return before + part.rows().start(left);
            }
            left -= part.rows().blocks();
            before += part.rows().rows();
        }
        return size;
    }

    @Override
    public Batch batch(int block) {
        int left = block;
        int number = 0;
        while (left >= parts.get(number).rows().blocks()) {
            left -= parts.get(number++).rows().blocks();
        }
        Part part = parts.get(number);
        Batch some = part.rows().batch(left);
        return Batch.lazy(
                some.size(),
                step.types().size(),
                (field, picked, count) -> {
                    Column column = column(part, some, field);
                    return picked == null ? column : column.take(picked, count);
                },
                block);
    }

    @Override
    public long bytes() {
        return parts.stream().mapToLong(p -> p.rows().bytes()).sum();
    }
}
