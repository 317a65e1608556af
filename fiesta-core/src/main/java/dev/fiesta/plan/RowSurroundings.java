package dev.fiesta.plan;

import dev.fiesta.compute.Arguments;
import dev.fiesta.compute.Expression;
import dev.fiesta.compute.FieldRef;
import dev.fiesta.compute.Misuse;
import dev.fiesta.compute.Present;
import dev.fiesta.gather.GatherFunction;
import dev.fiesta.gather.GatherFunctions;
import dev.fiesta.language.Expr;
import dev.fiesta.language.Span;
import dev.fiesta.problem.Suggestion;
import dev.fiesta.step.Calculation;
import dev.fiesta.step.OrderKey;
import dev.fiesta.step.WalkSpec;
import dev.fiesta.value.Kind;
import dev.fiesta.value.Unit;
import dev.fiesta.walk.Frame;
import dev.fiesta.walk.WalkFunction;
import dev.fiesta.walk.WalkFunctions;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.OptionalInt;
import org.jspecify.annotations.Nullable;

/**
 * {@code add}, {@code only}, {@code sort}, {@code check}: a name is one value of the row, and a call that looks at many rows
 * becomes a slot that is worked out before.
 */
final class RowSurroundings implements ExprBinder.Surroundings {
    private final Context context;
    private final Scope scope;
    private final String clause;
    private final LaterFigures laterFigures;
    private final List<WalkSpec> walks;
    private final ExprBinder binder;

    /**
     * @param clause the keyword of the clause, for messages
     * @param laterFigures figures of a later {@code give} and its line
     * @param walks where calls that look at many rows are gathered
     */
    RowSurroundings(Context context, Scope scope, String clause, LaterFigures laterFigures, List<WalkSpec> walks) {
        this.context = context;
        this.scope = scope;
        this.clause = clause;
        this.laterFigures = laterFigures;
        this.walks = walks;
        this.binder = new ExprBinder(context, this);
    }

    ExprBinder binder() {
        return binder;
    }

    @Override
    public Expression name(Expr.Name node) {
        Scope.Seen seen = scope.find(node.name());
        if (seen == null) {
            throw unknown(context, scope, clause, laterFigures, node.name(), node.at());
        }
        return new FieldRef(seen.slot(), seen.type());
    }

    /** The complaint about a name that is not there: it comes later, has been lost, or was never there. */
    static Complaint unknown(
            Context context, Scope scope, String clause, LaterFigures laterFigures, String name, Span at) {
        LaterFigures.Later later = laterFigures.find(name);
        Integer lost = scope.lostAt(name);
        if (lost != null) {
            List<String> keys = scope.level().keys();
            String per = keys == null || keys.isEmpty() ? name : String.join(", ", keys) + ", " + name;
            return context.complaint(
                    at,
                    "'" + name + "' has many values in " + scope.rowIs() + ", so there is no one value to show.",
                    "Group by it too ('per " + per + "'), or say which value in the 'give' on line " + lost + ": first("
                            + name + "), at_max(" + name + ", …), list(" + name + ").");
        }
        if (later != null) {
            return context.complaint(
                    at,
                    "'" + name + "' is a figure of the groups, so it cannot " + use(clause) + " records.",
                    new Suggestion(
                            "It is worked out by 'give' on line " + later.line() + ". Put this '" + clause
                                    + "' after line " + later.line() + " to " + use(clause) + " groups.",
                            later.move().get()));
        }
        if (name.equals("desc") || name.equals("asc")) {
            throw context.complaint(
                    at,
                    "There is no field '" + name + "'.",
                    "If the order is meant, it follows its key without a comma.");
        }
        Integer dropped = scope.droppedAt(name);
        if (dropped != null) {
            return context.complaint(
                    at,
                    "There is no field '" + name + "' any more: it was dropped on line " + dropped + ".",
                    "Put this before the 'drop', or drop it later.");
        }
        if (scope.hasColumnsFromData()) {
            return context.complaint(
                    at,
                    "'" + name + "' cannot be named here: after 'against' the columns come from the data.",
                    "Name keys or totals (" + String.join(", ", scope.reachable())
                            + "), or fix the columns: against KEY in ('…', '…').");
        }
        return context.complaint(at, "There is no field '" + name + "'.", Catalogue.proposal(name, scope.names()));
    }

    private static String use(String clause) {
        return switch (clause) {
            case "only" -> "choose";
            case "sort" -> "order";
            case "add" -> "describe";
            case "check" -> "check";
            default -> "be used on";
        };
    }

    @Override
    public Expression manyRows(Expr.Call node) {
        WalkFunction walk = WalkFunctions.find(node.name());
        Expr.Modifiers modifiers = node.modifiers();
        WalkSpec spec = walk != null ? walking(node, walk) : gathering(node, modifiers);
        walks.add(spec);
        return new FieldRef(spec.slot(), spec.calculation().type());
    }

    private WalkSpec walking(Expr.Call node, WalkFunction function) {
        Expr.Modifiers modifiers = node.modifiers();
        String name = node.name();
        if (modifiers.along().isEmpty()) {
            throw context.complaint(
                    node.at(),
                    "'" + name + "' walks from row to row, but nothing says in which order.",
                    "Add 'along' and what to go by: " + along(node, function) + ".");
        }
        if (modifiers.frame() != null) {
            throw context.complaint(
                    modifiers.frame().at(),
                    "'" + name + "' takes no frame.",
                    "Frames are for gathering functions such as sum.");
        }
        boolean byValue = node.args().size() >= 2 && node.args().get(1) instanceof Expr.Period;
        List<Expr> args = byValue ? withoutSpan(node.args()) : node.args();
        List<Expression> bound = args.stream().map(binder::bind).toList();
        List<OrderKey> along = along(modifiers);
        WalkFunction.Bound call = bind(
                node,
                bound,
                args,
                a -> byValue
                        ? byValue(function, node, a, along)
                        : function.rule().bind(a));
        Calculation calculation = new Calculation(function, call, null, null, null);
        return spec(node, calculation, bound, along);
    }

    private static List<Expr> withoutSpan(List<Expr> args) {
        List<Expr> others = new ArrayList<>(args);
        others.remove(1);
        return others;
    }

    private WalkFunction.Bound byValue(WalkFunction function, Expr.Call node, Arguments args, List<OrderKey> along) {
        WalkFunction.SpanRule rule = function.byValue();
        if (rule == null) {
            throw new Misuse(-1, "'" + function.name() + "' takes no span of time.", null);
        }
        Expr.Period span = (Expr.Period) node.args().get(1);
        refuseUndated(along, span.at());
        return rule.bind(args, ExprBinder.months(span), ExprBinder.micros(span));
    }

    private void refuseUndated(List<OrderKey> along, Span at) {
        if (along.stream().anyMatch(k -> context.isLost(k.key().type()))) {
            return;
        }
        boolean dated = along.size() == 1
                && !along.get(0).descending()
                && (along.get(0).key().type().kind() == Kind.DATE
                        || along.get(0).key().type().kind() == Kind.DATETIME);
        if (!dated) {
            throw context.complaint(
                    at,
                    "A span of time needs one ascending date to walk along.",
                    "Write 'along' with a single date or datetime.");
        }
    }

    private WalkSpec gathering(Expr.Call node, Expr.Modifiers modifiers) {
        GatherFunction function = Objects.requireNonNull(GatherFunctions.find(node.name()));
        if (modifiers.within() == null && modifiers.along().isEmpty()) {
            String over = example(node, "within " + partition()) + ", or 'within all' for the whole table.";
            throw context.complaint(
                    node.at(),
                    "'" + node.name() + "' gathers many rows, but in '" + clause + "' each row stands for itself.",
                    clause.equals("only")
                            ? groupFirst(node) + "\n  To go by rows, say over which: " + over
                            : "Say over which rows: " + over);
        }
        if (modifiers.along().isEmpty() && modifiers.frame() != null) {
            throw context.complaint(
                    modifiers.frame().at(),
                    "A frame needs an order to move in.",
                    "Add 'along' and what to go by before it.");
        }
        if (!modifiers.along().isEmpty() && modifiers.frame() == null && !function.looksAtOrder()) {
            throw context.complaint(
                    node.at(),
                    "'" + node.name() + "' walks along an order, but nothing says over which rows.",
                    "Add a frame: 'running' (from the start to here), 'last 4', 'last 7 days', 'from start to end'.");
        }
        List<Expression> bound = node.args().stream().map(binder::bind).toList();
        GatherFunction.Bound call = bind(node, bound, node.args(), function.rule()::bind);
        List<OrderKey> along = along(modifiers);
        Frame frame = frame(modifiers.frame(), along);
        Calculation calculation = new Calculation(null, null, function, call, frame);
        return spec(node, calculation, bound, along);
    }

    private @Nullable Frame frame(Expr.@Nullable Frame frame, List<OrderKey> along) {
        if (frame == null) {
            return null;
        }
        if (frame.span() instanceof Expr.Period span) {
            refuseUndated(along, frame.at());
            Frame.Span reach = new Frame.Span(ExprBinder.months(span), ExprBinder.micros(span), frame.forward());
            return new Frame(0, 0, reach, frame.full(), frame.atLeast());
        }
        return new Frame(frame.from(), frame.to(), null, frame.full(), frame.atLeast());
    }

    private WalkSpec spec(Expr.Call node, Calculation calculation, List<Expression> args, List<OrderKey> along) {
        Expr.Modifiers modifiers = node.modifiers();
        Expression only = modifiers.only() == null ? null : binder.condition(modifiers.only());
        if (calculation.walk() != null && calculation.walk().countsRows()) {
            only = new Present(
                    along.stream().map(OrderKey::key).toList(),
                    only,
                    context.place(node.at()).text());
        }
        List<Expression> within = new ArrayList<>();
        if (modifiers.within() != null) {
            modifiers.within().forEach(k -> within.add(binder.bind(k)));
        }
        return new WalkSpec(
                scope.newSlot(), calculation, args, only, within, along, period(node), context.place(node.at()));
    }

    /** The period that rows should lie apart, for a call that takes the row before for that of the period before; else null. */
    private @Nullable Unit period(Expr.Call node) {
        WalkFunction function = WalkFunctions.find(node.name());
        boolean neighbours = function != null
                && function.looksAtNeighbour()
                && !(node.args().size() > 1 && node.args().get(1) instanceof Expr.Period);
        List<Expr.SortKey> along = node.modifiers().along();
        return neighbours && along.size() == 1 && along.get(0).key() instanceof Expr.Name name
                ? scope.periods().get(name.name())
                : null;
    }

    private List<OrderKey> along(Expr.Modifiers modifiers) {
        return modifiers.along().stream()
                .flatMap(k -> context.order(binder.bind(k.key()), k.descending()).stream())
                .toList();
    }

    private <T> T bind(
            Expr.Call node, List<Expression> bound, List<Expr> args, java.util.function.Function<Arguments, T> rule) {
        try {
            return rule.apply(new Arguments(bound, context.calendar()));
        } catch (Misuse misuse) {
            throw context.misused(misuse, args.stream().map(Expr::at).toList(), node.at());
        }
    }

    /** How a walking call gets its order; what stands in the brackets of one that takes no value is meant as that. */
    private String along(Expr.Call node, WalkFunction function) {
        boolean order = function.entry().usage().endsWith("()") && node.args().size() == 1;
        String by = order ? context.text().at(node.args().get(0).at()) : number();
        String modifiers = "within " + partition() + " along " + by + " desc";
        return order ? node.name() + "(" + modifiers + ")" : example(node, modifiers);
    }

    /** A field that would make an order: the first number, else any. */
    private String number() {
        List<String> names = scope.names();
        return names.stream()
                .filter(n -> Objects.requireNonNull(scope.find(n)).type().isNumeric())
                .findFirst()
                .orElse(names.isEmpty() ? "KEY" : names.get(0));
    }

    /** A field that would make a partition: the first text, else any. */
    private String partition() {
        List<String> names = scope.names();
        return names.stream()
                .filter(n -> Objects.requireNonNull(scope.find(n)).type().kind() == Kind.TEXT)
                .findFirst()
                .orElse(names.isEmpty() ? "KEY" : names.get(0));
    }

    /** How groups are chosen by a figure: it is given a name first. */
    private String groupFirst(Expr.Call node) {
        String written = context.text().at(node.at()).replaceAll("\\s+", " ");
        OptionalInt give = laterFigures.firstLine();
        return give.isEmpty()
                ? "To choose groups, write: per … give x = " + written + " only x …"
                : "To choose groups, put this 'only' after the 'give' on line " + give.getAsInt()
                        + ", and give the figure a name there.";
    }

    /** The call as written, with modifiers that it lacks. */
    private String example(Expr.Call node, String modifiers) {
        List<String> args =
                node.args().stream().map(a -> context.text().at(a.at())).toList();
        String written = String.join(", ", args);
        return node.name() + "(" + (written.isEmpty() ? "" : written + " ") + modifiers + ")";
    }
}
