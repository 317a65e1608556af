package dev.fiesta.plan;

import dev.fiesta.compute.Constant;
import dev.fiesta.compute.Expression;
import dev.fiesta.compute.FieldRef;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Expr;
import dev.fiesta.language.Ref;
import dev.fiesta.language.Span;
import dev.fiesta.step.Assignment;
import dev.fiesta.step.ComputeStep;
import dev.fiesta.step.GaplessStep;
import dev.fiesta.step.GroupStep;
import dev.fiesta.step.MatchStep;
import dev.fiesta.step.Recomputed;
import dev.fiesta.step.Step;
import dev.fiesta.step.TablePlan;
import dev.fiesta.step.WalkSpec;
import dev.fiesta.step.WalksStep;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/** What is known while the clauses of a table are settled, one behind the other. */
abstract class TableBinding {
    final Context context;
    final Function<Ref, TablePlan> tables;
    Scope scope;
    StepList steps = new StepList();
    LaterFigures laterFigures = LaterFigures.NONE;
    Grouped grouped = Grouped.NONE;

    @Nullable
    Crossed crossed;

    /**
     * What is known of the last grouping.
     *
     * @param group its step, or null when rows are no longer its groups
     * @param from the number of steps up to it
     * @param additive slots of counts and sums
     */
    record Grouped(@Nullable GroupStep group, int from, Set<Integer> additive) {
        static final Grouped NONE = new Grouped(null, 0, Set.of());
    }

    /** Where a cross-tabulation began: the groups and their steps, from then on others are added to. */
    record Crossed(CrossBinder cross, Scope groups, StepList steps) {}

    /** @param tables finds another table by name, or complains */
    TableBinding(Context context, TablePlan from, Function<Ref, TablePlan> tables) {
        this.context = context;
        this.tables = tables;
        this.scope = Scope.of(from);
    }

    /** Binds an expression of a clause; what it needs of many rows is worked out by a step before. */
    Expression row(String clause, Expr expr, boolean condition) {
        List<WalkSpec> walks = new ArrayList<>();
        ExprBinder binder = new RowSurroundings(context, scope, clause, laterFigures, walks).binder();
        Expression bound = condition ? binder.condition(expr) : binder.bind(expr);
        steps.walks(walks);
        return bound;
    }

    Scope.Seen seen(Ref ref, String clause) {
        Scope.Seen seen = scope.find(ref.name());
        if (seen == null) {
            throw RowSurroundings.unknown(context, scope, clause, laterFigures, ref.name(), ref.at());
        }
        return seen;
    }

    String text(Clause clause) {
        return context.text().at(clause.at()).replaceAll("\\s+", " ");
    }

    String place(Clause clause) {
        return text(clause);
    }

    /** A number of rows, written out or a parameter. */
    long count(Expr expr, String clause) {
        Expression bound = row(clause, expr, false);
        if (bound instanceof Constant constant && constant.value() instanceof Long n && n >= 0) {
            return n;
        }
        throw context.complaint(
                expr.at(),
                "After '" + clause + "' stands a number of rows.",
                "Write for instance '" + clause + " 10'.");
    }

    /** How rows are worked out from merged groups: the steps since the grouping that look at one row only. */
    Recomputed recomputed(GroupStep group) {
        return replayed(group, steps.list().subList(grouped.from(), steps.list().size()));
    }

    /**
     * How merged rows go through steps: what holds a walk anywhere inside is missing in them, and so is all that depends on it; what
     * a look-up brought is missing too.
     */
    static Recomputed replayed(GroupStep group, List<Step> steps) {
        List<Step> replay = new ArrayList<>();
        Map<Integer, Type> missing = new HashMap<>();
        BitSet walked = new BitSet();
        for (Step step : steps) {
            if (step instanceof ComputeStep compute) {
                List<Assignment> own = new ArrayList<>();
                for (Assignment assignment : compute.assignments()) {
                    BitSet read = new BitSet();
                    assignment.value().fields(read::set);
                    if (read.intersects(walked)) {
                        walked.set(assignment.slot());
                        missing.put(assignment.slot(), assignment.value().type());
                    } else {
                        own.add(assignment);
                    }
                }
                replay.add(new ComputeStep(own));
            } else if (step instanceof WalksStep walks) {
                walks.specs().forEach(w -> missing.put(w.slot(), w.calculation().type()));
                walks.specs().forEach(w -> walked.set(w.slot()));
            } else if (step instanceof MatchStep match) {
                match.bring().forEach(m -> missing.put(m.slot(), m.type()));
            } else if (step instanceof GaplessStep gapless && gapless.with() != null) {
                replay.add(gapless);
            }
        }
        return new Recomputed(group, replay, missing);
    }

    /** The grouping whose groups the rows still are. */
    GroupStep groups(Span at, String what) {
        GroupStep group = grouped.group();
        if (group == null) {
            throw context.complaint(
                    at,
                    what + " must stand in the table that groups, before rows are joined or parted otherwise.",
                    scope.level().isGroups()
                            ? "Put it after the 'per … give', before 'append', 'distinct' or 'turn'."
                            : "Group first: per … give ….");
        }
        return group;
    }

    /** A name for a value; what stands in a slot already is not worked out again. */
    void set(String name, Expression value) {
        if (value instanceof FieldRef known) {
            scope.put(name, new Scope.Seen(known.index(), value.type()));
            return;
        }
        int slot = scope.newSlot();
        steps.compute(new Assignment(slot, name, value, scope.read(value)));
        scope.put(name, new Scope.Seen(slot, value.type()));
    }

    /** The rows are others from here on, with these fields. */
    void restart(Map<String, Type> fields) {
        scope.restart(fields.size());
        int[] slot = {0};
        fields.forEach((name, type) -> scope.put(name, new Scope.Seen(slot[0]++, type)));
    }
}
