package dev.fiesta.oracle;

import dev.fiesta.language.Expr;
import dev.fiesta.language.Op;
import java.math.BigDecimal;
import java.math.MathContext;
import java.math.RoundingMode;
import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.temporal.ChronoUnit;
import java.time.temporal.TemporalAdjusters;
import java.util.Arrays;
import java.util.Map;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/** Expressions over one row. */
final class NaiveRow implements Expr.Visitor<Object> {
    static final MathContext DEEP = new MathContext(120, RoundingMode.HALF_EVEN);

    private final Map<String, Object> row;
    private final Function<Expr.Call, Object> many;

    /** @param many calls that look at many rows */
    NaiveRow(Map<String, Object> row, Function<Expr.Call, Object> many) {
        this.row = row;
        this.many = many;
    }

    Object eval(Expr expr) {
        return expr.accept(this);
    }

    static int compare(Object a, Object b) {
        if (isNumber(a) && isNumber(b)) {
            return exact(a).compareTo(exact(b));
        }
        if (a instanceof String x && b instanceof String y) {
            int[] p = x.codePoints().toArray();
            int[] q = y.codePoints().toArray();
            return Arrays.compare(p, q);
        }
        @SuppressWarnings("unchecked")
        Comparable<Object> comparable = (Comparable<Object>) a;
        return comparable.compareTo(b);
    }

    static boolean isNumber(Object value) {
        return value instanceof BigDecimal || value instanceof Double;
    }

    static BigDecimal exact(Object value) {
        return value instanceof BigDecimal d ? d : new BigDecimal((Double) value);
    }

    static @Nullable Double finite(double value) {
        return Double.isFinite(value) ? value + 0.0 : null;
    }

    static @Nullable Object divide(@Nullable Object a, @Nullable Object b) {
        if (a == null || b == null || exact(b).signum() == 0) {
            return null;
        }
        return finite(exact(a).divide(exact(b), DEEP).doubleValue());
    }

    @Override
    public Object literal(Expr.Literal node) {
        return node.value() instanceof Long n ? BigDecimal.valueOf(n) : node.value();
    }

    @Override
    public Object period(Expr.Period node) {
        throw new UnsupportedOperationException();
    }

    @Override
    public Object name(Expr.Name node) {
        if (!row.containsKey(node.name())) {
            throw new IllegalStateException(node.name() + " of " + row.keySet());
        }
        return row.get(node.name());
    }

    @Override
    public Object parameter(Expr.Parameter node) {
        throw new UnsupportedOperationException();
    }

    @Override
    public Object negate(Expr.Negate node) {
        Object value = eval(node.operand());
        return value == null ? null : value instanceof Double d ? (Object) (0.0 - d) : ((BigDecimal) value).negate();
    }

    @Override
    public Object not(Expr.Not node) {
        Object value = eval(node.operand());
        return value == null ? null : (Object) !((Boolean) value);
    }

    @Override
    public Object binary(Expr.Binary node) {
        Object a = eval(node.left());
        if (node.right() instanceof Expr.Period span) {
            return a == null ? null : shift(a, span, node.op() == Op.PLUS ? 1 : -1);
        }
        Object b = eval(node.right());
        if (node.op() == Op.AND || node.op() == Op.OR) {
            boolean decides = node.op() == Op.OR;
            if (Boolean.valueOf(decides).equals(a) || Boolean.valueOf(decides).equals(b)) {
                return decides;
            }
            return a == null || b == null ? null : (Object) !decides;
        }
        return a == null || b == null ? null : operate(node.op(), a, b);
    }

    private static Object shift(Object date, Expr.Period span, int sign) {
        long n = (long) span.amount() * sign;
        LocalDate day = (LocalDate) date;
        return switch (span.unit()) {
            case DAY -> day.plusDays(n);
            case WEEK -> day.plusWeeks(n);
            case MONTH -> day.plusMonths(n);
            case QUARTER -> day.plusMonths(3 * n);
            case YEAR -> day.plusYears(n);
            default -> throw new UnsupportedOperationException();
        };
    }

    private static Object operate(Op op, Object a, Object b) {
        if (op.compares()) {
            int sign = compare(a, b);
            return switch (op) {
                case EQUAL -> sign == 0;
                case DIFFERENT -> sign != 0;
                case LESS -> sign < 0;
                case AT_MOST -> sign <= 0;
                case GREATER -> sign > 0;
                default -> sign >= 0;
            };
        }
        return switch (op) {
            case JOIN -> a.toString() + b;
            case CONTAINS -> ((String) a).contains((String) b);
            case STARTS_WITH -> ((String) a).startsWith((String) b);
            case ENDS_WITH -> ((String) a).endsWith((String) b);
            case MINUS ->
                a instanceof LocalDate x
                        ? BigDecimal.valueOf(ChronoUnit.DAYS.between((LocalDate) b, x))
                        : calculate(op, a, b);
            default -> calculate(op, a, b);
        };
    }

    private static Object calculate(Op op, Object a, Object b) {
        if (op == Op.DIVIDED && a instanceof BigDecimal && b instanceof BigDecimal) {
            return divide(a, b);
        }
        if (a instanceof BigDecimal x && b instanceof BigDecimal y) {
            return switch (op) {
                case PLUS -> x.add(y);
                case MINUS -> x.subtract(y);
                case TIMES -> x.multiply(y);
                default -> y.signum() == 0 ? null : x.remainder(y);
            };
        }
        double x = ((Number) a).doubleValue();
        double y = ((Number) b).doubleValue();
        return switch (op) {
            case PLUS -> finite(x + y);
            case MINUS -> finite(x - y);
            case TIMES -> finite(x * y);
            case DIVIDED -> finite(x / y);
            default -> throw new UnsupportedOperationException(op.toString());
        };
    }

    private static BigDecimal floorMod(BigDecimal x, BigDecimal y) {
        return x.subtract(y.multiply(x.divide(y, 0, RoundingMode.FLOOR)));
    }

    @Override
    public Object between(Expr.Between node) {
        Expr low = new Expr.Binary(Op.AT_LEAST, node.operand(), node.low(), node.at());
        Expr high = new Expr.Binary(Op.AT_MOST, node.operand(), node.high(), node.at());
        return eval(new Expr.Binary(Op.AND, low, high, node.at()));
    }

    @Override
    public Object in(Expr.In node) {
        Expr any = null;
        for (Expr choice : node.choices()) {
            Expr same = new Expr.Binary(Op.EQUAL, node.operand(), choice, node.at());
            any = any == null ? same : new Expr.Binary(Op.OR, any, same, node.at());
        }
        return eval(any);
    }

    @Override
    public Object isMissing(Expr.IsMissing node) {
        return eval(node.operand()) == null;
    }

    @Override
    public Object conditional(Expr.If node) {
        for (Expr.Branch branch : node.branches()) {
            if (Boolean.TRUE.equals(eval(branch.condition()))) {
                return eval(branch.value());
            }
        }
        return node.otherwise() == null ? null : eval(node.otherwise());
    }

    @Override
    public Object reword(Expr.Reword node) {
        Object value = eval(node.operand());
        if (value == null) {
            return null;
        }
        for (Expr.Branch word : node.words()) {
            if (value.equals(eval(word.condition()))) {
                return eval(word.value());
            }
        }
        return node.otherwise() == null ? value : eval(node.otherwise());
    }

    @Override
    public Object call(Expr.Call node) {
        if (NaiveWalks.NAMES.contains(node.name()) || NaiveFigures.NAMES.contains(node.name())) {
            return many.apply(node);
        }
        if (node.name().equals("coalesce")) {
            return node.args().stream()
                    .map(this::eval)
                    .filter(v -> v != null)
                    .findFirst()
                    .orElse(null);
        }
        Object[] args = node.args().stream().map(this::eval).toArray();
        for (Object arg : args) {
            if (arg == null) {
                return null;
            }
        }
        return switch (node.name()) {
            case "abs" -> args[0] instanceof Double d ? (Object) Math.abs(d) : ((BigDecimal) args[0]).abs();
            case "round" -> ((BigDecimal) args[0]).setScale(((BigDecimal) args[1]).intValue(), RoundingMode.HALF_EVEN);
            case "floor" -> ((BigDecimal) args[0]).setScale(0, RoundingMode.FLOOR);
            case "band" -> ((BigDecimal) args[0]).subtract(floorMod((BigDecimal) args[0], (BigDecimal) args[1]));
            case "upper" -> ((String) args[0]).toUpperCase(java.util.Locale.ROOT);
            case "length" -> BigDecimal.valueOf(((String) args[0]).codePointCount(0, ((String) args[0]).length()));
            case "month" -> BigDecimal.valueOf(((LocalDate) args[0]).getMonthValue());
            case "weekday" ->
                BigDecimal.valueOf(((LocalDate) args[0]).getDayOfWeek().getValue());
            case "start_of_week" -> ((LocalDate) args[0]).with(TemporalAdjusters.previousOrSame(DayOfWeek.MONDAY));
            case "start_of_month" -> ((LocalDate) args[0]).withDayOfMonth(1);
            case "real" -> args[0] instanceof Double ? args[0] : (Object) ((BigDecimal) args[0]).doubleValue();
            default -> throw new UnsupportedOperationException(node.name());
        };
    }
}
