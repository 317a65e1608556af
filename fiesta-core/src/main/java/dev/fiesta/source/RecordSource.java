package dev.fiesta.source;

import dev.fiesta.problem.Notices;
import dev.fiesta.problem.RequestException;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.Field;
import dev.fiesta.value.JavaValues;
import dev.fiesta.value.Kind;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.concurrent.atomic.AtomicInteger;
import org.jspecify.annotations.Nullable;

/** Java records in memory. A decimal component has the largest scale of its values. */
public final class RecordSource implements Source {
    private static final int BATCH = 8192;
    private final Schema schema;
    private final Column[][] batches;
    private final int size;

    /** Columns are cut into batches once, so that reading them again copies nothing. */
    private RecordSource(Schema schema, Column[] columns, int size) {
        this.schema = schema;
        this.size = size;
        this.batches = new Column[(int) ((size + BATCH - 1L) / BATCH)][];
        for (int b = 0; b < batches.length; b++) {
            int start = b * BATCH;
            int rows = Math.min(BATCH, size - start);
            batches[b] = Arrays.stream(columns).map(c -> c.range(start, rows)).toArray(Column[]::new);
        }
    }

    /** @throws RequestException when a component is of a class that no type holds */
    public static <T extends Record> RecordSource of(Class<T> type, List<T> records) {
        RecordFields components = new RecordFields(type);
        List<Field> fields = new ArrayList<>();
        List<Column> columns = new ArrayList<>();
        for (int f = 0; f < components.count(); f++) {
            List<@Nullable Object> values = new ArrayList<>(records.size());
            for (Object row : records) {
                values.add(components.value(row, values.size(), f));
            }
            Type held = components.type(f, values);
            refuseLarge(components.name(f), held, values);
            fields.add(new Field(components.name(f), held));
            columns.add(Column.of(held, values));
        }
        return new RecordSource(new Schema(fields), columns.toArray(Column[]::new), records.size());
    }

    /** A value that has too many digits at the scale that another one needs. */
    private static void refuseLarge(String name, Type held, List<@Nullable Object> values) {
        for (int i = 0; held.kind() == Kind.DECIMAL && i < values.size(); i++) {
            Object value = values.get(i);
            if (value != null && JavaValues.fitted(held, value) == null) {
                throw new RequestException("'" + name + "' of the record at place " + i + " is " + value
                        + ", and another has " + held.scale() + " digits behind the point: together more than "
                        + Type.MOST_DIGITS + ", which a decimal holds");
            }
        }
    }

    /** Columns in memory. */
    public static RecordSource of(Schema schema, Column[] columns, int size) {
        return new RecordSource(schema, columns, size);
    }

    @Override
    public Schema schema() {
        return schema;
    }

    @Override
    public Scan scan(Notices notices) {
        AtomicInteger next = new AtomicInteger();
        int[] stop = {Integer.MAX_VALUE};
        return new Scan() {
            @Override
            public Reader reader(Notices counted) {
                return new RecordReader(next, stop);
            }

            @Override
            public void stop(long sequence) {
                stop[0] = (int) Math.min(stop[0], sequence);
            }

            @Override
            public void close() {
                stop(0);
            }
        };
    }

    private final class RecordReader implements Reader {
        private final AtomicInteger next;
        private final int[] stop;
        private int at;

        RecordReader(AtomicInteger next, int[] stop) {
            this.next = next;
            this.stop = stop;
        }

        @Override
        public @Nullable Batch next() {
            at = next.getAndIncrement();
            if (at >= batches.length || at >= stop[0]) {
                return null;
            }
            int start = at * BATCH;
            int rows = Math.min(BATCH, size - start);
            Column[] columns = batches[at];
            return Batch.lazy(
                    rows,
                    columns.length + HIDDEN,
                    (f, picked, n) ->
                            part(f < columns.length ? columns[f] : hidden(f - columns.length, start, rows), picked, n),
                    at);
        }

        /** A source's name, which there is none of, and the place of each row. */
        private Column hidden(int field, int start, int rows) {
            if (field == 0) {
                return Column.missing(Type.TEXT, rows);
            }
            long[] origins = new long[rows];
            for (int i = 0; i < rows; i++) {
                origins[i] = start + i;
            }
            return new LongColumn(Type.INTEGER, origins, rows, null);
        }

        private Column part(Column column, int @Nullable [] picked, int count) {
            return picked == null ? column : column.take(picked, count);
        }

        @Override
        public long sequence() {
            return at;
        }
    }
}
