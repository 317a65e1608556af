package dev.fiesta.walk;

import dev.fiesta.compute.Arguments;
import dev.fiesta.compute.Fault;
import dev.fiesta.compute.Misuse;
import dev.fiesta.compute.Types;
import dev.fiesta.value.Column;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.Exact;
import dev.fiesta.value.Kind;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import dev.fiesta.value.Validity;
import dev.fiesta.walk.WalkFunction.Bound;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** All walking functions by name. */
public final class WalkFunctions {
    private static final Map<String, WalkFunction> ALL = new LinkedHashMap<>();

    /** One number for each position. */
    private interface Numbering {
        void run(Walk walk, long[] out);
    }

    static {
        List.of(
                        ranking(
                                        "row_number",
                                        "1, 2, 3, … in the order of the rows.",
                                        "1, 2, 3, 5, 4",
                                        FrameReach.Kind.ROWS_BEFORE,
                                        WalkFunctions::rowNumbers)
                                .lookingAtRows(),
                        ranking(
                                        "rank",
                                        "The place; rows that stand level share it and leave a gap after it.",
                                        "1, 2, 2, 5, 4",
                                        FrameReach.Kind.ROWS_BEFORE,
                                        WalkFunctions::ranks)
                                .countingBefore(),
                        ranking(
                                "dense_rank",
                                "The place; rows that stand level share it and leave no gap.",
                                "1, 2, 2, 4, 3",
                                FrameReach.Kind.DIFFERENT_BEFORE,
                                WalkFunctions::denseRanks),
                        parts(
                                "percent_rank",
                                "(rank - 1) / (rows - 1), 0 for a single row; of the rows that have what is walked along.",
                                "0, 0.3333333333333333, 0.3333333333333333, –, 1",
                                false),
                        parts(
                                "cume_dist",
                                "The part of the rows at or before this one; of the rows that have what is walked along.",
                                "0.25, 0.75, 0.75, –, 1",
                                true),
                        WalkFunction.of(
                                        "ntile",
                                        "ntile(n)",
                                        "1 to n: the rows that have what is walked along in n parts, as equal as can be, larger ones first.",
                                        "ntile(2 along takings)",
                                        "1, 1, 2, –, 2",
                                        WalkFunctions::ntile)
                                .lookingAtRows()
                                .countingRows(),
                        offset(
                                "lag",
                                "x of the row n before this one; 'lag(x, 1 week)' looks by value instead.",
                                "–, 10.00, 20.00, 20.00, –",
                                -1),
                        offset(
                                "lead",
                                "x of the row n after this one; 'lead(x, 1 week)' looks by value instead.",
                                "20.00, 20.00, –, 50.00, –",
                                1),
                        WalkFunction.of(
                                        "nth_value",
                                        "nth_value(x, n)",
                                        "x of the n-th row of the partition.",
                                        "nth_value(takings, 2 along day)",
                                        "20.00, 20.00, 20.00, 20.00, 20.00",
                                        WalkFunctions::nthValue)
                                .lookingAtRows(),
                        change(
                                "change",
                                "x less the x of the row before; of dates, in days.",
                                "–, 10.00, 0.00, –, –",
                                false),
                        change(
                                "relative_change",
                                "The change as a part of the x of the row before.",
                                "–, 1, 0, –, –",
                                true))
                .forEach(function -> ALL.put(function.name(), function));
    }

    private WalkFunctions() {}

    /** The functions, in the order of the reference. */
    public static List<WalkFunction> all() {
        return List.copyOf(ALL.values());
    }

    /** A function, or null. */
    public static @Nullable WalkFunction find(String name) {
        return ALL.get(name);
    }

    private static Bound numbering(Numbering numbering, FrameReach reach) {
        WalkFunction.Walker walker = (walk, args) -> {
            long[] out = new long[walk.length()];
            numbering.run(walk, out);
            return new LongColumn(Type.INTEGER, out, out.length, null);
        };
        return new Bound(Type.INTEGER, walker, reach);
    }

    private static WalkFunction ranking(
            String name, String about, String result, FrameReach.Kind reach, Numbering numbering) {
        String usage = name + "()";
        return WalkFunction.of(name, usage, about, name + "(along takings)", result, args -> {
            args.expectCount(0, 0, usage);
            return numbering(numbering, FrameReach.of(reach));
        });
    }

    private static void rowNumbers(Walk walk, long[] out) {
        for (int i = 0; i < out.length; i++) {
            out[i] = i - walk.start(i) + 1L;
        }
    }

    private static void ranks(Walk walk, long[] out) {
        int[] peers = walk.peers();
        for (int i = 0; i < out.length; i++) {
            out[i] = peers[i] - walk.start(i) + 1L;
        }
    }

    private static void denseRanks(Walk walk, long[] out) {
        int[] peers = walk.peers();
        for (int i = 0; i < out.length; i++) {
            out[i] = i == walk.start(i) ? 1 : out[i - 1] + (peers[i] == i ? 1 : 0);
        }
    }

    private static WalkFunction parts(String name, String about, String result, boolean upTo) {
        String usage = name + "()";
        WalkFunction.Rule rule = args -> {
            args.expectCount(0, 0, usage);
            return new Bound(
                    Type.REAL,
                    (walk, none) -> {
                        double[] out = new double[walk.length()];
                        int[] peers = walk.peers();
                        int behind = out.length;
                        for (int i = out.length - 1; i >= 0; i--) {
                            boolean last = i + 1 == out.length || peers[i + 1] != peers[i];
                            behind = last ? i + 1 : behind;
                            int rows = walk.end(i) - walk.start(i);
                            out[i] = upTo
                                    ? Exact.quotient(behind - walk.start(i), rows)
                                    : rows == 1 ? 0 : Exact.quotient(peers[i] - walk.start(i), rows - 1);
                        }
                        return new DoubleColumn(out, out.length, null);
                    },
                    FrameReach.of(FrameReach.Kind.ROWS_OF_ALL));
        };
        return WalkFunction.of(name, usage, about, name + "(along takings)", result, rule)
                .countingRows();
    }

    private static Bound ntile(Arguments args) {
        args.expectCount(1, 1, "ntile(n)");
        int n = args.wholeConstant(0, "The number of parts", 1, Integer.MAX_VALUE);
        return numbering((walk, out) -> ntile(walk, n, out), FrameReach.of(FrameReach.Kind.ROWS_OF_ALL));
    }

    private static void ntile(Walk walk, int n, long[] out) {
        for (int i = 0; i < out.length; i++) {
            long rows = walk.end(i) - walk.start(i);
            long at = i - walk.start(i);
            long size = rows / n;
            long larger = rows % n;
            long inLarger = larger * (size + 1);
            out[i] = at < inLarger ? at / (size + 1) + 1 : larger + (at - inLarger) / Math.max(1, size) + 1;
        }
    }

    private static WalkFunction offset(String name, String about, String result, int direction) {
        String usage = name + "(x[, n[, default]])";
        return WalkFunction.of(
                        name,
                        usage,
                        about,
                        name + "(takings along day)",
                        result,
                        args -> offset(args, usage, direction))
                .lookingAtRows()
                .lookingAtNeighbour()
                .byValue((args, months, micros) -> {
                    args.expectCount(1, 2, name + "(x, 1 week[, default])");
                    return byValue(args, new Frame.Span(months, micros, direction > 0));
                });
    }

    private static Bound offset(Arguments args, String usage, int direction) {
        args.expectCount(1, 3, usage);
        int rows = args.count() == 1 ? 1 : args.wholeConstant(1, "The number of rows", 0, Integer.MAX_VALUE);
        Type type = args.type(0);
        FrameReach reach = direction < 0 ? FrameReach.near(rows, 0) : FrameReach.near(0, rows);
        if (args.count() < 3) {
            return new Bound(
                    type, (walk, c) -> c[0].take(offsets(walk, direction * (long) rows, false), walk.length()), reach);
        }
        Type common = withDefault(args, 2);
        WalkFunction.Walker walker = (walk, c) -> {
            Column both = Column.join(
                    common,
                    List.of(Types.widen(c[0], common), Types.widen(c[2], common).flat()));
            return both.take(offsets(walk, direction * (long) rows, true), walk.length());
        };
        return new Bound(common, walker, reach);
    }

    /** For each position the row so many positions away; outside the partition -1, or the place of the default. */
    private static int[] offsets(Walk walk, long by, boolean withDefault) {
        int[] from = new int[walk.length()];
        for (int i = 0; i < from.length; i++) {
            long at = i + by;
            boolean inside = at >= walk.start(i) && at < walk.end(i);
            from[i] = inside ? walk.row((int) at) : withDefault ? walk.size() + walk.row(i) : -1;
        }
        return from;
    }

    /**
     * {@code lag(x, 1 week[, default])}: x of the last row whose key lies just so far before, or after for {@code lead}; the default
     * where no row fits.
     */
    private static Bound byValue(Arguments args, Frame.Span span) {
        Type common = args.count() < 2 ? args.type(0) : withDefault(args, 1);
        WalkFunction.Walker walker = (walk, c) -> {
            int[] from = found(walk, span, c.length > 1);
            Column values = c.length < 2
                    ? c[0]
                    : Column.join(
                            common,
                            List.of(
                                    Types.widen(c[0], common),
                                    Types.widen(c[1], common).flat()));
            return values.take(from, from.length);
        };
        return new Bound(common, walker, FrameReach.within(span));
    }

    /** For each position the row whose key lies a span away; else -1, or the place of the default. */
    private static int[] found(Walk walk, Frame.Span span, boolean withDefault) {
        Column key = walk.key().column().flat();
        long[] values = ((LongColumn) key).values();
        int[] from = new int[walk.length()];
        int at = 0;
        for (int i = 0; i < from.length; i++) {
            int row = walk.row(i);
            from[i] = withDefault ? walk.size() + row : -1;
            if (key.isMissing(row)) {
                continue;
            }
            at = Math.max(at, walk.start(i));
            long wanted = span.reach(key.type(), values[row], span.forward());
            while (at < walk.end(i) && !key.isMissing(walk.row(at)) && values[walk.row(at)] <= wanted) {
                at++;
            }
            if (at > walk.start(i) && values[walk.row(at - 1)] == wanted) {
                from[i] = walk.row(at - 1);
            }
        }
        return from;
    }

    private static Type withDefault(Arguments args, int place) {
        Type common = Types.common(args.type(0), args.type(place));
        if (common == null) {
            throw new Misuse(
                    place,
                    "'{}' is " + args.type(place).withArticle() + ", but the field is "
                            + args.type(0).withArticle() + ".",
                    null);
        }
        return common;
    }

    private static Bound nthValue(Arguments args) {
        args.expectCount(2, 2, "nth_value(x, n)");
        int n = args.wholeConstant(1, "The place of the row", 1, Integer.MAX_VALUE);
        WalkFunction.Walker walker = (walk, c) -> {
            int[] from = new int[walk.length()];
            for (int i = 0; i < from.length; i++) {
                long at = walk.start(i) + n - 1L;
                from[i] = at < walk.end(i) ? walk.row((int) at) : -1;
            }
            return c[0].take(from, from.length);
        };
        return new Bound(args.type(0), walker, FrameReach.nth(n));
    }

    private static WalkFunction change(String name, String about, String result, boolean relative) {
        String usage = name + "(x)";
        return WalkFunction.of(
                        name, usage, about, name + "(takings along day)", result, args -> change(args, usage, relative))
                .lookingAtRows()
                .lookingAtNeighbour();
    }

    private static Bound change(Arguments args, String usage, boolean relative) {
        args.expectCount(1, 1, usage);
        Type type = args.type(0).kind() == Kind.EMPTY ? Type.INTEGER : args.type(0);
        boolean dates = !relative && type.kind() == Kind.DATE;
        if (!type.isNumeric() && !dates) {
            args.expectNumeric(0, "'" + usage + "' needs numbers");
        }
        Type result = relative ? Type.REAL : dates ? Type.INTEGER : type;
        WalkFunction.Walker walker = (walk, c) -> {
            Column x = Types.widen(c[0], type);
            Column now = x.take(walk.rows(), walk.length());
            Column before = x.take(offsets(walk, -1, false), walk.length());
            return relative ? relative(now, before) : difference(now, before, result);
        };
        return new Bound(result, walker, FrameReach.near(1, 0));
    }

    private static Column difference(Column now, Column before, Type result) {
        int size = now.size();
        long[] valid = Validity.both(now, before, size);
        if (now instanceof LongColumn a && before instanceof LongColumn b) {
            long[] out = new long[size];
            for (int i = 0; i < size; i++) {
                if (Validity.has(valid, i)) {
                    out[i] = less(a.values()[i], b.values()[i], result);
                }
            }
            return new LongColumn(result, out, size, valid);
        }
        double[] out = new double[size];
        for (int i = 0; i < size; i++) {
            out[i] = ((DoubleColumn) now).values()[i] - ((DoubleColumn) before).values()[i];
        }
        return DoubleColumn.cleaned(out, size, valid);
    }

    private static long less(long x, long y, Type type) {
        long difference = x - y;
        if (((x ^ y) & (x ^ difference)) < 0) {
            BigInteger exact = BigInteger.valueOf(x).subtract(BigInteger.valueOf(y));
            String shown = new BigDecimal(exact, type.scale()).toPlainString();
            throw new Fault("A change of " + shown + " does not fit " + type.withArticle() + ".", shown, null);
        }
        return difference;
    }

    private static Column relative(Column now, Column before) {
        int size = now.size();
        long[] valid = Validity.both(now, before, size);
        double[] out = new double[size];
        Arrays.fill(out, Double.NaN);
        for (int i = 0; i < size; i++) {
            if (!Validity.has(valid, i)) {
                continue;
            }
            if (now instanceof LongColumn a && before instanceof LongColumn b) {
                BigInteger x = BigInteger.valueOf(a.values()[i]);
                BigInteger y = BigInteger.valueOf(b.values()[i]);
                out[i] = Exact.quotient(x.subtract(y), y);
            } else {
                BigDecimal x = new BigDecimal(((DoubleColumn) now).values()[i]);
                BigDecimal y = new BigDecimal(((DoubleColumn) before).values()[i]);
                BigDecimal change = x.subtract(y);
                int scale = Math.max(change.scale(), y.scale());
                out[i] = Exact.quotient(
                        change.setScale(scale).unscaledValue(),
                        y.setScale(scale).unscaledValue());
            }
        }
        return DoubleColumn.cleaned(out, size, valid);
    }
}
