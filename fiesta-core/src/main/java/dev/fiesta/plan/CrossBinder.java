package dev.fiesta.plan;

import dev.fiesta.compute.Expression;
import dev.fiesta.compute.Logic;
import dev.fiesta.language.Assign;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Expr;
import dev.fiesta.plan.TablePlan.Crossing;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/**
 * Settles {@code per … against}: a grouping by all keys, whose last ones are laid out as columns. Records outside {@code in
 * (…)} are dropped before, or become one more value.
 */
final class CrossBinder {
    private final Context context;
    private final Clause.Per clause;
    private final List<@Nullable List<@Nullable Object>> choices = new ArrayList<>();

    CrossBinder(Context context, Clause.Per clause) {
        this.context = context;
        this.clause = clause;
        if (clause.keys().isEmpty()) {
            throw context.complaint(
                    clause.at(),
                    "'against' needs keys for its rows too.",
                    "Write for instance 'per site against method'.");
        }
    }

    /** The plain grouping by all keys; conditions that drop records are added before. */
    Clause.Per grouping(Function<Expr, Expression> condition, StepList steps) {
        List<Assign> keys = new ArrayList<>(clause.keys());
        for (Clause.Against against : clause.against()) {
            Assign key = against.key();
            List<Expr> wanted = against.choices();
            choices.add(wanted == null ? null : values(against, wanted));
            if (wanted != null && against.rest() == null) {
                Expr chosen = new Expr.In(key.value(), wanted, key.at());
                steps.add(
                        new Step.Filter(Logic.conjuncts(condition.apply(chosen)), "against " + key.name() + " in (…)"));
            }
            if (against.rest() != null) {
                key = withRest(against, wanted);
            }
            keys.add(key);
        }
        return new Clause.Per(keys, List.of(), clause.figures(), clause.gives(), clause.giveAt(), clause.at());
    }

    private List<@Nullable Object> values(Clause.Against against, List<Expr> wanted) {
        List<@Nullable Object> values = new ArrayList<>();
        for (Expr choice : wanted) {
            if (!(choice instanceof Expr.Literal literal) || literal.value() == null) {
                throw context.complaint(choice.at(), "The columns of 'against … in' are values written out.", null);
            }
            values.add(literal.value());
        }
        if (against.rest() != null) {
            values.add(against.rest());
        }
        return values;
    }

    /** {@code if key in (…) then key else 'Other'}. */
    private Assign withRest(Clause.Against against, @Nullable List<Expr> wanted) {
        Assign key = against.key();
        if (wanted == null) {
            throw context.complaint(
                    key.at(), "'rest as' needs to know what is not the rest.", "Write 'in (…)' before it.");
        }
        Expr other = new Expr.Literal(Type.TEXT, against.rest(), key.at());
        Expr chosen = new Expr.In(key.value(), wanted, key.at());
        Expr value = new Expr.If(List.of(new Expr.Branch(chosen, key.value())), other, key.at());
        return new Assign(key.name(), value, key.at(), true);
    }

    /** How the groups are laid out, once their figures are settled. */
    Crossing crossing(Scope scope, boolean totals, Step.Recomputed recomputed) {
        int rows = clause.keys().size();
        int across = clause.against().size();
        List<String> figures =
                scope.names().subList(rows + across, scope.names().size());
        List<Integer> slots = scope.slots().subList(rows + across, scope.names().size());
        Long with = null;
        for (Clause.Against against : clause.against()) {
            if (against.with() instanceof Expr.Literal literal && literal.value() instanceof Long n) {
                with = n;
            }
        }
        return new Crossing(
                clause.keys().stream().map(Assign::name).toList(),
                rows,
                across,
                List.copyOf(figures),
                List.copyOf(slots),
                choices,
                with,
                totals,
                recomputed);
    }
}
