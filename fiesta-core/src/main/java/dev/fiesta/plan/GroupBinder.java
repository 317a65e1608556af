package dev.fiesta.plan;

import dev.fiesta.compute.Constant;
import dev.fiesta.compute.Expression;
import dev.fiesta.compute.FieldRef;
import dev.fiesta.gather.GatherFunction;
import dev.fiesta.gather.GatherFunctions;
import dev.fiesta.language.Assign;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Expr;
import dev.fiesta.language.Ref;
import dev.fiesta.problem.Names;
import dev.fiesta.step.Assignment;
import dev.fiesta.step.Globs;
import dev.fiesta.step.GroupStep;
import dev.fiesta.step.InputTexts;
import dev.fiesta.step.TablePlan;
import dev.fiesta.step.TablePlan.Level;
import dev.fiesta.step.WalkSpec;
import dev.fiesta.value.Field;
import dev.fiesta.value.Type;
import dev.fiesta.value.Unit;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** Settles {@code per … give}: from here on a row is a group, and only keys and figures have names. */
final class GroupBinder {
    /** The number of records of a group, where somebody needs it and nobody sees it. */
    static final String RECORDS = TablePlan.HIDDEN + "records";

    private final Context context;
    private final Scope scope;
    private final StepList steps;
    private final LaterFigures laterFigures;

    GroupBinder(Context context, Scope scope, StepList steps, LaterFigures laterFigures) {
        this.context = context;
        this.scope = scope;
        this.steps = steps;
        this.laterFigures = laterFigures;
    }

    /**
     * Binds the clause.
     *
     * @param keepStates whether totals or rests will be merged from the groups
     * @param counts whether the number of records of each group is needed
     */
    TableBinding.Grouped bind(Clause.Per clause, boolean keepStates, boolean counts) {
        List<Assign> keys = clause.keys();
        List<String> names = new ArrayList<>();
        List<Expression> values = new ArrayList<>();
        Map<String, Unit> periods = new HashMap<>();
        for (Assign key : keys) {
            context.attempt(() -> refuseTwice(names, key));
            names.add(key.name());
            values.add(new Constant(Type.EMPTY, null));
            context.attempt(() -> values.set(names.size() - 1, key(key)));
            Periods.of(key.value(), n -> scope.periods().get(n)).ifPresent(unit -> periods.put(key.name(), unit));
        }
        GiveSurroundings give = new GiveSurroundings(context, scope, names);
        ExprBinder binder = new ExprBinder(context, give);
        for (int i = 0; i < names.size(); i++) {
            give.know(names.get(i), new FieldRef(i, values.get(i).type()));
        }
        List<Assign> figures = figures(clause, names);
        if (counts) {
            figures.add(new Assign(RECORDS, count(clause), clause.at(), false));
        }
        List<String> figureNames = new ArrayList<>();
        List<Expression> figureValues = new ArrayList<>();
        for (Assign figure : figures) {
            Expression[] value = {new Constant(Type.EMPTY, null)};
            context.attempt(() -> {
                if (names.contains(figure.name()) || figureNames.contains(figure.name())) {
                    throw context.complaint(
                            figure.at(),
                            "'" + figure.name() + "' is given twice in this grouping.",
                            "Give one of them another name.");
                }
                value[0] = binder.bind(figure.value());
            });
            figureNames.add(figure.name());
            figureValues.add(value[0]);
            give.know(figure.name(), value[0]);
        }
        GroupStep group = new GroupStep(values, List.copyOf(give.gathers()), keepStates);
        steps.add(group);
        int from = steps.list().size();
        enter(clause, group, names, figureNames, figureValues);
        scope.periods().putAll(periods);
        Set<String> addUp = new HashSet<>();
        Set<Integer> additive = new HashSet<>();
        for (Assign figure : figures) {
            Scope.Seen seen = scope.find(figure.name());
            if (seen != null && seen.type().isNumeric() && addsUp(figure.value(), addUp)) {
                addUp.add(figure.name());
                additive.add(seen.slot());
            }
        }
        return new TableBinding.Grouped(group, from, additive);
    }

    /** Whether a figure over no records is 0: a count, a sum, or sums, differences and multiples of such. */
    private static boolean addsUp(Expr figure, Set<String> known) {
        if (figure instanceof Expr.Call call) {
            GatherFunction function = GatherFunctions.find(call.name());
            return function != null && function.addsUp() && call.modifiers().within() == null;
        }
        if (figure instanceof Expr.Name name) {
            return known.contains(name.name());
        }
        if (figure instanceof Expr.Negate negate) {
            return addsUp(negate.operand(), known);
        }
        if (!(figure instanceof Expr.Binary binary)) {
            return false;
        }
        boolean left = addsUp(binary.left(), known);
        boolean right = addsUp(binary.right(), known);
        return switch (binary.op()) {
            case PLUS, MINUS -> left && right;
            case TIMES -> left && isNumber(binary.right()) || right && isNumber(binary.left());
            default -> false;
        };
    }

    private static boolean isNumber(Expr expr) {
        return expr instanceof Expr.Literal literal && literal.value() instanceof Number
                || expr instanceof Expr.Parameter
                || expr instanceof Expr.Negate negate && isNumber(negate.operand());
    }

    private void enter(
            Clause.Per clause, GroupStep group, List<String> names, List<String> figures, List<Expression> values) {
        scope.lose(context.text().line(clause.giveAt()));
        scope.periods().clear();
        List<InputTexts.@Nullable InputField> texts = new ArrayList<>();
        group.keys().forEach(key -> texts.add(key instanceof FieldRef field ? scope.text(field.index()) : null));
        scope.restart(group.numberSlot() + 1);
        scope.level(new Level(names));
        for (int i = 0; i < names.size(); i++) {
            scope.put(names.get(i), new Scope.Seen(i, group.keys().get(i).type()));
            scope.text(i, texts.get(i));
        }
        for (int i = 0; i < figures.size(); i++) {
            Expression value = values.get(i);
            int slot = value instanceof FieldRef ref && ref.index() >= names.size() ? ref.index() : scope.newSlot();
            if (!(value instanceof FieldRef ref) || ref.index() != slot) {
                steps.compute(new Assignment(slot, figures.get(i), value));
            }
            if (figures.get(i).equals(RECORDS)) {
                scope.alias(RECORDS, new Scope.Seen(slot, value.type()));
            } else {
                scope.put(figures.get(i), new Scope.Seen(slot, value.type()));
            }
        }
    }

    private void refuseTwice(List<String> names, Assign key) {
        if (names.contains(key.name())) {
            throw context.complaint(key.at(), "The key '" + key.name() + "' is named twice.", null);
        }
    }

    private Expression key(Assign key) {
        List<WalkSpec> walks = new ArrayList<>();
        Expression value = new RowSurroundings(context, scope, "per", laterFigures, walks)
                .binder()
                .bind(key.value());
        steps.walks(walks);
        return value;
    }

    /** The figures, {@code each(…)} written out; without {@code give} the number of records. */
    private List<Assign> figures(Clause.Per clause, List<String> keys) {
        if (!clause.gives()) {
            return new ArrayList<>(List.of(new Assign("count", count(clause), clause.at(), false)));
        }
        List<Assign> all = new ArrayList<>();
        for (Clause.Figure figure : clause.figures()) {
            if (figure instanceof Clause.Single single) {
                all.add(single.figure());
            } else if (figure instanceof Clause.Each each) {
                if (!context.attempt(() -> all.addAll(each(each, keys)))) {
                    all.addAll(StandIns.figures(each));
                }
            }
        }
        return all;
    }

    private static Expr count(Clause.Per clause) {
        return new Expr.Call("count", List.of(), Expr.Modifiers.NONE, clause.at(), clause.at());
    }

    private List<Assign> each(Clause.Each each, List<String> keys) {
        List<Assign> figures = new ArrayList<>();
        for (String field : eachFields(each, keys)) {
            for (Ref function : each.functions()) {
                if (GatherFunctions.find(function.name()) == null) {
                    List<String> known =
                            GatherFunctions.all().stream().map(f -> f.name()).toList();
                    throw context.complaint(
                            function.at(),
                            "There is no gathering function '" + function.name() + "'.",
                            Names.didYouMean(function.name(), known, "There are"));
                }
                Expr arg = new Expr.Name(field, each.at());
                Expr call = new Expr.Call(function.name(), List.of(arg), Expr.Modifiers.NONE, each.at(), function.at());
                figures.add(new Assign(field + "_" + function.name(), call, each.at(), false));
            }
        }
        return figures;
    }

    private List<String> eachFields(Clause.Each each, List<String> keys) {
        List<String> fields = new ArrayList<>();
        if (each.numbers()) {
            for (Field field : scope.schema().fields()) {
                if (field.type().isNumeric() && !keys.contains(field.name())) {
                    fields.add(field.name());
                }
            }
        }
        for (Clause.FieldPattern pattern : each.fields()) {
            String name = pattern.name().name();
            if (pattern.pattern()) {
                scope.names().stream()
                        .filter(n -> Globs.matches(name, n) && !keys.contains(n))
                        .forEach(fields::add);
            } else if (scope.find(name) != null) {
                fields.add(name);
            } else {
                throw RowSurroundings.unknown(
                        context,
                        scope,
                        "give",
                        LaterFigures.NONE,
                        name,
                        pattern.name().at());
            }
        }
        if (fields.isEmpty()) {
            throw context.complaint(
                    each.at(),
                    "No field is left for 'each' to work on.",
                    "There are: " + String.join(", ", scope.names()) + ".");
        }
        return fields;
    }
}
