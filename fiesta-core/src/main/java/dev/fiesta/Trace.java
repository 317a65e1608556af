package dev.fiesta;

import dev.fiesta.problem.Notices;
import dev.fiesta.step.TablePlan;
import dev.fiesta.total.Worked;
import dev.fiesta.trace.BehindPlan;
import dev.fiesta.trace.FramePlan;
import dev.fiesta.trace.Question;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.BiFunction;
import java.util.function.Function;
import java.util.function.UnaryOperator;
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
        tables.plan(table);
        // What is counted is counted once for every clause behind it, so it is not told.
        return looks(new Question.Steps(table, 0, rows), notices -> new Notices());
    }

    /**
     * Looks at a table as all its clauses leave it, with what was counted on the way.
     *
     * @param table the name of the table
     * @param rows the number of first rows
     * @return the look, its rows with the notices of the run
     */
    public StepLook step(String table, int rows) {
        int clauses = tables.plan(table).written().size();
        return looks(new Question.Steps(table, clauses, rows), notices -> notices)
                .get(0);
    }

    private List<StepLook> looks(Question.Steps question, UnaryOperator<Notices> told) {
        return tables.answer(
                question,
                (plans, engine, notices) ->
                        StepLooks.of(tables.plan(question.table()), plans, engine, told.apply(notices)));
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
        Question.Records question = new Question.Records(table, keys, BehindPlan.Part.valueOf(part.name()));
        return tables.answer(question, (plans, engine, notices) -> {
            BehindPlan.Found found = question.found(tables.planned());
            Map<TablePlan, Worked> worked = engine.run(found.plans());
            Function<TablePlan, Result> result =
                    target -> Result.of(target, Tables.worked(worked, target), notices, engine.timings());
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
        return aside(new Question.Frame(table, figure), (plan, numbered) -> {
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
        Question.Samples question = new Question.Samples(table, most);
        boolean any = !question.plans(tables.planned()).isEmpty();
        return any ? aside(question, (plan, rows) -> rows) : null;
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
        Question.Made question = new Question.Made(table, figure);
        boolean ratio = question.pair(tables.planned()).ratio();
        return aside(
                question,
                (plan, rows) -> new Moved.Side(
                        rows, Objects.requireNonNull(plan.levels().keys()), figure, ratio));
    }

    /** Works a table out that tells of another; what is counted on the way was counted when the other one was. */
    private <T> T aside(Question question, BiFunction<TablePlan, Result, T> work) {
        return tables.answer(question, (plans, engine, notices) -> {
            TablePlan plan = plans.get(0);
            Worked rows = Tables.worked(engine.run(plans), plan);
            return work.apply(plan, Result.of(plan, rows, new Notices(), List.of()));
        });
    }
}
