package dev.fiesta.compute;

import dev.fiesta.catalogue.Entry;
import dev.fiesta.catalogue.Entry.Family;
import dev.fiesta.problem.Notices;
import dev.fiesta.value.Bits;
import dev.fiesta.value.Column;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import dev.fiesta.value.Validity;
import dev.fiesta.value.Values;
import java.math.BigDecimal;
import java.math.MathContext;
import java.math.RoundingMode;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** Functions over numbers. It is long because each has its entry: what it is called, does, takes and gives. */
final class NumberFunctions {
    private NumberFunctions() {}

    /** A loop over doubles. */
    private interface Doubles {
        void run(double[] in, double[] out);
    }

    static List<RowFunction> all() {
        List<RowFunction> all = new ArrayList<>(List.of(
                of("abs", "abs(x)", "The size of x without its sign.", "abs(-3.50)", "3.50", NumberFunctions::abs),
                of(
                        "sign",
                        "sign(x)",
                        "-1, 0 or 1: whether x is below, at or above zero.",
                        "sign(-3.50)",
                        "-1",
                        NumberFunctions::sign),
                of(
                        "round",
                        "round(x[, digits])",
                        "x rounded to so many digits after the point, halves to the even neighbour.",
                        "round(2.345, 2)",
                        "2.34",
                        args -> round(args, RoundingMode.HALF_EVEN)),
                of(
                        "round_half_up",
                        "round_half_up(x[, digits])",
                        "x rounded to so many digits after the point, halves away from zero.",
                        "round_half_up(2.345, 2)",
                        "2.35",
                        args -> round(args, RoundingMode.HALF_UP)),
                of(
                        "floor",
                        "floor(x)",
                        "The greatest whole number at or below x.",
                        "floor(-2.5)",
                        "-3",
                        args -> whole(args, RoundingMode.FLOOR)),
                of(
                        "ceiling",
                        "ceiling(x)",
                        "The least whole number at or above x.",
                        "ceiling(-2.5)",
                        "-2",
                        args -> whole(args, RoundingMode.CEILING)),
                of(
                        "mod",
                        "mod(x, y)",
                        "What is left of x after whole multiples of y; has the sign of x.",
                        "mod(-7, 3)",
                        "-1",
                        args -> {
                            args.expectCount(2, 2, "mod(x, y)");
                            return Arithmetic.modulo(args);
                        }),
                of(
                        "band",
                        "band(x, width)",
                        "The multiple of width at or below x.",
                        "band(17.30, 5)",
                        "15.00",
                        NumberFunctions::band),
                of(
                        "bands",
                        "bands(x, limit, limit, …)",
                        "The greatest of the limits at or below x; missing below the first.",
                        "bands(17, 5, 20, 100)",
                        "5",
                        NumberFunctions::bands),
                of(
                        "least",
                        "least(a, b, …)",
                        "The least of the values that are there.",
                        "least(3, 1.5, 2)",
                        "1.5",
                        args -> extreme(args, -1)),
                of(
                        "greatest",
                        "greatest(a, b, …)",
                        "The greatest of the values that are there.",
                        "greatest(3, 1.5, 2)",
                        "3.0",
                        args -> extreme(args, 1))));
        all.add(doubles("sqrt", "The square root of x.", "sqrt(16)", "4", (in, out) -> {
            for (int i = 0; i < out.length; i++) {
                out[i] = Math.sqrt(in[i]);
            }
        }));
        all.add(doubles("exp", "e to the power of x.", "exp(0)", "1", (in, out) -> {
            for (int i = 0; i < out.length; i++) {
                out[i] = StrictMath.exp(in[i]);
            }
        }));
        all.add(doubles("ln", "The natural logarithm of x.", "ln(1)", "0", (in, out) -> {
            for (int i = 0; i < out.length; i++) {
                out[i] = StrictMath.log(in[i]);
            }
        }));
        all.add(pairs("log", "log(x, base)", "The logarithm of x to a base.", "log(8, 2)", "3", NumberFunctions::log));
        all.add(pairs(
                "power", "power(x, y)", "x to the power of y, as a number.", "power(2, 10)", "1024", StrictMath::pow));
        return all;
    }

    private static double log(double x, double base) {
        if (!(x > 0 && base > 0) || base == 1) {
            return Double.NaN;
        }
        if (base == 10) {
            return StrictMath.log10(x);
        }
        double raw = StrictMath.log(x) / StrictMath.log(base);
        double whole = Math.rint(raw);
        return StrictMath.pow(base, whole) == x ? whole : raw;
    }

    private static RowFunction of(
            String name, String usage, String about, String example, String result, RowFunction.Rule rule) {
        return new RowFunction(new Entry(name, Family.NUMBERS, usage, about, example, result), rule);
    }

    private static RowFunction doubles(String name, String about, String example, String result, Doubles loop) {
        String usage = name + "(x)";
        return of(name, usage, about, example, result, args -> {
            args.expectCount(1, 1, usage);
            args.expectNumeric(0, name + " needs a number");
            return RowFunction.Bound.counted(Type.REAL, Notices.Kind.NO_NUMBER, (c, rows) -> {
                DoubleColumn x = (DoubleColumn) Types.toNumber(c[0]).flat();
                double[] out = new double[rows];
                loop.run(x.values(), out);
                return DoubleColumn.cleaned(out, rows, x.valid());
            });
        });
    }

    private static RowFunction pairs(
            String name,
            String usage,
            String about,
            String example,
            String result,
            java.util.function.DoubleBinaryOperator function) {
        return of(name, usage, about, example, result, args -> {
            args.expectCount(2, 2, usage);
            args.expectNumeric(0, name + " needs numbers");
            args.expectNumeric(1, name + " needs numbers");
            return RowFunction.Bound.counted(Type.REAL, Notices.Kind.NO_NUMBER, (c, rows) -> {
                DoubleColumn x = Types.toNumber(c[0]);
                DoubleColumn y = Types.toNumber(c[1]);
                long[] valid = Validity.both(x, y, rows);
                double[] out = new double[rows];
                for (int i = 0; i < rows; i++) {
                    out[i] = function.applyAsDouble(x.values()[i & x.mask()], y.values()[i & y.mask()]);
                }
                return DoubleColumn.cleaned(out, rows, valid);
            });
        });
    }

    private static Type number(Arguments args, String usage, String what) {
        args.expectCount(1, 1, usage);
        args.expectNumeric(0, what);
        return args.type(0).equals(Type.EMPTY) ? Type.INTEGER : args.type(0);
    }

    private static RowFunction.Bound abs(Arguments args) {
        Type type = number(args, "abs(x)", "only a number has a size");
        return Boxed.fallible(
                type,
                a -> a[0] instanceof Long n
                        ? (Object) absolute(n)
                        : a[0] instanceof BigDecimal d ? d.abs() : Math.abs((Double) a[0]));
    }

    private static long absolute(long n) {
        if (n == Long.MIN_VALUE) {
            throw Types.tooLarge(BigDecimal.valueOf(n).negate(), Type.INTEGER);
        }
        return Math.abs(n);
    }

    private static RowFunction.Bound sign(Arguments args) {
        number(args, "sign(x)", "only a number has a sign");
        return Boxed.safe(
                Type.INTEGER,
                a -> a[0] instanceof BigDecimal d
                        ? (long) d.signum()
                        : (long) Math.signum(((Number) a[0]).doubleValue()));
    }

    private static RowFunction.Bound round(Arguments args, RoundingMode mode) {
        args.expectCount(1, 2, "round(x[, digits])");
        args.expectNumeric(0, "only a number can be rounded");
        int digits = args.count() == 1 ? 0 : args.wholeConstant(1, "The number of digits", 0, Type.MOST_DIGITS);
        Type from = args.type(0);
        if (from.equals(Type.REAL)) {
            return Boxed.safe(
                    from,
                    a -> new BigDecimal((Double) a[0]).setScale(digits, mode).doubleValue() + 0.0);
        }
        Type type = args.count() == 1 ? Type.INTEGER : Type.decimal(Math.min(digits, from.scale()));
        if (!from.isExact() || from.equals(Type.INTEGER)) {
            return RowFunction.Bound.safe(Type.INTEGER, (c, rows) -> Types.widen(c[0], Type.INTEGER));
        }
        return RowFunction.Bound.safe(type, (c, rows) -> roundExact((LongColumn) c[0].flat(), type, mode));
    }

    private static Column roundExact(LongColumn column, Type type, RoundingMode mode) {
        long divisor = Values.power(column.type().scale() - type.scale());
        long[] out = new long[column.size()];
        for (int i = 0; i < out.length; i++) {
            out[i] = rounded(column.values()[i], divisor, mode);
        }
        return new LongColumn(type, out, out.length, column.valid());
    }

    private static long rounded(long value, long divisor, RoundingMode mode) {
        long floor = Math.floorDiv(value, divisor);
        long over = value - floor * divisor;
        return switch (mode) {
            case FLOOR -> floor;
            case CEILING -> over == 0 ? floor : floor + 1;
            case HALF_UP -> over > divisor - over || (over == divisor - over && value > 0) ? floor + 1 : floor;
            default ->
                over > divisor - over || (over == divisor - over && over != 0 && (floor & 1) != 0) ? floor + 1 : floor;
        };
    }

    private static RowFunction.Bound whole(Arguments args, RoundingMode mode) {
        Type from =
                number(args, mode == RoundingMode.FLOOR ? "floor(x)" : "ceiling(x)", "only a number can be rounded");
        if (from.equals(Type.REAL)) {
            return Boxed.safe(
                    from,
                    a -> (mode == RoundingMode.FLOOR ? Math.floor((Double) a[0]) : Math.ceil((Double) a[0])) + 0.0);
        }
        return RowFunction.Bound.safe(
                Type.INTEGER,
                (c, rows) -> roundExact((LongColumn) Types.widen(c[0], from).flat(), Type.INTEGER, mode));
    }

    private static RowFunction.Bound band(Arguments args) {
        args.expectCount(2, 2, "band(x, width)");
        args.expectNumeric(0, "bands are made of numbers");
        args.expectNumeric(1, "the width of a band is a number");
        if (args.isConstant(1) && args.constant(1) instanceof Number width && width.doubleValue() <= 0) {
            throw new Misuse(1, "A band must be wider than 0.", null);
        }
        Type type = Objects.requireNonNull(Types.common(args.type(0), args.type(1)));
        if (type.equals(Type.REAL)) {
            return Boxed.safe(type, a -> {
                BigDecimal x = exact(a[0]);
                BigDecimal width = exact(a[1]);
                return width.signum() <= 0
                        ? null
                        : (Object) (x.divide(width, 0, RoundingMode.FLOOR)
                                        .multiply(width)
                                        .doubleValue()
                                + 0.0);
            });
        }
        return RowFunction.Bound.fallible(type, (c, rows) -> {
            LongColumn x = (LongColumn) Types.widen(c[0], type);
            LongColumn width = (LongColumn) Types.widen(c[1], type);
            long[] out = new long[rows];
            for (int i = 0; i < rows; i++) {
                long w = width.values()[i & width.mask()];
                if (w > 0) {
                    out[i] = Math.floorDiv(x.values()[i & x.mask()], w) * w;
                } else if (!width.isMissing(i)) {
                    throw new Fault("A band must be wider than 0.", String.valueOf(width.get(i)), null);
                }
            }
            return new LongColumn(type, out, rows, Validity.both(x, width, rows));
        });
    }

    /** Any kind of number by its exact value. */
    static BigDecimal exact(Object value) {
        return value instanceof BigDecimal d
                ? d
                : value instanceof Long n ? BigDecimal.valueOf(n) : new BigDecimal((Double) value);
    }

    private static RowFunction.Bound bands(Arguments args) {
        args.expectCount(2, Integer.MAX_VALUE, "bands(x, limit, limit, …)");
        args.expectNumeric(0, "bands are made of numbers");
        Type type = Type.EMPTY;
        List<BigDecimal> limits = new ArrayList<>();
        for (int i = 1; i < args.count(); i++) {
            args.expectNumeric(i, "the limits are numbers");
            type = Objects.requireNonNull(Types.common(type, args.type(i)));
            Object limit = args.isConstant(i) ? args.constant(i) : null;
            if (limit == null) {
                throw new Misuse(i, "The limits are numbers written out.", null);
            }
            if (i > 1 && exact(limit).compareTo(limits.get(i - 2)) <= 0) {
                throw new Misuse(i, "The limits must grow from one to the next.", null);
            }
            limits.add(exact(limit));
        }
        Type limitType = type;
        return Boxed.safe(type, a -> {
            BigDecimal x = exact(a[0]);
            BigDecimal found = null;
            for (BigDecimal limit : limits) {
                found = limit.compareTo(x) <= 0 ? limit : found;
            }
            return found == null ? null : as(limitType, found);
        });
    }

    /** A number as the object that columns of a type take. */
    private static Object as(Type type, BigDecimal value) {
        return switch (type.kind()) {
            case INTEGER -> value.longValueExact();
            case REAL -> value.round(MathContext.UNLIMITED).doubleValue();
            default -> value.setScale(type.scale());
        };
    }

    private static RowFunction.Bound extreme(Arguments args, int wanted) {
        args.expectCount(2, Integer.MAX_VALUE, "least(a, b, …)");
        Type type = Type.EMPTY;
        for (int i = 0; i < args.count(); i++) {
            Type next = Types.common(type, args.type(i));
            if (next == null) {
                throw new Misuse(
                        i, "'{}' is " + args.type(i).withArticle() + ", the values before it are " + type + ".", null);
            }
            type = next;
        }
        Type common = type;
        return RowFunction.Bound.fallible(type, (c, rows) -> {
            if (common.isExact() && Arrays.stream(c).anyMatch(a -> !a.type().equals(common))) {
                return extremeExact(c, rows, common, wanted);
            }
            Column best = Types.widen(c[0], common).flat();
            for (int i = 1; i < c.length; i++) {
                best = better(best, Types.widen(c[i], common).flat(), rows, wanted);
            }
            return best;
        });
    }

    /** Of different scales: chosen by exact value, and only the one chosen must fit. */
    private static Column extremeExact(Column[] values, int rows, Type type, int wanted) {
        List<@Nullable Object> chosen = new ArrayList<>(rows);
        for (int i = 0; i < rows; i++) {
            BigDecimal best = null;
            for (Column column : values) {
                Object value = column.get(i);
                if (value != null && (best == null || exact(value).compareTo(best) * wanted > 0)) {
                    best = exact(value);
                }
            }
            try {
                chosen.add(best == null ? null : stored(type, best));
            } catch (Fault fault) {
                throw fault.at(i);
            }
        }
        return Column.of(type, chosen);
    }

    /** An exact value as columns of an exact type hold it. */
    static Object stored(Type type, BigDecimal value) {
        BigDecimal scaled = value.setScale(type.scale(), RoundingMode.UNNECESSARY);
        if (scaled.unscaledValue().bitLength() > 63) {
            throw Types.tooLarge(value, type);
        }
        return type.equals(Type.INTEGER) ? (Object) scaled.longValueExact() : scaled;
    }

    private static Column better(Column a, Column b, int rows, int wanted) {
        Column both = Column.join(a.type(), List.of(a, b));
        int accepted = wanted < 0 ? Comparisons.LESS : Comparisons.GREATER;
        Arguments pair =
                new Arguments(List.of(new FieldRef(0, a.type()), new FieldRef(1, b.type())), CalendarSettings.NORMAL);
        RowFunction.Body test = Comparisons.bind(accepted, pair).maker().make(new dev.fiesta.problem.Notices());
        long[] second = ((dev.fiesta.value.TruthColumn) test.apply(new Column[] {b, a}, rows)).bits();
        int[] pick = new int[rows];
        for (int i = 0; i < rows; i++) {
            pick[i] = a.isMissing(i) || Bits.get(second, i) ? rows + i : i;
        }
        return both.take(pick, rows);
    }
}
