package dev.fiesta.plan;

import dev.fiesta.compute.Expression;
import dev.fiesta.compute.FieldRef;
import dev.fiesta.compute.Logic;
import dev.fiesta.language.Assign;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Expr;
import dev.fiesta.language.Op;
import dev.fiesta.language.Printer;
import dev.fiesta.problem.Suggestion;
import dev.fiesta.step.CrossNames;
import dev.fiesta.step.FilterStep;
import dev.fiesta.step.OrderKey;
import dev.fiesta.step.Recomputed;
import dev.fiesta.step.Step;
import dev.fiesta.step.TablePlan;
import dev.fiesta.step.TablePlan.Crossing;
import dev.fiesta.value.Texts;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Set;
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

    /** Rows that are laid out can be chosen, ordered and shown, but not be grouped or joined. */
    static void refuseBehind(TableBinding table, Clause clause) {
        boolean known = clause instanceof Clause.Only
                || clause instanceof Clause.Add
                || clause instanceof Clause.Sort
                || (clause instanceof Clause.First first && first.rest() == null)
                || clause instanceof Clause.Totals
                || clause instanceof Clause.Hide
                || clause instanceof Clause.Columns
                || ClauseBinder.isCheck(clause);
        if (table.crossed != null && !known) {
            throw table.context.complaint(
                    clause.at(),
                    "After 'against' rows are laid out; 'only', 'add', 'sort', 'first', 'totals', "
                            + "'hide', 'columns' and 'check' can follow.",
                    "Do this in a table of its own before, and lay that table out with 'per … against'.");
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
                        new FilterStep(Logic.conjuncts(condition.apply(chosen)), "against " + key.name() + " in (…)"));
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
                throw context.complaint(
                        choice.at(),
                        "The columns of 'against … in' are values written out.",
                        choice instanceof Expr.Name name
                                ? Suggestion.between(
                                        "A text stands in single quotes: " + Printer.text(name.name()) + ".",
                                        choice.at().start(),
                                        choice.at().end(),
                                        Printer.text(name.name()))
                                : "A text stands in single quotes.");
            }
            values.add(against.rest() == null ? literal.value() : Texts.of(literal.value()));
        }
        if (against.rest() != null) {
            values.add(against.rest());
        }
        return values;
    }

    /** {@code if key in (…) then key else 'Other'}; a key that is no text becomes the name of its column. */
    private Assign withRest(Clause.Against against, @Nullable List<Expr> wanted) {
        Assign key = against.key();
        if (wanted == null) {
            throw context.complaint(
                    key.at(), "'rest as' needs to know what is not the rest.", "Write 'in (…)' before it.");
        }
        Expr other = new Expr.Literal(Type.TEXT, against.rest(), key.at());
        boolean texts = wanted.stream().allMatch(w -> ((Expr.Literal) w).value() instanceof String);
        List<Expr.Branch> branches = texts
                ? List.of(new Expr.Branch(new Expr.In(key.value(), wanted, key.at()), key.value()))
                : wanted.stream().map(w -> named(key.value(), w)).toList();
        Expr value = new Expr.If(branches, other, key.at());
        return new Assign(key.name(), value, key.at(), true);
    }

    /** {@code if key = 7 then '7'}. */
    private static Expr.Branch named(Expr key, Expr choice) {
        Object value = Objects.requireNonNull(((Expr.Literal) choice).value());
        return new Expr.Branch(
                new Expr.Binary(Op.EQUAL, key, choice, choice.at()),
                new Expr.Literal(Type.TEXT, Texts.of(value), choice.at()));
    }

    /**
     * What names mean once the groups of a scope are laid out: keys, where {@code in (…)} fixes them the cells, and under
     * their own name and as totals the figures of whole rows.
     */
    Scope laidOut(Scope groups) {
        Scope scope = new Scope();
        int rows = clause.keys().size();
        List<String> names = groups.names();
        for (int k = 0; k < rows; k++) {
            scope.put(names.get(k), new Scope.Seen(k, seen(groups, names.get(k)).type()));
        }
        List<String> figures = figures(groups);
        for (int f = 0; f < figures.size(); f++) {
            Scope.Seen total =
                    new Scope.Seen(rows + f, seen(groups, figures.get(f)).type());
            scope.alias(CrossNames.total(figures, f), total);
            scope.alias(figures.get(f), total);
        }
        scope.level(new TablePlan.Level(names.subList(0, rows)));
        scope.reserve(cells(figures));
        if (!isFixed()) {
            scope.columnsFromData();
            return scope;
        }
        for (List<@Nullable Object> head : heads()) {
            for (int f = 0; f < figures.size(); f++) {
                Type type = seen(groups, figures.get(f)).type();
                String name = CrossNames.cell(head, figures, f);
                if (scope.names().contains(name)) {
                    throw context.complaint(
                            clause.at(),
                            "'against' would make two columns named '" + name + "'.",
                            "Rename one of the keys or values.");
                }
                scope.put(name, new Scope.Seen(scope.newSlot(), type));
            }
        }
        return scope;
    }

    /** Columns stand in the order of their keys. */
    private List<OrderKey> order(Scope groups, int rows, int across) {
        List<OrderKey> order = new ArrayList<>();
        for (int k = rows; k < rows + across; k++) {
            Type type = seen(groups, groups.names().get(k)).type();
            order.addAll(context.order(new FieldRef(k, type), false));
        }
        return order;
    }

    private static Scope.Seen seen(Scope scope, String name) {
        return Objects.requireNonNull(scope.find(name));
    }

    private List<String> figures(Scope groups) {
        int keys = clause.keys().size() + clause.against().size();
        return List.copyOf(groups.names().subList(keys, groups.names().size()));
    }

    /** The first slot behind keys, totals and the number of the row. */
    private int cells(List<String> figures) {
        return clause.keys().size() + figures.size() + 1;
    }

    /** Whether the columns are known before any record is read. */
    private boolean isFixed() {
        return choices.stream().allMatch(java.util.Objects::nonNull);
    }

    private List<List<@Nullable Object>> heads() {
        List<List<@Nullable Object>> heads = new ArrayList<>();
        heads.add(List.of());
        for (List<@Nullable Object> values : choices) {
            List<List<@Nullable Object>> longer = new ArrayList<>();
            for (List<@Nullable Object> head : heads) {
                for (Object value : Objects.requireNonNull(values)) {
                    List<@Nullable Object> more = new ArrayList<>(head);
                    more.add(value);
                    longer.add(more);
                }
            }
            heads = longer;
        }
        return heads;
    }

    /**
     * How the groups are laid out, once all clauses are settled.
     *
     * @param after names behind the last clause, {@code steps} what was done to the rows laid out
     * @param standing the number of those steps before {@code totals}, or -1 without totals
     */
    Crossing crossing(
            Scope groups,
            Scope after,
            List<Step> steps,
            int standing,
            @Nullable List<Clause.Shown> shown,
            Recomputed recomputed,
            Set<Integer> additive) {
        int rows = clause.keys().size();
        int across = clause.against().size();
        List<String> figures = figures(groups);
        List<Integer> slots =
                groups.slots().subList(rows + across, groups.names().size());
        Long with = null;
        for (Clause.Against against : clause.against()) {
            if (against.with() instanceof Expr.Literal literal && literal.value() instanceof Long n) {
                with = n;
            }
        }
        int known = rows + (isFixed() ? heads().size() * figures.size() : 0);
        return new Crossing(
                clause.keys().stream().map(Assign::name).toList(),
                rows,
                across,
                figures,
                List.copyOf(slots),
                choices,
                with,
                additive,
                standing >= 0,
                recomputed,
                order(groups, rows, across),
                slots.stream().map(groups::mark).toList(),
                new TablePlan.AfterCrossing(
                        steps,
                        Math.max(0, standing),
                        TableBinding.replayed(recomputed.group(), steps),
                        isFixed() ? cells(figures) : after.width(),
                        known,
                        after.names(),
                        after.slots(),
                        shown));
    }
}
