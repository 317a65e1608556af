package dev.fiesta.source;

import dev.fiesta.problem.RequestException;
import dev.fiesta.source.RecordFormat.Records;
import dev.fiesta.source.cells.CellRules;
import dev.fiesta.source.cells.Dialect;
import dev.fiesta.source.cells.FieldSpec;
import dev.fiesta.value.Cells;
import dev.fiesta.value.Field;
import dev.fiesta.value.JavaValues;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Texts;
import dev.fiesta.value.Type;
import java.io.IOException;
import java.util.Iterator;
import java.util.List;
import java.util.function.Supplier;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** Rows that a program hands over one after another; they go into a temporary file, so that memory does not grow with them. */
public final class HandedRows {
    private static final String NAME = "records";

    private HandedRows() {}

    /** Java records; the stream is closed behind them. */
    public static <T extends Record> Source of(Class<T> type, Supplier<? extends Stream<? extends T>> records) {
        RecordFields fields = new RecordFields(type);
        List<FieldSpec> specs = IntStream.range(0, fields.count())
                .filter(f -> fields.type(f) != null || fields.isDecimal(f))
                .mapToObj(f -> spec(fields, f))
                .toList();
        return Spooled.of(NAME, "record", Dialect.STANDARD, specs, List.of(to -> {
            IntStream.range(0, fields.count()).forEach(f -> to.field(fields.name(f)));
            try (Stream<? extends T> all = opened(records)) {
                long place = 0;
                for (Iterator<? extends T> i = all.iterator(); i.hasNext(); place++) {
                    T row = i.next();
                    for (int f = 0; f < fields.count(); f++) {
                        tell(to, fields.name(f), fields.value(row, place, f));
                    }
                    to.end(place);
                }
            }
        }));
    }

    private static FieldSpec spec(RecordFields fields, int field) {
        Type told = fields.type(field);
        FieldSpec spec = FieldSpec.typed(fields.name(field), told == null ? Type.decimal(0) : told);
        return told == null
                ? new FieldSpec(spec.name(), spec.column(), spec.type(), true, true, null, null, false, CellRules.NONE)
                : spec;
    }

    /** Rows as arrays of values in the order of the fields; the stream is closed behind them. */
    public static Source of(Schema schema, Supplier<? extends Stream<Object[]>> rows) {
        return Spooled.of(NAME, "row", Dialect.STANDARD, specs(schema), List.of(to -> {
            schema.names().forEach(to::field);
            try (Stream<Object[]> all = opened(rows)) {
                long place = 0;
                for (Iterator<Object[]> i = all.iterator(); i.hasNext(); place++) {
                    row(to, schema, i.next(), place);
                }
            }
        }));
    }

    /** Hands rows over in parts of columns. */
    @FunctionalInterface
    public interface Parts {
        /** @param taker takes the columns, in the order of the fields, and the number of their rows */
        void each(Taker taker) throws IOException;
    }

    /** Takes some rows that stand side by side. */
    @FunctionalInterface
    public interface Taker {
        /** @param rows how many the columns hold */
        void take(Cells[] columns, int rows) throws IOException;
    }

    /** Rows in parts of columns. */
    public static Source of(Schema schema, Parts parts) {
        return Spooled.of(NAME, "row", Dialect.STANDARD, specs(schema), List.of(to -> {
            schema.names().forEach(to::field);
            long[] place = {0};
            parts.each((columns, rows) -> {
                for (int row = 0; row < rows; row++) {
                    for (int f = 0; f < columns.length; f++) {
                        tell(to, schema.field(f).name(), columns[f].get(row));
                    }
                    to.end(place[0]++);
                }
            });
        }));
    }

    private static List<FieldSpec> specs(Schema schema) {
        return schema.fields().stream()
                .map(f -> FieldSpec.typed(f.name(), f.type()))
                .toList();
    }

    private static <S> S opened(Supplier<S> rows) {
        S opened = rows.get();
        if (opened == null) {
            throw new RequestException("the supplier of rows gave null, not a stream");
        }
        return opened;
    }

    private static void row(Records to, Schema schema, Object @Nullable [] row, long place) {
        if (row == null || row.length != schema.size()) {
            throw new RequestException("the row at place " + place + " has "
                    + (row == null ? "no" : Integer.toString(row.length)) + " values, and there are " + schema.size()
                    + " fields");
        }
        for (int f = 0; f < row.length; f++) {
            Field field = schema.field(f);
            try {
                tell(to, field.name(), fitted(field.type(), JavaValues.held(row[f])));
            } catch (IllegalArgumentException e) {
                throw new RequestException(
                        "'" + field.name() + "' of the row at place " + place + " " + e.getMessage(), e);
            }
        }
        to.end(place);
    }

    private static @Nullable Object fitted(Type type, @Nullable Object value) {
        if (value == null) {
            return null;
        }
        Object fitted = JavaValues.fitted(type, value);
        if (fitted == null) {
            throw new IllegalArgumentException("is " + value + ", not " + type.withArticle());
        }
        return fitted;
    }

    private static void tell(Records to, String field, @Nullable Object value) {
        if (value == null) {
            to.missing(field);
        } else if (value instanceof String text) {
            to.text(field, text);
        } else if (value instanceof Boolean truth) {
            to.truth(field, truth);
        } else if (value instanceof Number) {
            to.number(field, Texts.of(value));
        } else {
            to.cell(field, Texts.of(value));
        }
    }
}
