package dev.fiesta;

import dev.fiesta.engine.StepCounts;
import dev.fiesta.step.TablePlan;
import java.util.List;

/**
 * The rows that a clause left.
 *
 * @param clause the clause on one line
 * @param line the line it starts on
 * @param rows the rows behind it; -1 where nobody counted them, as behind {@code against}
 */
public record ClauseRows(String clause, int line, long rows) {
    /** The rows behind each clause of a table, by what a run counted. */
    static List<ClauseRows> of(TablePlan table, StepCounts counts) {
        return table.written().stream()
                .map(w -> new ClauseRows(w.text(), w.line(), w.laidOut() ? -1 : counts.behind(table, w.steps())))
                .toList();
    }
}
