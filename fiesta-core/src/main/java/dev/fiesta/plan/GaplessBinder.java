package dev.fiesta.plan;

import dev.fiesta.compute.Constant;
import dev.fiesta.compute.Expression;
import dev.fiesta.compute.FieldRef;
import dev.fiesta.compute.Types;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Expr;
import dev.fiesta.language.Ref;
import dev.fiesta.problem.Names;
import dev.fiesta.step.GaplessStep;
import dev.fiesta.step.TablePlan;
import dev.fiesta.value.Kind;
import dev.fiesta.value.Unit;
import dev.fiesta.value.Values;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/** Settles {@code gapless}: which values there should be, for which combinations, and what new rows hold. */
final class GaplessBinder {
    private final Context context;
    private final Scope scope;
    private final StepList steps;
    private final Function<Ref, TablePlan> tables;
    private final Set<Integer> additive;

    /** @param additive slots of counts and sums, which {@code with} fills */
    GaplessBinder(
            Context context, Scope scope, StepList steps, Function<Ref, TablePlan> tables, Set<Integer> additive) {
        this.context = context;
        this.scope = scope;
        this.steps = steps;
        this.tables = tables;
        this.additive = additive;
    }

    void bind(Clause.Gapless clause, Function<Expr, Expression> row) {
        Scope.Seen field = seen(clause.field());
        TablePlan source = clause.source() == null ? null : tables.apply(clause.source());
        Expr.Period every = source == null ? every(clause, field) : new Expr.Period(0, Unit.DAY, clause.at());
        List<Scope.Seen> within = within(clause);
        int place = source == null ? -1 : source(clause, source, field);
        Object with = clause.with() == null ? null : filling(clause.with());
        List<Integer> filled = with == null
                ? List.of()
                : scope.slots().stream().filter(additive::contains).toList();
        steps.add(new GaplessStep(
                field.slot(),
                field.type(),
                within.stream().map(Scope.Seen::slot).toList(),
                ExprBinder.months(every),
                field.type().kind() == Kind.INTEGER ? 1 : ExprBinder.micros(every),
                limit(clause.from(), field, row),
                limit(clause.to(), field, row),
                source,
                place,
                filled,
                with));
        List<Expression> keys = new ArrayList<>();
        within.forEach(k -> keys.add(new FieldRef(k.slot(), k.type())));
        keys.add(new FieldRef(field.slot(), field.type()));
        context.byAlphabet(keys).forEach(steps::add);
    }

    private Scope.Seen seen(Ref ref) {
        Scope.Seen seen = scope.find(ref.name());
        if (seen == null) {
            throw RowSurroundings.unknown(context, scope, "gapless", LaterFigures.NONE, ref.name(), ref.at());
        }
        return seen;
    }

    /** The other keys; without {@code within} all of them. */
    private List<Scope.Seen> within(Clause.Gapless clause) {
        List<Scope.Seen> within = new ArrayList<>();
        if (clause.within() != null) {
            clause.within().forEach(k -> within.add(seen(k)));
            return within;
        }
        List<String> keys =
                scope.level().keys() == null ? List.of() : scope.level().keys();
        for (String key : keys) {
            Scope.Seen seen = scope.find(key);
            if (seen != null && !key.equals(clause.field().name())) {
                within.add(seen);
            }
        }
        return within;
    }

    private Expr.Period every(Clause.Gapless clause, Scope.Seen field) {
        Kind kind = field.type().kind();
        String name = clause.field().name();
        Unit unit = scope.periods().get(name);
        if (context.isLost(field.type())) {
            return clause.every() != null ? clause.every() : new Expr.Period(1, Unit.DAY, clause.at());
        }
        if (kind != Kind.DATE && kind != Kind.DATETIME && !(kind == Kind.INTEGER && unit != null)) {
            throw context.complaint(
                    clause.field().at(),
                    "'" + name + "' is " + field.type().withArticle()
                            + ", so nobody can tell which values are lacking.",
                    "Name a table that has them: gapless " + name + " from TABLE.");
        }
        if (clause.every() != null) {
            refuseStep(clause.every(), name, kind);
            return clause.every();
        }
        if (unit == null) {
            throw context.complaint(
                    clause.at(),
                    "How far the values of '" + name + "' lie apart cannot be told from how it was made.",
                    "Say it: gapless " + name + " every 1 week.");
        }
        return new Expr.Period(1, unit, clause.at());
    }

    private void refuseStep(Expr.Period every, String name, Kind kind) {
        if (every.amount() <= 0) {
            throw context.complaint(
                    every.at(),
                    "A step of " + every.amount() + " never gets anywhere.",
                    "Write for instance every 1 week.");
        }
        if (kind == Kind.DATE && ExprBinder.months(every) == 0 && ExprBinder.micros(every) < Values.MICROS_A_DAY) {
            throw context.complaint(
                    every.at(),
                    "'" + name + "' is a date, so its values lie whole days apart.",
                    "Write for instance every 1 day.");
        }
    }

    private int source(Clause.Gapless clause, TablePlan source, Scope.Seen field) {
        String name = clause.field().name();
        int place = source.schema().indexOf(name);
        if (place < 0) {
            throw context.complaint(
                    clause.field().at(),
                    "'" + source.shownName() + "' has no field '" + name + "'.",
                    Names.didYouMean(name, source.schema().names(), "It has"));
        }
        if (context.isLost(field.type())) {
            return place;
        }
        if (!field.type().equals(source.schema().type(place))
                || Types.common(field.type(), source.schema().type(place)) == null) {
            throw context.complaint(
                    clause.field().at(),
                    "'" + name + "' is " + field.type().withArticle() + " here, but "
                            + source.schema().type(place).withArticle() + " in '" + source.shownName() + "'.",
                    "Convert one of them.");
        }
        return place;
    }

    private @Nullable Object limit(@Nullable Expr expr, Scope.Seen field, Function<Expr, Expression> row) {
        if (expr == null) {
            return null;
        }
        Expression bound = row.apply(expr);
        if (context.isLost(field.type())) {
            return null;
        }
        if (bound instanceof Constant constant
                && constant.value() != null
                && bound.type().equals(field.type())) {
            return constant.value();
        }
        throw context.complaint(
                expr.at(), "A value of type " + field.type() + ", written out, or a parameter is expected here.", null);
    }

    private Object filling(Expr expr) {
        if (expr instanceof Expr.Literal literal && literal.value() instanceof Long n) {
            return n;
        }
        throw context.complaint(expr.at(), "New rows are filled with a whole number, usually 'with 0'.", null);
    }
}
