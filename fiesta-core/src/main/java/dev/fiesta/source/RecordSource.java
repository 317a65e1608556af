package dev.fiesta.source;

import dev.fiesta.problem.Notices;
import dev.fiesta.problem.RequestException;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.Field;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Type;
import java.lang.reflect.InaccessibleObjectException;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Method;
import java.lang.reflect.RecordComponent;
import java.math.BigDecimal;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.concurrent.atomic.AtomicInteger;
import org.jspecify.annotations.Nullable;

/** Java records in memory. A decimal component has the largest scale of its values. */
public final class RecordSource implements Source {
    private static final int BATCH = 8192;
    private static final Map<Class<?>, Type> TYPES = Map.ofEntries(
            Map.entry(long.class, Type.INTEGER),
            Map.entry(Long.class, Type.INTEGER),
            Map.entry(int.class, Type.INTEGER),
            Map.entry(Integer.class, Type.INTEGER),
            Map.entry(double.class, Type.REAL),
            Map.entry(Double.class, Type.REAL),
            Map.entry(String.class, Type.TEXT),
            Map.entry(boolean.class, Type.TRUTH),
            Map.entry(Boolean.class, Type.TRUTH),
            Map.entry(LocalDate.class, Type.DATE),
            Map.entry(LocalDateTime.class, Type.DATETIME),
            Map.entry(Instant.class, Type.INSTANT));

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
        if (!type.isRecord()) {
            throw new RequestException(type.getName() + " is no record class, so its fields have no names");
        }
        for (int i = 0; i < records.size(); i++) {
            if (!type.isInstance(records.get(i))) {
                throw new RequestException("the record at place " + i + " is "
                        + (records.get(i) == null
                                ? "null"
                                : records.get(i).getClass().getName()) + ", not "
                        + type.getName());
            }
        }
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
            } catch (IllegalAccessException | InvocationTargetException | InaccessibleObjectException e) {
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
        Type type = TYPES.get(held);
        if (type == null) {
            throw new RequestException(
                    "'" + component.getName() + "' is " + held.getName()
                            + "; records hold long, int, double, BigDecimal, String, boolean, LocalDate, LocalDateTime, Instant");
        }
        return type;
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
