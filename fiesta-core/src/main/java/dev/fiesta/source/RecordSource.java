package dev.fiesta.source;

import dev.fiesta.problem.Notices;
import dev.fiesta.problem.RequestException;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.Field;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Type;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Method;
import java.lang.reflect.RecordComponent;
import java.math.BigDecimal;
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
        List<Field> fields = new ArrayList<>();
        List<Column> columns = new ArrayList<>();
        for (RecordComponent component : type.getRecordComponents()) {
            List<@Nullable Object> values = values(component, records);
            Type held = type(component, values);
            fields.add(new Field(component.getName(), held));
            columns.add(Column.of(held, values));
        }
        return new RecordSource(new Schema(fields), columns.toArray(Column[]::new), records.size());
    }

    /** Columns in memory. */
    public static RecordSource of(Schema schema, Column[] columns, int size) {
        return new RecordSource(schema, columns, size);
    }

    private static List<@Nullable Object> values(RecordComponent component, List<?> records) {
        Method accessor = component.getAccessor();
        accessor.setAccessible(true);
        List<@Nullable Object> values = new ArrayList<>(records.size());
        for (Object record : records) {
            try {
                Object value = accessor.invoke(record);
                values.add(value instanceof Integer n ? (Object) n.longValue() : value);
            } catch (IllegalAccessException | InvocationTargetException e) {
                throw new RequestException("'" + component.getName() + "' cannot be read", e);
            }
        }
        return values;
    }

    private static Type type(RecordComponent component, List<@Nullable Object> values) {
        Class<?> held = component.getType();
        if (held == BigDecimal.class) {
            int scale = 0;
            for (Object value : values) {
                scale = value instanceof BigDecimal d ? Math.max(scale, d.scale()) : scale;
            }
            return Type.decimal(scale);
        }
        return switch (held.getSimpleName()) {
            case "long", "Long", "int", "Integer" -> Type.INTEGER;
            case "double", "Double" -> Type.NUMBER;
            case "String" -> Type.TEXT;
            case "boolean", "Boolean" -> Type.TRUTH;
            case "LocalDate" -> Type.DATE;
            case "LocalDateTime" -> Type.DATETIME;
            case "Instant" -> Type.INSTANT;
            default ->
                throw new RequestException(
                        "'" + component.getName() + "' is " + held.getName()
                                + "; records hold long, int, double, BigDecimal, String, boolean, LocalDate, LocalDateTime, Instant");
        };
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
            public Reader reader() {
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
