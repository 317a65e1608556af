package dev.fiesta.plan;

import dev.fiesta.compute.CalendarSettings;
import dev.fiesta.language.Brief;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Ref;
import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.Names;
import dev.fiesta.problem.Problem;
import dev.fiesta.value.Schema;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * Turns what is written into what is to be done.
 *
 * <pre>{@code
 * Map<String, TablePlan> plans = Planner.plan(brief, parameters, schemas);
 * }</pre>
 */
public final class Planner {
    private Planner() {}

    /** The settings of a brief that calculations follow. */
    public static CalendarSettings calendar(Brief.Settings settings) {
        String language = settings.locale().split("[-_]")[0];
        return new CalendarSettings(settings.weekStart(), settings.yearStart(), language);
    }

    /**
     * The plans of all tables and inputs of a brief, inputs first, in the order of the text.
     *
     * @param inputs the fields of the inputs that could be opened; tables over others are left out
     * @throws BriefException with all problems
     */
    public static Map<String, TablePlan> plan(Brief brief, Parameters parameters, Map<String, Schema> inputs) {
        Context context = new Context(brief.source(), parameters, calendar(brief.settings()), new ArrayList<>());
        Map<String, TablePlan> plans = new LinkedHashMap<>();
        inputs.forEach((name, schema) -> plans.put(name, TablePlan.input(name, schema)));
        for (Brief.TableDef table : brief.tables()) {
            context.attempt(() -> {
                refuseTwice(context, plans, table.name());
                TablePlan from = find(context, plans, table.from());
                refuseCrossed(context, from, table.from());
                ClauseBinder binder = new ClauseBinder(context, from, ref -> find(context, plans, ref));
                plans.put(table.name().name(), binder.bind(table.name().name(), from, table.clauses()));
            });
        }
        refuse(context.problems());
        return plans;
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
