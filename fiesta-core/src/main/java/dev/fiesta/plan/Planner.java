package dev.fiesta.plan;

import dev.fiesta.compute.CalendarSettings;
import dev.fiesta.compute.Collation;
import dev.fiesta.compute.Expression;
import dev.fiesta.gather.GatherFunctions;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.BriefTree;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Expr;
import dev.fiesta.language.Nodes;
import dev.fiesta.language.Ref;
import dev.fiesta.language.Span;
import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.Names;
import dev.fiesta.problem.Notices;
import dev.fiesta.problem.Problem;
import dev.fiesta.step.TablePlan;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.walk.WalkFunctions;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/**
 * Turns what is written into what is to be done.
 *
 * <pre>{@code
 * Map<String, TablePlan> plans = Planner.plan(List.of(brief), parameters, inputs, "");
 * }</pre>
 */
public final class Planner {
    private Planner() {}

    /** The settings of a brief that calculations follow. */
    public static CalendarSettings calendar(BriefTree.Settings settings) {
        String language = settings.locale().split("[-_]")[0];
        return new CalendarSettings(settings.weekStart(), settings.yearStart(), language, settings.collate());
    }

    /**
     * The plans of all tables and inputs of briefs, inputs first, in the order of the texts.
     *
     * @param briefs those used by others first
     * @param inputs the plans of the inputs
     * @param apart stands behind the names of tables, to tell them from those of other plans in one run
     * @throws BriefException with all problems
     */
    public static Map<String, TablePlan> plan(
            List<BriefTree> briefs, Parameters parameters, Map<String, TablePlan> inputs, String apart) {
        Draft draft = draft(briefs, parameters, inputs, Set.of(), apart);
        refuse(draft.problems());
        return draft.plans();
    }

    /**
     * What is known of briefs, whatever is wrong with them.
     *
     * @param plans of inputs and tables, as far as they can be settled
     * @param problems what is wrong
     */
    public record Draft(Map<String, TablePlan> plans, List<Problem> problems) {}

    /**
     * As {@link #plan}, without refusing anything.
     *
     * @param unknown inputs whose fields nobody knows; nothing is said of what stands on them
     */
    public static Draft draft(
            List<BriefTree> briefs,
            Parameters parameters,
            Map<String, TablePlan> inputs,
            Set<String> unknown,
            String apart) {
        List<Problem> problems = new ArrayList<>();
        Map<String, TablePlan> plans = new LinkedHashMap<>(inputs);
        Set<String> lost = new HashSet<>(unknown);
        briefs.forEach(brief -> plan(
                brief,
                new Context(brief.source(), parameters, calendar(brief.settings()), problems),
                plans,
                lost,
                apart));
        return new Draft(plans, problems);
    }

    /** @param lost tables and inputs of which nothing is known */
    private static void plan(
            BriefTree brief, Context context, Map<String, TablePlan> plans, Set<String> lost, String apart) {
        String collate = brief.settings().collate();
        if (collate != null && !Collation.knows(collate)) {
            int at = Math.max(0, brief.source().text().indexOf("'" + collate + "'"));
            context.problems()
                    .add(context.complaint(
                                    new Span(at, at + collate.length() + 2),
                                    "There is no alphabet for '" + collate + "'.",
                                    "Name a language, for instance collate 'pt'.")
                            .problem());
        }
        for (BriefTree.TableDef table : brief.tables()) {
            String name = table.name().name();
            try {
                context.attempt(() -> {
                    refuseTwice(context, plans, table.name());
                    Function<Ref, TablePlan> tables = ref -> find(context, plans, lost, ref);
                    TablePlan from = tables.apply(table.from());
                    refuseCrossed(context, from, table.from());
                    ClauseBinder binder = new ClauseBinder(context, from, tables);
                    plans.put(name, binder.bind(name + apart, from, table.clauses()));
                });
            } catch (Unknown unknown) {
                // What it stands on was complained about.
            }
            if (!plans.containsKey(name)) {
                lost.add(name);
            }
        }
    }

    private static TablePlan find(Context context, Map<String, TablePlan> plans, Set<String> lost, Ref ref) {
        if (lost.contains(ref.name())) {
            throw new Unknown();
        }
        return find(context, plans, ref);
    }

    /**
     * The value of an expression that looks at no field.
     *
     * @throws BriefException when it looks at one, or cannot be right otherwise
     */
    public static @Nullable Object constant(BriefTree brief, Expr expr, Parameters parameters) {
        Context context = new Context(brief.source(), parameters, calendar(brief.settings()), new ArrayList<>());
        @Nullable Object[] value = new @Nullable Object[1];
        context.attempt(() -> {
            Nodes.each(expr, part -> refuseRows(context, part));
            Expression bound = new RowSurroundings(
                            context, new Scope(), "parameter", LaterFigures.NONE, new ArrayList<>())
                    .binder()
                    .bind(expr);
            value[0] = bound.kernel(new Notices())
                    .eval(Batch.of(1, new Column[0], 0))
                    .get(0);
        });
        refuse(context.problems());
        return value[0];
    }

    private static void refuseRows(Context context, Expr part) {
        if (part instanceof Expr.Call call
                && (GatherFunctions.find(call.name()) != null || WalkFunctions.find(call.name()) != null)) {
            throw context.complaint(call.at(), "The value of a parameter cannot look at rows.", null);
        }
    }

    /**
     * A table like one of a brief, with other clauses.
     *
     * @param name its name
     * @param plans what the brief was planned to, and what the clauses may name besides
     */
    public static TablePlan like(
            BriefTree brief,
            BriefTree.TableDef table,
            String name,
            List<Clause> clauses,
            Parameters parameters,
            Map<String, TablePlan> plans) {
        Context context = new Context(brief.source(), parameters, calendar(brief.settings()), new ArrayList<>());
        TablePlan from = find(context, plans, table.from());
        TablePlan plan = new ClauseBinder(context, from, ref -> find(context, plans, ref)).bind(name, from, clauses);
        refuse(context.problems());
        return plan;
    }

    /**
     * A table with further clauses, as the library adds them.
     *
     * @param others tables that clauses may name
     */
    public static TablePlan extend(
            TablePlan from,
            BriefText text,
            List<Clause> clauses,
            Parameters parameters,
            CalendarSettings calendar,
            Map<String, TablePlan> others) {
        Context context = new Context(text, parameters, calendar, new ArrayList<>());
        ClauseBinder binder = new ClauseBinder(context, from, ref -> find(context, others, ref));
        TablePlan plan = binder.bind(from.name(), from, clauses);
        refuse(context.problems());
        return plan;
    }

    private static void refuse(List<Problem> problems) {
        if (!problems.isEmpty()) {
            throw new BriefException(problems);
        }
    }

    private static void refuseTwice(Context context, Map<String, TablePlan> plans, Ref name) {
        if (plans.containsKey(name.name())) {
            throw context.complaint(
                    name.at(),
                    "There is an input or table '" + name.name() + "' already.",
                    "Give this one another name.");
        }
    }

    private static void refuseCrossed(Context context, TablePlan plan, Ref ref) {
        if (plan.crossing() != null) {
            throw context.complaint(
                    ref.at(),
                    "'" + ref.name() + "' is a cross-tabulation, whose columns come from the data.",
                    "Start from the table it was made of.");
        }
    }

    private static TablePlan find(Context context, Map<String, TablePlan> plans, Ref ref) {
        TablePlan plan = plans.get(ref.name());
        if (plan == null) {
            throw context.complaint(
                    ref.at(),
                    "There is no input or table '" + ref.name() + "' above.",
                    Names.didYouMean(ref.name(), plans.keySet(), "There are"));
        }
        return plan;
    }
}
