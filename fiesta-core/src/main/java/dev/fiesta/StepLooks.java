package dev.fiesta;

import dev.fiesta.engine.Engine;
import dev.fiesta.engine.Worked;
import dev.fiesta.plan.TablePlan;
import dev.fiesta.plan.TablePlan.Written;
import dev.fiesta.problem.Notices;
import dev.fiesta.progress.Timing;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.IntFunction;

/** Works out a table up to each of its clauses, all in one run. */
final class StepLooks {
    private StepLooks() {}

    /** @param upTo the table up to so many of its clauses */
    static List<StepLook> of(TablePlan table, IntFunction<TablePlan> upTo, int rows, Engine engine) {
        List<TablePlan> plans = new ArrayList<>();
        for (int i = 0; i <= table.written().size(); i++) {
            plans.add(upTo.apply(i).firstRows(table.name() + TablePlan.HIDDEN + i, rows));
        }
        Map<TablePlan, Worked> worked = engine.run(plans);
        List<Timing> timings = engine.timings();
        String from = Objects.requireNonNull(table.from()).shownName();
        List<StepLook> looks = new ArrayList<>();
        for (int i = 0; i < plans.size(); i++) {
            TablePlan plan = plans.get(i);
            Worked done = Objects.requireNonNull(worked.get(plan));
            Result first = Table.result(plan, done, new Notices(), List.of());
            boolean laidOut = plan.crossing() != null;
            long count = laidOut
                    ? first.rows()
                    : ClauseRows.behind(plan, plan.steps().size() - 1, timings);
            Written clause = i == 0 ? null : table.written().get(i - 1);
            looks.add(new StepLook(
                    table.shownName(),
                    clause == null ? null : clause.text(),
                    clause == null ? 0 : clause.line(),
                    from,
                    count,
                    laidOut ? plan.crossing().keys() : plan.levels().keys(),
                    first));
        }
        return looks;
    }
}
