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
import org.jspecify.annotations.Nullable;

/** Works out what clauses of a table leave, all in one run. */
final class StepLooks {
    private StepLooks() {}

    /** @param plans what its last clauses leave, one after the other, the table itself at the end */
    static List<StepLook> of(TablePlan table, List<TablePlan> plans, Engine engine, Notices notices) {
        int first = table.written().size() - plans.size() + 1;
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
