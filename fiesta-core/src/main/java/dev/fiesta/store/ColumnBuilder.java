package dev.fiesta.store;

import dev.fiesta.value.Bits;
import dev.fiesta.value.Column;
import dev.fiesta.value.Dictionary;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.TextColumn;
import dev.fiesta.value.TruthColumn;
import dev.fiesta.value.Type;
import dev.fiesta.value.Validity;
import org.jspecify.annotations.Nullable;

/** Puts a column together from rows of several columns of one type. */
public final class ColumnBuilder {
    private ColumnBuilder() {}

    /** The value of row {@code rows[i]} of column {@code from[i]}, for each i; none of the columns is constant. */
    public static Column of(Type type, Column[] from, int[] rows, int count) {
        long @Nullable [] valid = null;
        for (int i = 0; i < count; i++) {
            if (from[i].isMissing(rows[i])) {
                valid = Validity.without(valid, count, i);
            }
        }
        switch (type.kind()) {
            case REAL -> {
                double[] values = new double[count];
                for (int i = 0; i < count; i++) {
                    values[i] = ((DoubleColumn) from[i]).values()[rows[i]];
                }
                return new DoubleColumn(values, count, valid);
            }
            case TRUTH -> {
                long[] bits = Bits.none(count);
                for (int i = 0; i < count; i++) {
                    if (((TruthColumn) from[i]).isTrue(rows[i])) {
                        Bits.set(bits, i);
                    }
                }
                return new TruthColumn(bits, count, valid);
            }
            case TEXT -> {
                Dictionary dictionary = new Dictionary();
                int[] codes = new int[count];
                for (int i = 0; i < count; i++) {
                    TextColumn texts = (TextColumn) from[i];
                    int code = texts.codes()[rows[i]];
                    codes[i] = code < 0 ? -1 : dictionary.intern(texts.dictionary(), code);
                }
                return new TextColumn(codes, dictionary, count, valid);
            }
            default -> {
                long[] values = new long[count];
                for (int i = 0; i < count; i++) {
                    values[i] = ((LongColumn) from[i]).values()[rows[i]];
                }
                return new LongColumn(type, values, count, valid);
            }
        }
    }
}
