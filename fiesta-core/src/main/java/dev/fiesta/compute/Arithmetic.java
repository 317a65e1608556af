package dev.fiesta.compute;

import dev.fiesta.problem.Notices;
import dev.fiesta.value.Column;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.Exact;
import dev.fiesta.value.Kind;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import dev.fiesta.value.Validity;
import dev.fiesta.value.Values;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;

/** {@code + - * / %} and the sign. Exact values stay exact, an overflow is a fault, a quotient is rounded once. */
final class Arithmetic {
    private Arithmetic() {}

    /** Which of the three exact operators. */
    enum Sign {
        PLUS,
        MINUS,
        TIMES
    }

    static RowFunction.Bound bind(Sign sign, Arguments args) {
        if (sign == Sign.PLUS
                && args.type(0).kind() == Kind.TEXT
                && args.type(1).kind() == Kind.TEXT) {
            throw new Misuse(
                    0, "'{}' is a text, but one can only calculate with numbers.", "Texts are joined with '||'.");
        }
        args.expectNumeric(0, "one can only calculate with numbers");
        args.expectNumeric(1, "one can only calculate with numbers");
        Type a = orInteger(args.type(0));
        Type b = orInteger(args.type(1));
        if (!a.isExact() || !b.isExact()) {
            return RowFunction.Bound.counted(Type.REAL, Notices.Kind.NO_NUMBER, (c, n) -> numbers(sign, c, n));
        }
        Type type = exactType(sign, a, b);
        return RowFunction.Bound.fallible(type, (c, n) -> exact(sign, c, n, type, a, b));
    }

    private static Type orInteger(Type type) {
        return type.equals(Type.EMPTY) ? Type.INTEGER : type;
    }

    private static Type exactType(Sign sign, Type a, Type b) {
        if (a.equals(Type.INTEGER) && b.equals(Type.INTEGER)) {
            return Type.INTEGER;
        }
        int scale = sign == Sign.TIMES ? a.scale() + b.scale() : Math.max(a.scale(), b.scale());
        if (scale > Type.MOST_DIGITS) {
            throw new Misuse(
                    -1,
                    "This product would have " + scale + " digits after the point; a decimal has at most 18.",
                    "Round one side first: round({}, 4).");
        }
        return Type.decimal(scale);
    }

    private static Column exact(Sign sign, Column[] args, int rows, Type type, Type a, Type b) {
        Type left = sign == Sign.TIMES ? a : type;
        Type right = sign == Sign.TIMES ? b : type;
        long[] valid = Validity.both(args[0], args[1], rows);
        LongColumn x = (LongColumn) Types.widen(args[0], left, valid);
        LongColumn y = (LongColumn) Types.widen(args[1], right, valid);
        long[] result = new long[rows];
        long overflow = switch (sign) {
            case PLUS -> plus(x.values(), x.mask(), y.values(), y.mask(), result);
            case MINUS -> minus(x.values(), x.mask(), y.values(), y.mask(), result);
            case TIMES -> times(x.values(), x.mask(), y.values(), y.mask(), result);
        };
        if (overflow < 0) {
            refuseOverflow(sign, x, y, result, valid, type);
        }
        return new LongColumn(type, result, rows, valid);
    }

    private static long plus(long[] x, int mx, long[] y, int my, long[] result) {
        long overflow = 0;
        for (int i = 0; i < result.length; i++) {
            long a = x[i & mx];
            long b = y[i & my];
            long r = a + b;
            overflow |= (a ^ r) & (b ^ r);
            result[i] = r;
        }
        return overflow;
    }

    private static long minus(long[] x, int mx, long[] y, int my, long[] result) {
        long overflow = 0;
        for (int i = 0; i < result.length; i++) {
            long a = x[i & mx];
            long b = y[i & my];
            long r = a - b;
            overflow |= (a ^ b) & (a ^ r);
            result[i] = r;
        }
        return overflow;
    }

    private static long times(long[] x, int mx, long[] y, int my, long[] result) {
        long overflow = 0;
        for (int i = 0; i < result.length; i++) {
            long a = x[i & mx];
            long b = y[i & my];
            long r = a * b;
            long high = Math.multiplyHigh(a, b) ^ (r >> 63);
            overflow |= high | -high;
            result[i] = r;
        }
        return overflow;
    }

    /** The loops look at missing rows too; only a row with both values can overflow. */
    private static void refuseOverflow(
            Sign sign,
            LongColumn x,
            LongColumn y,
            long[] result,
            long @org.jspecify.annotations.Nullable [] valid,
            Type type) {
        for (int i = 0; i < result.length; i++) {
            if (!Validity.has(valid, i)) {
                continue;
            }
            BigInteger a = BigInteger.valueOf(x.values()[i & x.mask()]);
            BigInteger b = BigInteger.valueOf(y.values()[i & y.mask()]);
            BigInteger r = switch (sign) {
                case PLUS -> a.add(b);
                case MINUS -> a.subtract(b);
                case TIMES -> a.multiply(b);
            };
            if (r.bitLength() > 63) {
                throw Types.tooLarge(new BigDecimal(r, type.scale()), type).at(i);
            }
        }
    }

    private static Column numbers(Sign sign, Column[] args, int rows) {
        DoubleColumn x = Types.toNumber(args[0]);
        DoubleColumn y = Types.toNumber(args[1]);
        double[] a = x.values();
        double[] b = y.values();
        int ma = x.mask();
        int mb = y.mask();
        double[] result = new double[rows];
        switch (sign) {
            case PLUS -> {
                for (int i = 0; i < rows; i++) {
                    result[i] = a[i & ma] + b[i & mb];
                }
            }
            case MINUS -> {
                for (int i = 0; i < rows; i++) {
                    result[i] = a[i & ma] - b[i & mb];
                }
            }
            case TIMES -> {
                for (int i = 0; i < rows; i++) {
                    result[i] = a[i & ma] * b[i & mb];
                }
            }
        }
        return DoubleColumn.cleaned(result, rows, Validity.both(x, y, rows));
    }

    static RowFunction.Bound divide(Arguments args) {
        args.expectNumeric(0, "one can only divide numbers");
        args.expectNumeric(1, "one can only divide by numbers");
        Type a = orInteger(args.type(0));
        Type b = orInteger(args.type(1));
        boolean exact = a.isExact() && b.isExact();
        return RowFunction.Bound.counted(Type.REAL, Notices.Kind.NO_NUMBER, (c, rows) -> {
            long[] valid = Validity.both(c[0], c[1], rows);
            double[] result = exact ? quotients(c, rows, a, b) : ratios(c, rows);
            return DoubleColumn.cleaned(result, rows, valid);
        });
    }

    private static double[] quotients(Column[] args, int rows, Type a, Type b) {
        LongColumn x = (LongColumn) Types.widen(args[0], a);
        LongColumn y = (LongColumn) Types.widen(args[1], b);
        long up = Values.power(Math.max(0, b.scale() - a.scale()));
        long down = Values.power(Math.max(0, a.scale() - b.scale()));
        double[] result = new double[rows];
        for (int i = 0; i < rows; i++) {
            long n = x.values()[i & x.mask()];
            long d = y.values()[i & y.mask()];
            result[i] = Math.multiplyHigh(n, up) == n * up >> 63 && Math.multiplyHigh(d, down) == d * down >> 63
                    ? Exact.quotient(n * up, d * down)
                    : Exact.quotient(
                            BigInteger.valueOf(n).multiply(BigInteger.valueOf(up)),
                            BigInteger.valueOf(d).multiply(BigInteger.valueOf(down)));
        }
        return result;
    }

    private static double[] ratios(Column[] args, int rows) {
        DoubleColumn x = Types.toNumber(args[0]);
        DoubleColumn y = Types.toNumber(args[1]);
        double[] result = new double[rows];
        for (int i = 0; i < rows; i++) {
            result[i] = x.values()[i & x.mask()] / y.values()[i & y.mask()];
        }
        return result;
    }

    /** What is left of x after whole multiples of y; it has the sign of x. */
    static RowFunction.Bound modulo(Arguments args) {
        args.expectNumeric(0, "a remainder needs numbers");
        args.expectNumeric(1, "a remainder needs numbers");
        Type type = Objects.requireNonNull(Types.common(orInteger(args.type(0)), orInteger(args.type(1))));
        return RowFunction.Bound.counted(type, Notices.Kind.NO_NUMBER, (c, rows) -> {
            long[] valid = Validity.both(c[0], c[1], rows);
            if (type.isExact() && !c[0].type().equals(c[1].type())) {
                return exactRemainders(c, rows, type);
            }
            Column x = Types.widen(c[0], type);
            Column y = Types.widen(c[1], type);
            if (x instanceof LongColumn a && y instanceof LongColumn b) {
                return remainders(a, b, rows, valid);
            }
            double[] result = new double[rows];
            double[] n = ((DoubleColumn) x).values();
            double[] d = ((DoubleColumn) y).values();
            for (int i = 0; i < rows; i++) {
                result[i] = n[i & x.mask()] % d[i & y.mask()];
            }
            return DoubleColumn.cleaned(result, rows, valid);
        });
    }

    private static Column remainders(
            LongColumn a, LongColumn b, int rows, long @org.jspecify.annotations.Nullable [] valid) {
        long[] result = new long[rows];
        long[] bits = valid;
        for (int i = 0; i < rows; i++) {
            long divisor = b.values()[i & b.mask()];
            if (divisor != 0) {
                result[i] = a.values()[i & a.mask()] % divisor;
            } else if (Validity.has(valid, i)) {
                bits = Validity.without(bits == valid && valid != null ? valid.clone() : bits, rows, i);
            }
        }
        return new LongColumn(a.type(), result, rows, bits);
    }

    /** Of different scales: only the remainder must fit, not the sides at one scale. */
    private static Column exactRemainders(Column[] args, int rows, Type type) {
        List<@org.jspecify.annotations.Nullable Object> values = new ArrayList<>();
        for (int i = 0; i < rows; i++) {
            Object x = args[0].get(i);
            Object y = args[1].get(i);
            BigDecimal divisor = y == null ? BigDecimal.ZERO : NumberFunctions.exact(y);
            values.add(
                    x == null || divisor.signum() == 0
                            ? null
                            : NumberFunctions.stored(
                                    type, NumberFunctions.exact(x).remainder(divisor)));
        }
        return Column.of(type, values);
    }

    static RowFunction.Bound negate(Arguments args) {
        args.expectNumeric(0, "only a number has an opposite");
        Type type = orInteger(args.type(0));
        if (type.equals(Type.REAL)) {
            return RowFunction.Bound.safe(type, (c, rows) -> {
                double[] values = ((DoubleColumn) c[0]).values();
                double[] result = new double[rows];
                for (int i = 0; i < rows; i++) {
                    result[i] = 0.0 - values[i & c[0].mask()];
                }
                return new DoubleColumn(result, rows, Validity.spread(c[0], rows));
            });
        }
        Column zero = LongColumn.constant(type, 0, 1);
        return RowFunction.Bound.fallible(
                type,
                (c, rows) ->
                        exact(Sign.MINUS, new Column[] {Column.constant(zero, rows), c[0]}, rows, type, type, type));
    }
}
