package dev.fiesta;

import dev.fiesta.language.BriefTree;
import dev.fiesta.plan.Planner;
import dev.fiesta.problem.Names;
import dev.fiesta.problem.Notices;
import dev.fiesta.problem.RequestException;
import dev.fiesta.step.TablePlan;
import dev.fiesta.store.Resources;
import dev.fiesta.total.Worked;
import dev.fiesta.trace.BehindPlan;
import dev.fiesta.trace.Definition;
import dev.fiesta.trace.FigurePair;
import dev.fiesta.trace.FramePlan;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.Function;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * Looks behind the tables of a brief: at what each clause leaves, and from a row back to its records.
 *
 * <pre>{@code
 * Behind behind = tables.trace().behind("weekly", Map.of("site", "Quay"), Behind.Part.ROW);
 * }</pre>
 */
public final class Trace {
    private final Tables tables;

    Trace(Tables tables) {
        this.tables = tables;
    }

    /**
     * Looks at a table as each of its clauses leaves it.
     *
     * @param table the name of the table
     * @param rows the number of first rows
     * @return these, in their order
     */
    public List<StepLook> steps(String table, int rows) {
        Definition found = definition(table);
        if (found == null) {
            throw new RequestException("there is no table '" + table + "'");
        }
        BriefTree brief = found.brief();
        BriefTree.TableDef def = found.table();
        return tables.widening((notices, resources) -> StepLooks.of(
                tables.plan(table),
                i -> Planner.like(brief, def, table, def.clauses().subList(0, i), tables.values(), tables.plans()),
                rows,
                tables.engine(notices, resources)));
    }

    /**
     * Looks at a table as all its clauses leave it, with what was counted on the way.
     *
     * @param table the name of the table
     * @param rows the number of first rows
     * @return the look, its rows with the notices of the run
     */
    public StepLook step(String table, int rows) {
        tables.plan(table);
        return tables.widening((notices, resources) ->
                StepLooks.last(tables.plan(table), rows, tables.engine(notices, resources), notices));
    }

    /**
     * The records behind a row, a subtotal, a total or a rest.
     *
     * @param table the name of the table
     * @param keys values of keys as texts; {@code (missing)} for a missing one
     * @param part which of its rows
     * @return the records and what they make
     * @throws RequestException when there is no such table, key or row
     */
    public Behind behind(String table, Map<String, String> keys, Behind.Part part) {
        tables.plan(table);
        return tables.widening((notices, resources) -> {
            BehindPlan plan = new BehindPlan(this::definition, tables.values(), tables.plans());
            BehindPlan.Found found = switch (part) {
                case ROW -> plan.row(table, keys);
                case TOTAL -> plan.total(table, keys);
                case REST -> plan.rest(table, keys);
            };
            List<TablePlan> targets = Stream.of(found.records(), found.figures(), found.shown())
                    .filter(Objects::nonNull)
                    .toList();
            Map<TablePlan, Worked> worked = tables.engine(notices, resources).run(targets);
            Function<TablePlan, Result> result = target -> Result.of(
                    target,
                    Tables.worked(worked, target),
                    notices,
                    resources.watch().timings());
            Map<String, @Nullable Object> figures = found.figures() == null
                    ? Map.<String, @Nullable Object>of()
                    : KeyedRow.values(result.apply(found.figures()), 0);
            Map<String, @Nullable Object> shown = new LinkedHashMap<>();
            if (found.shown() != null) {
                Result rows = result.apply(found.shown());
                shown.putAll(KeyedRow.values(rows, KeyedRow.find(table, rows, keys)));
                shown.keySet().retainAll(figures.keySet());
            }
            return new Behind(result.apply(found.records()), found.made(), figures, shown);
        });
    }

    /**
     * The rows of a table that a moving figure of one of its rows looks at, in the order in which it walks.
     *
     * @param table the name of the table
     * @param keys what tells the row, as texts; {@code (missing)} for a missing value
     * @param figure the name of the figure
     * @return the rows
     * @throws RequestException when there is no such table or row, or the figure has no frame
     */
    public Result frame(String table, Map<String, String> keys, String figure) {
        tables.plan(table);
        Definition where = definition(table);
        if (where == null) {
            throw new RequestException("'" + table + "' is an input, and its rows are records.");
        }
        return tables.widening((notices, resources) -> {
            Result numbered =
                    aside(new FramePlan(where, tables.values(), tables.plans()).of(figure), notices, resources);
            Object listed = numbered.row(KeyedRow.find(table, numbered, keys)).get(FramePlan.FRAME);
            return numbered.pick(FramePlan.numbers(listed), List.of(FramePlan.NUMBER, FramePlan.FRAME));
        });
    }

    /**
     * For each row of a table the first records behind it, in file order.
     *
     * @param table the name of the table
     * @param most the most records of a row
     * @return a table of records with the keys of their rows in front, or null where rows are records themselves
     */
    public @Nullable Result samples(String table, int most) {
        return tables.widening((notices, resources) -> {
            TablePlan plan = new BehindPlan(this::definition, tables.values(), tables.plans()).samples(table, most);
            return plan == null ? null : aside(plan, notices, resources);
        });
    }

    /**
     * The groups of a table with what one of its figures is made of, to tell what moved it.
     *
     * @param table the name of the table
     * @param figure the name of the figure
     * @return the groups
     * @throws RequestException when there is no such table, or the figure is no sum, count, mean or ratio of such
     */
    public Moved.Side side(String table, String figure) {
        Given.needed(figure, "the name of a figure");
        tables.plan(table);
        Definition where = definition(table);
        if (where == null) {
            throw new RequestException("'" + table + "' is an input, and its rows are records.");
        }
        if (!tables.plan(table).schema().names().contains(figure)) {
            throw new RequestException("'" + table + "' has no figure '" + figure + "'. "
                    + Names.didYouMean(figure, tables.plan(table).schema().names(), "It has"));
        }
        List<dev.fiesta.language.Clause> clauses = where.table().clauses();
        FigurePair pair = FigurePair.of(table, figure, clauses);
        return tables.widening((notices, resources) -> {
            TablePlan plan = Planner.like(
                    where.brief(), where.table(), table, pair.beside(table, clauses), tables.values(), tables.plans());
            Result rows = aside(plan, notices, resources);
            List<String> keys = Objects.requireNonNull(plan.levels().keys());
            return new Moved.Side(rows, keys, figure, pair.ratio());
        });
    }

    /** Works out what tells of a table; what is counted on the way was counted when the table was. */
    private Result aside(TablePlan plan, Notices notices, Resources resources) {
        Map<TablePlan, Worked> worked = tables.engine(new Notices(), resources).run(List.of(plan));
        return Result.of(plan, Tables.worked(worked, plan), notices, List.of());
    }

    /** Where a table is defined; null for inputs. */
    private @Nullable Definition definition(String table) {
        for (BriefTree brief : tables.briefs()) {
            for (BriefTree.TableDef def : brief.tables()) {
                if (def.name().name().equals(table)) {
                    return new Definition(brief, def);
                }
            }
        }
        return null;
    }
}
