package dev.fiesta.plan;

import dev.fiesta.language.Clause;
import dev.fiesta.language.Unit;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Type;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * A table with everything settled: an input, or steps over another table.
 *
 * @param name its name in the brief
 * @param from the table it starts from; null for an input
 * @param steps what is done to the rows of that table
 * @param slots for each visible field the slot it stands in after the last step
 * @param origin the slot that tells where a record comes from, or -1 when rows are records no more
 * @param schema the visible fields
 * @param view what printed targets show, and how
 * @param levels what a row is
 * @param totals how total rows are worked out, or null when there are none
 * @param crossing how keys are laid out as columns, or null
 * @param periods for fields made of periods the length of one
 */
public record TablePlan(
        String name,
        @Nullable TablePlan from,
        List<Step> steps,
        List<Integer> slots,
        int origin,
        Schema schema,
        List<ViewColumn> view,
        Level levels,
        Map<String, Unit> periods,
        @Nullable TotalPlan totals,
        @Nullable Crossing crossing) {

    /** Stands before what tells inputs of the same name apart. */
    public static final char HIDDEN = '\0';

    /**
     * A column of the printed table.
     *
     * @param title the title, or null for the name
     */
    public record ViewColumn(String field, @Nullable String title, List<Clause.Format> formats) {}

    /**
     * What a row of a table is.
     *
     * @param keys the keys of its groups; null for records
     */
    public record Level(@Nullable List<String> keys) {
        public static final Level RECORDS = new Level(null);

        public boolean isGroups() {
            return keys != null;
        }
    }

    /**
     * Total rows.
     *
     * @param by how many of the first keys get subtotals
     * @param labels for each key the visible field that shows it, -1 for none
     */
    public record TotalPlan(int by, Step.Recomputed rows, List<Integer> labels) {}

    /**
     * A cross-tabulation: its rows are groups by all keys, and are laid out once they are worked out.
     *
     * @param keys the names of the keys that stay rows
     * @param rows how many of the keys stay rows; those behind them become columns
     * @param across how many become columns
     * @param figures the names of the figures
     * @param slots the slots of the figures
     * @param choices for each key that becomes columns the values wanted, or null for those met
     * @param with what fills cells that have nothing, or null
     * @param totals whether there are total columns and a total row
     */
    public record Crossing(
            List<String> keys,
            int rows,
            int across,
            List<String> figures,
            List<Integer> slots,
            List<@Nullable List<@Nullable Object>> choices,
            @Nullable Long with,
            boolean totals,
            Step.Recomputed recomputed) {}

    /** An input: rows as they are read. */
    public static TablePlan input(String name, Schema schema) {
        List<Integer> slots =
                java.util.stream.IntStream.range(0, schema.size()).boxed().toList();
        int origin = schema.size() + 1; // behind the name of the file
        return new TablePlan(
                name, null, List.of(), slots, origin, schema, view(schema), Level.RECORDS, Map.of(), null, null);
    }

    static List<ViewColumn> view(Schema schema) {
        return schema.names().stream()
                .map(n -> new ViewColumn(n, null, List.of()))
                .toList();
    }

    /** The tables that this one takes rows from or looks up. */
    public List<TablePlan> uses() {
        List<TablePlan> used = new java.util.ArrayList<>();
        if (from != null) {
            used.add(from);
        }
        for (Step step : steps) {
            used.addAll(step.lookedUp());
        }
        return used;
    }

    /** The name as it is told: up to what tells inputs of the same name apart. */
    public String shownName() {
        int end = name.indexOf(HIDDEN);
        return end < 0 ? name : name.substring(0, end);
    }

    public boolean isInput() {
        return from == null;
    }

    /** The slots of the visible fields, and behind them, where there is one, that of the origin: what tables over this one see. */
    public List<Integer> passedOn() {
        if (isInput() || origin < 0) {
            return slots;
        }
        List<Integer> all = new java.util.ArrayList<>(slots);
        all.add(origin);
        return all;
    }

    /** The type of a visible field. */
    public Type type(String field) {
        return schema.type(schema.indexOf(field));
    }
}
