package dev.fiesta.source.cells;

import dev.fiesta.value.Column;
import dev.fiesta.value.Kind;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import dev.fiesta.value.Validity;
import dev.fiesta.value.Values;
import org.jspecify.annotations.Nullable;

/** Integers and decimals. */
final class ExactReader extends NumberReader {
    ExactReader(FieldSpec field, Dialect dialect) {
        super(field, dialect);
    }

    @Override
    Column column(byte[] bytes, FoundCells cells, int cell, int @Nullable [] rows, int count) {
        long[] values = new long[count];
        long[] valid = null;
        int scale = field.type().scale();
        boolean plain = !dialect.decimalComma() && missing.length == 0;
        for (int i = 0; i < count; i++) {
            int row = rows == null ? i : rows[i];
            int s = cells.start(row, cell);
            int e = cells.end(row, cell);
            long value = plain && s < e ? Numbers.exact(bytes, s, e, scale) : Numbers.BAD;
            if (value == Numbers.BAD) {
                value = carefully(bytes, s, e) ? exactCarefully(s) : Numbers.BAD;
                if (value == Numbers.BAD) {
                    if (field.byDefault() != null && isEmpty(bytes, s, e)) {
                        value = Values.toLong(field.type(), field.byDefault());
                    } else {
                        valid = Validity.without(valid, count, i);
                    }
                }
            }
            values[i] = value;
        }
        return new LongColumn(field.type(), values, count, valid);
    }

    /** A cell with blanks, quotes or a decimal comma; {@link Numbers#BAD} when it became missing. */
    private long exactCarefully(int offset) {
        if (!asWritten()) {
            return bad(offset, Numbers.BAD, Type.TEXT);
        }
        long value = Numbers.exact(from, start, end, field.type().scale());
        if (value == Numbers.BAD && field.type().kind() == Kind.INTEGER) {
            value = Numbers.wide(from, start, end);
        }
        return value == Numbers.BAD ? bad(offset, Numbers.BAD) : value;
    }
}
