package dev.fiesta.engine;

import dev.fiesta.step.TablePlan;
import java.util.Arrays;
import java.util.IdentityHashMap;
import java.util.Map;

/** How many rows the steps of tables left, as far as they were counted. */
public final class StepCounts {
    private static final int READING = -1;

    private final Map<TablePlan, long[]> left = new IdentityHashMap<>();

    /** The rows of a table after its reading, then after each of its steps; negative where nobody counted them. */
    synchronized long[] of(TablePlan table) {
        return left.computeIfAbsent(table, t -> uncounted(t.steps().size()));
    }

    static long[] uncounted(int steps) {
        long[] none = new long[steps + 1];
        Arrays.fill(none, -1);
        return none;
    }

    void read(TablePlan input, long rows) {
        of(input)[READING + 1] = rows;
    }

    /**
     * The rows behind so many steps of a table: a step that nobody counted left as many as the one before it.
     *
     * @return how many; -1 where none of them was counted
     */
    public long behind(TablePlan table, int steps) {
        long[] counts = of(table);
        for (int i = Math.min(steps, counts.length - 1); i >= 0; i--) {
            if (counts[i] >= 0) {
                return counts[i];
            }
        }
        TablePlan from = table.from();
        return from == null ? -1 : behind(from, from.steps().size());
    }
}
