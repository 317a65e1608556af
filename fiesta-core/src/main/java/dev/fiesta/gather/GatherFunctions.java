package dev.fiesta.gather;

import dev.fiesta.catalogue.Entry;
import dev.fiesta.catalogue.Entry.Family;
import dev.fiesta.compute.Arguments;
import dev.fiesta.compute.Misuse;
import dev.fiesta.gather.GatherFunction.Bound;
import dev.fiesta.value.Kind;
import dev.fiesta.value.Type;
import java.math.BigDecimal;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** All gathering functions by name. */
public final class GatherFunctions {
    private static final Map<String, GatherFunction> ALL = new LinkedHashMap<>();

    static {
        add(
                "count",
                "count([x])",
                "The number of rows, or of rows where x is not missing.",
                "count(takings)",
                "4",
                false,
                args -> {
                    args.expectCount(0, 1, "count([x])");
                    Counts.What what = args.count() == 0 ? Counts.What.ROWS : Counts.What.VALUES;
                    return new Bound(Type.INTEGER, () -> new Counts(what));
                });
        add(
                "count_if",
                "count_if(condition)",
                "The number of rows for which the condition is true.",
                "count_if(takings > 15)",
                "3",
                false,
                args -> {
                    truth(args, "count_if(condition)");
                    return new Bound(Type.INTEGER, () -> new Counts(Counts.What.TRUE));
                });
        add(
                "count_distinct",
                "count_distinct(x)",
                "The number of different values.",
                "count_distinct(takings)",
                "3",
                false,
                args -> {
                    Type type = one(args, "count_distinct(x)");
                    return new Bound(Type.INTEGER, () -> new Collected.Distinct(type));
                });
        moments("sum", "The sum.", "sum(takings)", "100.00", Moments.Result.SUM);
        moments("mean", "The arithmetic mean.", "mean(takings)", "25", Moments.Result.MEAN);
        quantile(
                "median",
                "median(x)",
                "The value in the middle, or the mean of the two there.",
                "median(takings)",
                "20");
        quantile(
                "quantile",
                "quantile(x, p)",
                "The value below which the part p lies, interpolated between neighbours.",
                "quantile(takings, 0.25)",
                "17.5");
        extreme("min", "The least value.", "min(takings)", "10.00", Extremes.By.LEAST, false);
        extreme("max", "The greatest value.", "max(takings)", "50.00", Extremes.By.GREATEST, false);
        add(
                "range",
                "range(x)",
                "The greatest value less the least; of dates, in days.",
                "range(takings)",
                "40.00",
                false,
                args -> {
                    Type type = one(args, "range(x)");
                    if (!type.isNumeric() && type.kind() != Kind.DATE && type.kind() != Kind.EMPTY) {
                        throw new Misuse(
                                0, "'{}' is " + type.withArticle() + ", but a range needs numbers or dates.", null);
                    }
                    return new Bound(type.isTime() ? Type.INTEGER : type, () -> new Extremes.Range(type));
                });
        moments(
                "stddev",
                "The standard deviation of a sample; missing for one value.",
                "stddev(takings)",
                "17.320508075688775",
                Moments.Result.STDDEV);
        moments(
                "variance",
                "The variance of a sample; missing for one value.",
                "variance(takings)",
                "300",
                Moments.Result.VARIANCE);
        moments(
                "stddev_pop",
                "The standard deviation of a whole population.",
                "stddev_pop(takings)",
                "15",
                Moments.Result.STDDEV_POP);
        moments(
                "variance_pop",
                "The variance of a whole population.",
                "variance_pop(takings)",
                "225",
                Moments.Result.VARIANCE_POP);
        add(
                "mode",
                "mode(x)",
                "The most frequent value; of several the least.",
                "mode(takings)",
                "20.00",
                false,
                args -> {
                    Type type = one(args, "mode(x)");
                    return new Bound(type, () -> new Collected.Mode(type));
                });
        extreme(
                "first",
                "The first value, in the order of the rows or along a field.",
                "first(site)",
                "Quay",
                Extremes.By.FIRST,
                true);
        extreme(
                "last",
                "The last value, in the order of the rows or along a field.",
                "last(site)",
                "Meadow",
                Extremes.By.LAST,
                true);
        beside(
                "at_max",
                "at_max(x, by)",
                "x in the first row where 'by' is greatest.",
                "at_max(site, takings)",
                "Meadow",
                Extremes.By.GREATEST);
        beside(
                "at_min",
                "at_min(x, by)",
                "x in the first row where 'by' is least.",
                "at_min(site, takings)",
                "Quay",
                Extremes.By.LEAST);
        add(
                "list",
                "list(x[, sep])",
                "The values as one text, at most 1 000 of them.",
                "list(takings, '; ')",
                "10.00; 20.00; 20.00; 50.00",
                true,
                args -> {
                    args.expectCount(1, 2, "list(x[, sep])");
                    String separator = args.count() == 2 ? args.textConstant(1, "The separator") : ", ";
                    Type type = args.type(0);
                    return new Bound(Type.TEXT, () -> new Collected.Listed(type, separator));
                });
        add(
                "share",
                "share(x)",
                "The part of the sum of the wider group that 'within' names, or of all.",
                "share(takings)",
                "1",
                false,
                args -> {
                    Type type = numeric(args, "share", "share(x)");
                    return new Bound(Type.REAL, () -> new Moments(Moments.Result.SUM, type));
                });
        add(
                "correlation",
                "correlation(x, y)",
                "How far x and y go together, -1 to 1.",
                "correlation(takings, takings)",
                "1",
                false,
                args -> pairs(args, true));
        add(
                "weighted_mean",
                "weighted_mean(x, w)",
                "The mean of x weighted by w.",
                "weighted_mean(takings, takings)",
                "34",
                false,
                args -> pairs(args, false));
        add(
                "any",
                "any(condition)",
                "Whether the condition is true for a row.",
                "any(takings > 40)",
                "true",
                false,
                args -> {
                    truth(args, "any(condition)");
                    return new Bound(Type.TRUTH, () -> new Truths(false));
                });
        add(
                "all",
                "all(condition)",
                "Whether the condition is true for every row that has it.",
                "all(takings > 40)",
                "false",
                false,
                args -> {
                    truth(args, "all(condition)");
                    return new Bound(Type.TRUTH, () -> new Truths(true));
                });
    }

    private GatherFunctions() {}

    /** The functions, in the order of the reference. */
    public static List<GatherFunction> all() {
        return List.copyOf(ALL.values());
    }

    /** A function, or null. */
    public static @Nullable GatherFunction find(String name) {
        return ALL.get(name);
    }

    private static void add(
            String name,
            String usage,
            String about,
            String example,
            String result,
            boolean order,
            GatherFunction.Rule rule) {
        ALL.put(
                name,
                new GatherFunction(new Entry(name, Family.GATHERING, usage, about, example, result), order, rule));
    }

    private static Type one(Arguments args, String usage) {
        args.expectCount(1, 1, usage);
        return args.type(0);
    }

    private static void truth(Arguments args, String usage) {
        args.expectCount(1, 1, usage);
        args.expectKind(0, "a condition is needed", Kind.TRUTH);
    }

    private static Type numeric(Arguments args, String name, String usage) {
        args.expectCount(1, 1, usage);
        args.expectNumeric(0, "'" + name + "' needs numbers");
        return args.type(0).kind() == Kind.EMPTY ? Type.INTEGER : args.type(0);
    }

    private static void moments(String name, String about, String example, String result, Moments.Result wanted) {
        String usage = name + "(x)";
        add(name, usage, about, example, result, false, args -> {
            Type type = numeric(args, name, usage);
            boolean kept = wanted == Moments.Result.SUM && type.isExact();
            return new Bound(kept ? type : Type.REAL, () -> new Moments(wanted, type));
        });
    }

    private static void quantile(String name, String usage, String about, String example, String result) {
        add(name, usage, about, example, result, false, args -> {
            boolean median = name.equals("median");
            args.expectCount(median ? 1 : 2, median ? 1 : 2, usage);
            args.expectNumeric(0, "'" + name + "' needs numbers");
            Type type = args.type(0).kind() == Kind.EMPTY ? Type.INTEGER : args.type(0);
            BigDecimal part = median ? new BigDecimal("0.5") : part(args);
            return new Bound(Type.REAL, () -> new Collected.Quantile(type, part));
        });
    }

    /** The part that a call of {@code quantile} asks for. */
    public static BigDecimal part(Arguments args) {
        Object part = args.isConstant(1) ? args.constant(1) : null;
        BigDecimal exact = part instanceof Long n ? BigDecimal.valueOf(n) : part instanceof BigDecimal d ? d : null;
        if (exact == null || exact.signum() < 0 || exact.compareTo(BigDecimal.ONE) > 0) {
            throw new Misuse(
                    1, "The part of a quantile is a decimal from 0 to 1, written out.", "Write for instance 0.9.");
        }
        return exact;
    }

    private static void extreme(
            String name, String about, String example, String result, Extremes.By by, boolean order) {
        String usage = name + "(x)";
        add(name, usage, about, example, result, order, args -> {
            Type type = one(args, usage);
            return new Bound(type, () -> new Extremes(by, type, type));
        });
    }

    private static void beside(String name, String usage, String about, String example, String result, Extremes.By by) {
        add(name, usage, about, example, result, true, args -> {
            args.expectCount(2, 2, usage);
            Type shown = args.type(0);
            Type deciding = args.type(1);
            return new Bound(shown, () -> new Extremes(by, shown, deciding));
        });
    }

    private static Bound pairs(Arguments args, boolean correlation) {
        args.expectCount(2, 2, correlation ? "correlation(x, y)" : "weighted_mean(x, w)");
        for (int i = 0; i < 2; i++) {
            args.expectNumeric(i, "numbers are needed");
        }
        return new Bound(Type.REAL, () -> new Pairs(correlation, args.type(0), args.type(1)));
    }
}
