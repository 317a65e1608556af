package dev.fiesta.plan;

import dev.fiesta.step.DistinctStep;
import dev.fiesta.step.FirstsStep;
import dev.fiesta.step.GaplessStep;
import dev.fiesta.step.GroupStep;
import dev.fiesta.step.LimitStep;
import dev.fiesta.step.SampleStep;
import dev.fiesta.step.SortStep;
import dev.fiesta.step.Step;
import dev.fiesta.step.TablePlan;
import dev.fiesta.step.TablePlan.Written;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * Where the order of rows decides what a table holds, of rows that come in no order of their own. Groups stand by their keys and sorted rows by
 * theirs; what is level there, or counted as a tie, is told elsewhere.
 */
public final class RowOrder {
    private final Set<TablePlan> loose;
    private final Set<String> sentences = new LinkedHashSet<>();

    /** @param loose inputs whose records come in any order */
    public RowOrder(Set<TablePlan> loose) {
        this.loose = loose;
    }

    /** What there is to be told, each once. */
    public List<String> sentences() {
        return List.copyOf(sentences);
    }

    /** Looks at a table that is shown, and at those that it stands on. */
    public void look(TablePlan table) {
        TablePlan input = ordered(table);
        if (input != null && !table.isInput()) {
            tell(input, "the rows of '" + table.shownName() + "' stand");
        }
    }

    /** The loose input in whose order the rows of a table stand; null where they stand in an order of their own. */
    private @Nullable TablePlan ordered(TablePlan table) {
        if (table.isInput()) {
            return loose.contains(table) ? table : null;
        }
        TablePlan from = table.from();
        TablePlan input = from == null ? null : ordered(from);
        int step = 0;
        for (Written clause : table.written()) {
            for (; step < clause.steps() && input != null; step++) {
                Step next = table.steps().get(step);
                if (decides(next)) {
                    tell(input, "'" + clause.text() + "' (line " + clause.line() + ") takes its rows");
                }
                input = orders(next) ? null : input;
            }
            step = Math.max(step, clause.steps());
        }
        return input;
    }

    private static boolean decides(Step step) {
        if (step instanceof GroupStep group) {
            return group.gathers().stream()
                    .anyMatch(g -> g.function().looksAtOrder() && g.along().isEmpty());
        }
        if (step instanceof FirstsStep firsts) {
            return firsts.along().isEmpty();
        }
        return step instanceof LimitStep || step instanceof DistinctStep || step instanceof SampleStep;
    }

    private static boolean orders(Step step) {
        return step instanceof SortStep
                || step instanceof GroupStep
                || step instanceof GaplessStep
                || (step instanceof FirstsStep firsts && !firsts.along().isEmpty());
    }

    private void tell(TablePlan input, String what) {
        sentences.add("'" + input.shownName() + "' is a query that names no order: " + what
                + " as the server happened to give them. Add an order by to the query, or sort first.");
    }
}
