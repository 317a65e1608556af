package dev.fiesta.compute;

import com.google.re2j.Pattern;
import dev.fiesta.catalogue.Entry;
import dev.fiesta.catalogue.Entry.Family;
import dev.fiesta.value.Bits;
import dev.fiesta.value.Column;
import dev.fiesta.value.Kind;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Texts;
import dev.fiesta.value.TruthColumn;
import dev.fiesta.value.Type;
import dev.fiesta.value.Validity;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;

/** All row functions and operators by name. */
public final class RowFunctions {
    private static final Map<String, RowFunction> FUNCTIONS = new LinkedHashMap<>();
    private static final Map<String, RowFunction> OPERATORS = new LinkedHashMap<>();

    static {
        List.of(NumberFunctions.all(), TextFunctions.all(), DateFunctions.all(), ConversionFunctions.all())
                .forEach(list -> list.forEach(f -> FUNCTIONS.put(f.name(), f)));
        operator("+", a -> isDays(a, 1) ? dayArithmetic(a, 1) : Arithmetic.bind(Arithmetic.Sign.PLUS, a));
        operator("-", a -> a.type(0).isTime() ? dayArithmetic(a, -1) : Arithmetic.bind(Arithmetic.Sign.MINUS, a));
        operator("*", a -> Arithmetic.bind(Arithmetic.Sign.TIMES, a));
        operator("/", Arithmetic::divide);
        operator("%", Arithmetic::modulo);
        operator("negate", Arithmetic::negate);
        comparison("=", Comparisons.EQUAL);
        comparison("<>", Comparisons.LESS | Comparisons.GREATER);
        comparison("<", Comparisons.LESS);
        comparison("<=", Comparisons.LESS | Comparisons.EQUAL);
        comparison(">", Comparisons.GREATER);
        comparison(">=", Comparisons.GREATER | Comparisons.EQUAL);
        operator("||", a -> Boxed.safe(Type.TEXT, v -> Texts.of(v[0]) + Texts.of(v[1])));
        operator("contains", a -> look(a, (t, part) -> t.contains(part)));
        operator("starts with", a -> look(a, (t, part) -> t.startsWith(part)));
        operator("ends with", a -> look(a, (t, part) -> t.endsWith(part)));
        operator("matches", RowFunctions::matches);
        OPERATORS.put(
                "in",
                function("in", RowFunctions::in)
                        .with(args -> args.subList(1, args.size()).stream().anyMatch(args.get(0)::mayEqual)));
        operator("not", a -> {
            a.expectKind(0, "'not' needs a condition", Kind.TRUTH);
            return RowFunction.Bound.safe(Type.TRUTH, (c, n) -> Logic.not(c[0], n));
        });
        operator("is missing", a -> RowFunction.Bound.safe(Type.TRUTH, (c, n) -> isMissing(c[0], n)));
    }

    private RowFunctions() {}

    private static void operator(String sign, RowFunction.Rule rule) {
        OPERATORS.put(sign, function(sign, rule));
    }

    private static RowFunction function(String sign, RowFunction.Rule rule) {
        return new RowFunction(new Entry(sign, Family.NUMBERS, sign, "", "", ""), rule);
    }

    private static void comparison(String sign, int accepted) {
        OPERATORS.put(sign, function(sign, a -> Comparisons.bind(accepted, a)).with(Comparisons.chance(accepted)));
    }

    /** The functions, in the order of the reference. */
    public static List<RowFunction> all() {
        return List.copyOf(FUNCTIONS.values());
    }

    /** A function, or null. */
    public static @org.jspecify.annotations.Nullable RowFunction find(String name) {
        return FUNCTIONS.get(name);
    }

    /** An operator by its sign; {@code negate}, {@code not}, {@code in} and {@code is missing} among them. */
    public static RowFunction operator(String sign) {
        return Objects.requireNonNull(OPERATORS.get(sign), sign);
    }

    /** A date moved by a span of time, given in months and microseconds. */
    public static RowFunction shift(long months, long micros) {
        Entry entry = new Entry("shift", Family.DATES, "", "", "", "");
        return new RowFunction(entry, args -> DateFunctions.shift(args, months, micros));
    }

    private static boolean isDays(Arguments args, int i) {
        return args.type(0).isTime() || args.type(i).isTime();
    }

    /** {@code date - date}; sums of dates are refused with the way out. */
    private static RowFunction.Bound dayArithmetic(Arguments args, int sign) {
        if (sign < 0 && args.type(0).kind() == Kind.DATE && args.type(1).kind() == Kind.DATE) {
            return RowFunction.Bound.safe(Type.INTEGER, (c, n) -> {
                LongColumn a = (LongColumn) c[0];
                LongColumn b = (LongColumn) c[1];
                long[] out = new long[n];
                for (int i = 0; i < n; i++) {
                    out[i] = a.values()[i & a.mask()] - b.values()[i & b.mask()];
                }
                return new LongColumn(Type.INTEGER, out, n, Validity.both(a, b, n));
            });
        }
        int other = args.type(0).isTime() ? 1 : 0;
        String way = args.type(other).isNumeric()
                ? "Name the unit: {} days, {} weeks, {} months."
                : "For the days between two of them write days_between(a, b).";
        throw new Misuse(
                other,
                "A date can be moved by a span of time only, not by "
                        + args.type(other).withArticle() + ".",
                way);
    }

    private interface Look {
        boolean test(String text, String part);
    }

    private static RowFunction.Bound look(Arguments args, Look look) {
        for (int i = 0; i < 2; i++) {
            args.expectKind(i, "one can look into texts only", Kind.TEXT);
        }
        return Boxed.safe(Type.TRUTH, v -> look.test((String) v[0], (String) v[1]));
    }

    private static RowFunction.Bound matches(Arguments args) {
        args.expectKind(0, "one can look into texts only", Kind.TEXT);
        Pattern pattern = TextFunctions.pattern(args, 1);
        return Boxed.safe(Type.TRUTH, v -> pattern.matcher((String) v[0]).find());
    }

    private static Column isMissing(Column column, int rows) {
        long[] valid = Validity.spread(column, rows);
        long[] bits = valid == null ? Bits.none(rows) : Bits.all(rows);
        for (int i = 0; valid != null && i < bits.length; i++) {
            bits[i] &= ~valid[i];
        }
        return new TruthColumn(bits, rows, null);
    }

    /** {@code x in (a, b, …)}: texts are asked once for each different text, others by an {@code or} of equalities. */
    private static RowFunction.Bound in(Arguments args) {
        List<RowFunction.Bound> equalities = new ArrayList<>();
        Set<Object> texts = new HashSet<>();
        for (int i = 1; i < args.count(); i++) {
            Arguments pair =
                    new Arguments(List.of(args.list().get(0), args.list().get(i)), args.calendar());
            try {
                equalities.add(Comparisons.bind(Comparisons.EQUAL, pair));
            } catch (Misuse misuse) {
                throw new Misuse(misuse.argument() == 0 ? 0 : i, misuse.sentence(), misuse.suggestion());
            }
            if (args.isConstant(i) && args.constant(i) instanceof String text) {
                texts.add(text);
            }
        }
        if (args.type(0).kind() == Kind.TEXT && texts.size() == args.count() - 1) {
            return new RowFunction.Bound(Type.TRUTH, false, notices -> {
                Boxed lookUp = new Boxed(Type.TRUTH, v -> texts.contains(v[0]));
                return (c, rows) -> lookUp.apply(new Column[] {c[0]}, rows);
            });
        }
        return new RowFunction.Bound(Type.TRUTH, false, notices -> {
            List<RowFunction.Body> bodies =
                    equalities.stream().map(e -> e.maker().make(notices)).toList();
            return (c, rows) -> anyOf(bodies, c, rows);
        });
    }

    private static Column anyOf(List<RowFunction.Body> bodies, Column[] c, int rows) {
        long[] bits = Bits.none(rows);
        long[] valid = Bits.all(rows);
        for (int i = 0; i < bodies.size(); i++) {
            TruthColumn one = (TruthColumn) bodies.get(i)
                    .apply(new Column[] {c[0], c[i + 1]}, rows)
                    .flat();
            for (int w = 0; w < bits.length; w++) {
                bits[w] |= one.bits()[w];
                valid[w] &= one.valid() == null ? -1L : one.valid()[w];
            }
        }
        for (int w = 0; w < bits.length; w++) {
            valid[w] |= bits[w];
        }
        return new TruthColumn(bits, rows, valid);
    }
}
