package dev.fiesta.plan;

import dev.fiesta.compute.Apply;
import dev.fiesta.compute.Arguments;
import dev.fiesta.compute.Conditional;
import dev.fiesta.compute.Constant;
import dev.fiesta.compute.Expression;
import dev.fiesta.compute.Logic;
import dev.fiesta.compute.Misuse;
import dev.fiesta.compute.RowFunction;
import dev.fiesta.compute.RowFunctions;
import dev.fiesta.compute.Types;
import dev.fiesta.gather.GatherFunctions;
import dev.fiesta.language.Expr;
import dev.fiesta.language.Op;
import dev.fiesta.language.Span;
import dev.fiesta.problem.Names;
import dev.fiesta.problem.Suggestion;
import dev.fiesta.value.Kind;
import dev.fiesta.value.Type;
import dev.fiesta.value.Unit;
import dev.fiesta.value.Values;
import dev.fiesta.walk.WalkFunctions;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.jspecify.annotations.Nullable;

/** Settles names and types of an expression. Who makes one says what names and many-row calls mean there. */
final class ExprBinder implements Expr.Visitor<Expression> {
    /** What names and calls that look at many rows mean at a place. */
    interface Surroundings {
        /** The field, key or figure of a name. */
        Expression name(Expr.Name node);

        /** A call of a gathering or walking function. */
        Expression manyRows(Expr.Call node);
    }

    private final Context context;
    private final Surroundings surroundings;

    ExprBinder(Context context, Surroundings surroundings) {
        this.context = context;
        this.surroundings = surroundings;
    }

    Expression bind(Expr expr) {
        return expr.accept(this);
    }

    /** An expression that must be true or false. */
    Expression condition(Expr expr) {
        Expression bound = bind(expr);
        if (bound.type().kind() != Kind.TRUTH && bound.type().kind() != Kind.EMPTY) {
            throw context.complaint(
                    expr.at(),
                    "This is " + bound.type().withArticle() + ", but a condition is needed.",
                    "Compare it with something.");
        }
        return bound;
    }

    @Override
    public Expression literal(Expr.Literal node) {
        return new Constant(node.type(), node.value());
    }

    @Override
    public Expression period(Expr.Period node) {
        throw context.complaint(
                node.at(),
                "A span of time can only be added to a date or taken from it.",
                "Write for instance 'week + 7 days'.");
    }

    @Override
    public Expression name(Expr.Name node) {
        return surroundings.name(node);
    }

    @Override
    public Expression parameter(Expr.Parameter node) {
        Parameters.Value value = parameterValue(node);
        if (value.list()) {
            throw context.complaint(
                    node.at(),
                    "':" + node.name() + "' is a list, so it can only stand after 'in'.",
                    "Write for instance 'site in :" + node.name() + "'.");
        }
        return new Constant(value.type(), value.single());
    }

    private Parameters.Value parameterValue(Expr.Parameter node) {
        Parameters.Value value = context.parameters().values().get(node.name());
        if (value == null) {
            throw context.complaint(
                    node.at(),
                    "There is no parameter ':" + node.name() + "'.",
                    Names.didYouMean(node.name(), context.parameters().values().keySet(), "The parameters are"));
        }
        return value;
    }

    @Override
    public Expression negate(Expr.Negate node) {
        return apply(RowFunctions.operator("negate"), List.of(node.operand()), node.at());
    }

    @Override
    public Expression not(Expr.Not node) {
        return apply(RowFunctions.operator("not"), List.of(node.operand()), node.at());
    }

    @Override
    public Expression binary(Expr.Binary node) {
        if (node.op() == Op.AND) {
            return Logic.and(condition(node.left()), condition(node.right()));
        }
        if (node.op() == Op.OR) {
            return Logic.or(condition(node.left()), condition(node.right()));
        }
        if (node.right() instanceof Expr.Period span && (node.op() == Op.PLUS || node.op() == Op.MINUS)) {
            return shifted(node.left(), span, node.op() == Op.PLUS ? 1 : -1, node.at());
        }
        if (node.left() instanceof Expr.Period span && node.op() == Op.PLUS) {
            return shifted(node.right(), span, 1, node.at());
        }
        if (node.op().compares() && (isMissing(node.left()) || isMissing(node.right()))) {
            Expr other = isMissing(node.left()) ? node.right() : node.left();
            String test = node.op() == Op.DIFFERENT ? " is not missing" : " is missing";
            throw context.complaint(
                    node.at(),
                    "Nothing is equal to 'missing', not even a missing value, so this would never be true.",
                    "Write '" + context.text().at(other.at()) + test + "'.");
        }
        Expression left = bind(node.left());
        List<Expression> sides = List.of(left, with(left, node.right()));
        if (node.op() == Op.EQUAL || node.op() == Op.DIFFERENT) {
            boolean differs = node.op() == Op.DIFFERENT;
            context.texts().note(context, node.left(), sides.get(1), differs, node.at());
            context.texts().note(context, node.right(), sides.get(0), differs, node.at());
        }
        List<Span> places = List.of(node.left().at(), node.right().at());
        return applied(RowFunctions.operator(node.op().sign()), sides, places, node.at());
    }

    /** What stands beside a text: a name that is no field is perhaps a text without its quotes. */
    private Expression with(Expression left, Expr right) {
        try {
            return bind(right);
        } catch (Complaint complaint) {
            String meant = complaint.problem().suggestion();
            boolean unknown = complaint.problem().message().startsWith("There is no field");
            boolean text = unknown && right instanceof Expr.Name && left.type().kind() == Kind.TEXT;
            if (!text
                    || meant == null
                    || (meant.startsWith("Did")
                            && !context.text().at(right.at()).startsWith("\""))) {
                throw complaint;
            }
            String written = "'" + ((Expr.Name) right).name() + "'";
            if (List.of("null", "none", "nil", "na")
                    .contains(((Expr.Name) right).name().toLowerCase(Locale.ROOT))) {
                throw context.complaint(
                        right.at(),
                        "What is not there is called 'missing'.",
                        "It is written: … is missing, or is not missing");
            }
            throw context.complaint(
                    right.at(),
                    complaint.problem().message(),
                    Suggestion.between(
                            "A text stands in single quotes: " + written + ".",
                            right.at().start(),
                            right.at().end(),
                            written));
        }
    }

    private static boolean isMissing(Expr expr) {
        return expr instanceof Expr.Literal literal && literal.value() == null;
    }

    private Expression shifted(Expr date, Expr.Period span, int sign, Span at) {
        RowFunction shift = RowFunctions.shift(sign * months(span), sign * micros(span));
        return apply(shift, List.of(date), at);
    }

    /** The months of a span of time, 0 for shorter units. */
    static long months(Expr.Period span) {
        return span.amount()
                * (span.unit() == Unit.MONTH
                        ? 1L
                        : span.unit() == Unit.QUARTER ? 3L : span.unit() == Unit.YEAR ? 12L : 0L);
    }

    /** The microseconds of a span of time, 0 for months and longer. */
    static long micros(Expr.Period span) {
        return span.amount()
                * switch (span.unit()) {
                    case MINUTE -> 60_000_000L;
                    case HOUR -> 3_600_000_000L;
                    case DAY -> Values.MICROS_A_DAY;
                    case WEEK -> 7 * Values.MICROS_A_DAY;
                    default -> 0L;
                };
    }

    @Override
    public Expression between(Expr.Between node) {
        Expression operand = bind(node.operand());
        return Logic.and(
                compared(">=", operand, node.operand(), node.low(), node.at()),
                compared("<=", operand, node.operand(), node.high(), node.at()));
    }

    /** A comparison of what is bound already: what it needs of many rows is worked out once. */
    private Expression compared(String sign, Expression operand, Expr written, Expr with, Span at) {
        return applied(RowFunctions.operator(sign), List.of(operand, bind(with)), List.of(written.at(), with.at()), at);
    }

    @Override
    public Expression in(Expr.In node) {
        List<Expression> args = new ArrayList<>();
        List<Span> places = new ArrayList<>();
        args.add(bind(node.operand()));
        places.add(node.operand().at());
        for (Expr choice : node.choices()) {
            if (choice instanceof Expr.Parameter parameter
                    && parameterValue(parameter).list()) {
                Parameters.Value value = parameterValue(parameter);
                List<Object> items = value.items() == null ? List.of() : value.items();
                items.forEach(item -> {
                    args.add(new Constant(value.type(), item));
                    places.add(choice.at());
                });
            } else {
                args.add(with(args.get(0), choice));
                places.add(choice.at());
            }
        }
        noteTexts(node.operand(), args, node.at());
        if (args.size() == 1) {
            return new Constant(Type.TRUTH, null);
        }
        return applied(RowFunctions.operator("in"), args, places, node.at());
    }

    @Override
    public Expression isMissing(Expr.IsMissing node) {
        if (node.operand() instanceof Expr.Parameter parameter
                && parameterValue(parameter).list()) {
            List<Object> items = parameterValue(parameter).items();
            return new Constant(Type.TRUTH, items == null || items.isEmpty());
        }
        return apply(RowFunctions.operator("is missing"), List.of(node.operand()), node.at());
    }

    @Override
    public Expression conditional(Expr.If node) {
        List<Expression> conditions = new ArrayList<>();
        List<Expression> values = new ArrayList<>();
        List<Span> places = new ArrayList<>();
        for (Expr.Branch branch : node.branches()) {
            conditions.add(condition(branch.condition()));
            values.add(bind(branch.value()));
            places.add(branch.value().at());
        }
        if (node.otherwise() != null) {
            conditions.add(new Constant(Type.TRUTH, true));
            values.add(bind(node.otherwise()));
            places.add(node.otherwise().at());
        }
        return new Conditional(
                common(values, places),
                new ArrayList<@Nullable Expression>(conditions),
                values,
                context.place(node.at()));
    }

    private Type common(List<Expression> values, List<Span> places) {
        Type type = Type.EMPTY;
        for (int i = 0; i < values.size(); i++) {
            Type next = Types.common(type, values.get(i).type());
            if (next == null) {
                throw context.complaint(
                        places.get(i),
                        "'" + context.text().at(places.get(i)) + "' is "
                                + values.get(i).type().withArticle() + ", but the values before it are of type " + type
                                + ".",
                        "All values must be of one type; convert one of them.");
            }
            type = next;
        }
        return type;
    }

    @Override
    public Expression reword(Expr.Reword node) {
        List<@Nullable Expression> conditions = new ArrayList<>();
        List<Expression> values = new ArrayList<>();
        List<Span> places = new ArrayList<>();
        Expression operand = bind(node.operand());
        for (Expr.Branch pair : node.words()) {
            Expression with = bind(pair.condition());
            context.texts().note(context, node.operand(), with, false, node.at());
            List<Span> compared = List.of(node.operand().at(), pair.condition().at());
            conditions.add(applied(RowFunctions.operator("="), List.of(operand, with), compared, node.at()));
            values.add(bind(pair.value()));
            places.add(pair.value().at());
        }
        if (node.otherwise() == null) {
            conditions.add(null);
            values.add(operand);
            places.add(node.operand().at());
        } else {
            conditions.add(applied(
                    RowFunctions.operator("is missing"),
                    List.of(operand),
                    List.of(node.operand().at()),
                    node.at()));
            values.add(new Constant(Type.EMPTY, null));
            places.add(node.at());
            conditions.add(new Constant(Type.TRUTH, true));
            values.add(bind(node.otherwise()));
            places.add(node.otherwise().at());
        }
        return new Conditional(common(values, places), conditions, values, context.place(node.at()));
    }

    @Override
    public Expression call(Expr.Call node) {
        if (GatherFunctions.find(node.name()) != null || WalkFunctions.find(node.name()) != null) {
            return surroundings.manyRows(node);
        }
        if (node.name().equals("coalesce")) {
            return coalesce(node);
        }
        RowFunction known = RowFunctions.find(node.name());
        RowFunction function = known == null ? context.parameters().functions().get(node.name()) : known;
        if (function == null) {
            throw context.complaint(
                    node.nameAt(), "There is no function '" + node.name() + "'.", MeantFunction.of(context, node));
        }
        if (!node.modifiers().isEmpty()) {
            throw context.complaint(
                    node.at(),
                    "'" + node.name()
                            + "' looks at one row, so 'only', 'within', 'along' and frames mean nothing to it.",
                    "They belong into a gathering or walking call.");
        }
        return apply(function, node.args(), node.at());
    }

    private Expression coalesce(Expr.Call node) {
        if (node.args().isEmpty()) {
            throw context.complaint(
                    node.at(), "'coalesce' needs at least one value.", "It is written coalesce(a, b, …).");
        }
        List<Expression> values = node.args().stream().map(this::bind).toList();
        List<Span> places = node.args().stream().map(Expr::at).toList();
        List<@Nullable Expression> conditions = new ArrayList<>();
        values.forEach(v -> conditions.add(null));
        return new Conditional(common(values, places), conditions, values, context.place(node.at()));
    }

    /** Texts that a field is compared with: all values but the first, which is the field's. */
    private void noteTexts(Expr operand, List<Expression> values, Span at) {
        values.stream().skip(1).forEach(value -> context.texts().note(context, operand, value, false, at));
    }

    private Expression apply(RowFunction function, List<Expr> args, Span at) {
        List<Expression> bound = args.stream().map(this::bind).toList();
        if (function.comparesTexts() && !args.isEmpty()) {
            noteTexts(args.get(0), bound, at);
        }
        return applied(function, bound, args.stream().map(Expr::at).toList(), at);
    }

    private Expression applied(RowFunction function, List<Expression> args, List<Span> places, Span at) {
        try {
            return Apply.of(function, new Arguments(args, context.calendar()), context.place(at));
        } catch (Misuse misuse) {
            throw context.misused(misuse, places, at);
        }
    }
}
