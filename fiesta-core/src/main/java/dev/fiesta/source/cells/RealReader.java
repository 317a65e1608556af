package dev.fiesta.source.cells;

import dev.fiesta.problem.Notices;
import dev.fiesta.value.Column;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.Type;
import dev.fiesta.value.Validity;
import org.jspecify.annotations.Nullable;

/** Reals. */
final class RealReader extends NumberReader {
    RealReader(FieldSpec field, Dialect dialect) {
        super(field, dialect);
    }

    @Override
    Column column(byte[] bytes, FoundCells cells, int cell, int @Nullable [] rows, int count) {
        double[] values = new double[count];
        long[] valid = null;
        for (int i = 0; i < count; i++) {
            int row = rows == null ? i : rows[i];
            int s = cells.start(row, cell);
            int e = cells.end(row, cell);
            if (!carefully(bytes, s, e)) {
                if (field.byDefault() instanceof Number number && isEmpty(bytes, s, e)) {
                    values[i] = number.doubleValue();
                } else {
                    valid = Validity.without(valid, count, i);
                }
                continue;
            }
            boolean good = asWritten();
            double value = good ? Numbers.number(from, start, end) : Double.NaN;
            if (Double.isNaN(value)) {
                bad(s, 0, good ? seen() : Type.TEXT);
                valid = Validity.without(valid, count, i);
            } else {
                values[i] = value;
                if (!field.declared() && isLong()) {
                    note(Notices.Kind.LONG_NUMBERS, s, BadCell.cut(content()));
                }
            }
        }
        return new DoubleColumn(values, count, valid);
    }

    /** Whether a number is written out with more digits than a decimal has. */
    private boolean isLong() {
        int digits = 0;
        for (int i = start; i < end; i++) {
            if ((from[i] | 32) == 'e') {
                return false;
            }
            digits += from[i] >= '0' && from[i] <= '9' ? 1 : 0;
        }
        return digits > Type.MOST_DIGITS;
    }
}
