package dev.fiesta;

import dev.fiesta.progress.Timing;
import dev.fiesta.step.TablePlan;
import dev.fiesta.step.TablePlan.Written;
import java.util.ArrayList;
import java.util.List;

/**
 * The rows that a clause left.
 *
 * @param clause the clause on one line
 * @param line the line it starts on
 * @param rows the rows behind it; -1 where nobody counted them, as behind {@code against}
 */
public record ClauseRows(String clause, int line, long rows) {

    /** The rows behind each clause of a table, by what a run noted. */
    static List<ClauseRows> of(TablePlan table, List<Timing> timings) {
        List<ClauseRows> all = new ArrayList<>();
        for (Written written : table.written()) {
            long rows = written.laidOut() ? -1 : behind(table, written.steps(), timings);
            all.add(new ClauseRows(written.text(), written.line(), rows));
        }
        return all;
    }

    /** The rows behind so many steps of a table. */
    static long behind(TablePlan table, int steps, List<Timing> timings) {
        long rows = -1;
        int last = -2;
        for (Timing timing : timings) {
            boolean ours = timing.table().equals(table.name()) && timing.number() < steps;
            if (ours && timing.number() >= last) {
                last = timing.number();
                rows = timing.rowsOut();
            }
        }
        TablePlan from = table.from();
        return rows >= 0 || from == null ? rows : behind(from, from.steps().size(), timings);
    }
}
