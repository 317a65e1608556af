package dev.fiesta;

import dev.fiesta.engine.Engine;
import dev.fiesta.engine.StepCounts;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.TablePlan;
import dev.fiesta.step.TablePlan.Written;
import dev.fiesta.total.Worked;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.IntFunction;
import org.jspecify.annotations.Nullable;

/** Works out a table up to each of its clauses, all in one run. */
final class StepLooks {
    private StepLooks() {}

    /** @param upTo the table up to so many of its clauses */
    static List<StepLook> of(TablePlan table, IntFunction<TablePlan> upTo, int rows, Engine engine) {
        // What is counted is counted once for every clause behind it, so it is not told.
        return of(table, 0, upTo, rows, engine, new Notices());
    }

    /** What all clauses together leave, with what was counted. */
    static StepLook last(TablePlan table, int rows, Engine engine, Notices notices) {
        return of(table, table.written().size(), i -> table, rows, engine, notices)
                .get(0);
    }

    private static List<StepLook> of(
            TablePlan table, int first, IntFunction<TablePlan> upTo, int rows, Engine engine, Notices notices) {
        List<TablePlan> plans = new ArrayList<>();
        for (int i = first; i <= table.written().size(); i++) {
            plans.add(upTo.apply(i).firstRows(table.name() + TablePlan.HIDDEN + i, rows));
        }
        Map<TablePlan, Worked> worked = engine.run(plans);
        List<StepLook> looks = new ArrayList<>();
        for (int i = 0; i < plans.size(); i++) {
            TablePlan plan = plans.get(i);
            Result seen = Result.of(plan, Objects.requireNonNull(worked.get(plan)), notices, List.of());
            Written clause = first + i == 0 ? null : table.written().get(first + i - 1);
            looks.add(look(table, plan, seen, clause, engine.counts()));
        }
        return looks;
    }

    private static StepLook look(
            TablePlan table, TablePlan plan, Result seen, @Nullable Written clause, StepCounts counts) {
        boolean laidOut = plan.crossing() != null;
        long count = laidOut ? seen.rows() : counts.behind(plan, plan.steps().size() - 1);
        return new StepLook(
                table.shownName(),
                clause == null ? null : clause.text(),
                clause == null ? 0 : clause.line(),
                Objects.requireNonNull(table.from()).shownName(),
                count,
                laidOut
                        ? Objects.requireNonNull(plan.crossing()).keys()
                        : plan.levels().keys(),
                seen);
    }
}
