package dev.fiesta.compute;

import dev.fiesta.value.Bits;
import dev.fiesta.value.Column;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.Exact;
import dev.fiesta.value.Kind;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Texts;
import dev.fiesta.value.Type;
import dev.fiesta.value.Validity;
import dev.fiesta.value.Values;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** How values of different types meet. */
public final class Types {
    private Types() {}

    /** The type that holds values of both without loss, or null when there is none. Exact and number meet as number. */
    public static @Nullable Type common(Type a, Type b) {
        if (a.equals(b) || b.kind() == Kind.EMPTY) {
            return a;
        }
        if (a.kind() == Kind.EMPTY) {
            return b;
        }
        if (a.isExact() && b.isExact()) {
            return Type.decimal(Math.max(a.scale(), b.scale()));
        }
        return a.isNumeric() && b.isNumeric() ? Type.REAL : null;
    }

    /** A column as another type that {@link #common} named. */
    public static Column widen(Column column, Type to) {
        Type from = column.type();
        if (from.equals(to)) {
            return column;
        }
        if (from.kind() == Kind.EMPTY) {
            return Column.constant(to, null, column.size());
        }
        if (to.kind() == Kind.REAL) {
            return toNumber(column);
        }
        if (from.isExact() && to.isExact() && from.scale() <= to.scale()) {
            return rescale((LongColumn) column, to, null);
        }
        throw new IllegalArgumentException(from + " as " + to);
    }

    /** Keys of a type in which they are compared with others: one that does not fit it equals none of those, and is missing. */
    public static Column keys(Column column, Type to) {
        try {
            return widen(column, to);
        } catch (Fault fault) {
            List<@Nullable Object> fitting = new ArrayList<>();
            for (int i = 0; i < column.size(); i++) {
                Object value = column.get(i);
                BigDecimal exact = value == null ? null : new BigDecimal(Texts.of(value)).setScale(to.scale());
                fitting.add(exact == null || exact.unscaledValue().bitLength() > 63 ? null : exact);
            }
            return Column.of(to, fitting);
        }
    }

    /** As {@link #widen(Column, Type)}, where only the rows given must fit: the result of the others is not looked at. */
    static Column widen(Column column, Type to, long @Nullable [] where) {
        boolean exact = column.type().isExact() && to.isExact() && column.type().scale() < to.scale();
        return exact && where != null ? rescale((LongColumn) column, to, where) : widen(column, to);
    }

    /** Exact values as the nearest doubles. */
    public static DoubleColumn toNumber(Column column) {
        if (column instanceof DoubleColumn numbers) {
            return numbers;
        }
        if (column.type().kind() == Kind.EMPTY) {
            return new DoubleColumn(new double[column.size()], column.size(), Bits.none(column.size()));
        }
        LongColumn exact = (LongColumn) column;
        long[] values = exact.values();
        int mask = exact.mask();
        int scale = exact.type().scale();
        double[] result = new double[column.size()];
        for (int i = 0; i < result.length; i++) {
            result[i] = Exact.ofDecimal(values[i & mask], scale);
        }
        return new DoubleColumn(result, result.length, Validity.spread(column, column.size()));
    }

    /** @param where the rows that must fit, or null for all that have a value */
    private static Column rescale(LongColumn column, Type to, long @Nullable [] where) {
        long factor = Values.power(to.scale() - column.type().scale());
        if (factor == 1) {
            return column.as(to);
        }
        int size = column.size();
        int mask = column.mask();
        long[] result = new long[size];
        for (int i = 0; i < size; i++) {
            if (!column.isMissing(i) && Validity.has(where, i)) {
                long value = column.values()[i & mask];
                long high = Math.multiplyHigh(value, factor);
                result[i] = value * factor;
                if (high != result[i] >> 63) {
                    throw tooLarge(column.get(i), to).at(i);
                }
            }
        }
        return new LongColumn(to, result, size, Validity.spread(column, size));
    }

    /** The fault for a value that a type cannot hold. */
    static Fault tooLarge(@Nullable Object value, Type type) {
        return new Fault(
                value + " does not fit " + type.withArticle() + ".",
                String.valueOf(value),
                "Exact values have at most 18 digits; round them, or calculate with real(…).");
    }
}
