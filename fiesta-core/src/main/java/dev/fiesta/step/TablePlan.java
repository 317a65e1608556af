package dev.fiesta.step;

import dev.fiesta.language.Clause;
import dev.fiesta.value.Kind;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Type;
import dev.fiesta.value.Unit;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
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
 * @param marks what is to be said of visible fields in some rows; none for a cross-tabulation
 * @param written its clauses, as they were written and what each left
 * @param periods for fields made of periods the length of one
 * @param texts what it has to do with the texts of inputs
 * @param courses small lines between the columns of its view
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
        @Nullable Crossing crossing,
        List<Mark> marks,
        List<Written> written,
        InputTexts texts,
        List<Course> courses) {

    /**
     * Another table's figure along its periods, as a small line in each row.
     *
     * @param keys of both tables, which tell whose rows belong to a row
     * @param title the title, or null
     * @param place how many columns of the view stand before it
     */
    public record Course(
            String table,
            String field,
            String along,
            List<String> keys,
            @Nullable String title,
            int place) {}

    /** A plan is the one that it is: two that say the same are worked out apart. */
    @Override
    public boolean equals(@Nullable Object other) {
        return this == other;
    }

    @Override
    public int hashCode() {
        return System.identityHashCode(this);
    }

    /** Stands before what tells inputs of the same name apart. */
    public static final char HIDDEN = '\0';

    /**
     * A column of the printed table.
     *
     * @param title the title, or null for the name
     */
    public record ViewColumn(String field, @Nullable String title, List<Clause.Format> formats) {}

    /**
     * Something to be said of a field in some rows.
     *
     * @param field its place among the visible fields
     * @param slot after the last step: true in the rows it is said of
     * @param note the text of a note, else nothing
     */
    public record Mark(int field, int slot, Says says, String note) {
        /** What is said of a field. */
        public enum Says {
            HIDDEN,
            FEW,
            NOTE
        }
    }

    /**
     * A clause as it was written.
     *
     * @param text the clause, on one line
     * @param line the line it starts on
     * @param steps the number of steps that it and the clauses before it became
     * @param schema the fields that it left visible
     * @param levels what a row is behind it
     * @param laidOut whether it works on rows that are laid out as a cross-tabulation, which nobody counts
     */
    public record Written(String text, int line, int steps, Schema schema, Level levels, boolean laidOut) {}

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
    public record TotalPlan(int by, Recomputed rows, List<Integer> labels) {}

    /**
     * A cross-tabulation: its rows are groups by all keys, and are laid out once they are worked out.
     *
     * @param keys the names of the keys that stay rows
     * @param rows how many of the keys stay rows; those behind them become columns
     * @param across how many become columns
     * @param figures the names of the figures
     * @param slots the slots of the figures
     * @param choices for each key that becomes columns the values wanted, or null for those met
     * @param with what fills cells that stand for no record, or null
     * @param additive the slots of the figures that it fills
     * @param totals whether there are total columns and a total row
     * @param order how columns that come from the data are ordered
     * @param marks for each figure the slot that says where it is hidden, or -1
     * @param after what is done to the rows once they are laid out
     */
    public record Crossing(
            List<String> keys,
            int rows,
            int across,
            List<String> figures,
            List<Integer> slots,
            List<@Nullable List<@Nullable Object>> choices,
            @Nullable Long with,
            Set<Integer> additive,
            boolean totals,
            Recomputed recomputed,
            List<OrderKey> order,
            List<Integer> marks,
            AfterCrossing after) {
        /** What printed targets show of the columns that came out. */
        public List<ViewColumn> view(Schema columns) {
            List<Clause.Shown> shown = after.shown();
            return shown == null ? TablePlan.view(columns) : new ShownColumns(shown, columns.names()).view();
        }

        /** Where rows that have been laid out hold the row's total of a figure; the keys stand before. */
        public int totalSlot(int figure) {
            return rows + figure;
        }

        /** Where they hold their number, as first laid out. */
        public int numberSlot() {
            return rows + figures.size();
        }
    }

    /**
     * What is done to the rows of a cross-tabulation once they are laid out. Their slots are: the keys, the total of each
     * figure, the number of the row, then the cells where they are known beforehand, then what the steps add, then the cells
     * where they come from the data.
     *
     * @param steps the steps
     * @param standing the number of steps before {@code totals}
     * @param replay how the total row goes through them
     * @param cells the slot of the first cell
     * @param known how many of the names are those of keys and of cells known beforehand; those of added fields follow
     * @param names the visible fields but for cells that come from the data, {@code slots} where they stand
     * @param shown the entries of {@code columns}, or null
     */
    public record AfterCrossing(
            List<Step> steps,
            int standing,
            Recomputed replay,
            int cells,
            int known,
            List<String> names,
            List<Integer> slots,
            @Nullable List<Clause.Shown> shown) {}

    /**
     * An input: rows as they are read.
     *
     * @param samples some of its texts, asked for when a mistake is explained
     */
    public static TablePlan input(String name, Schema schema, InputTexts.Samples samples) {
        List<Integer> slots = IntStream.range(0, schema.size()).boxed().toList();
        int origin = schema.size() + 1; // behind the name of the file
        return new TablePlan(
                name,
                null,
                List.of(),
                slots,
                origin,
                schema,
                view(schema),
                Level.RECORDS,
                Map.of(),
                null,
                null,
                List.of(),
                List.of(),
                new InputTexts(Map.of(), List.of(), samples),
                List.of());
    }

    public static List<ViewColumn> view(Schema schema) {
        return schema.names().stream()
                .map(n -> new ViewColumn(n, null, List.of()))
                .toList();
    }

    /** This table under another name, of which only the first rows are kept; those behind are read and counted all the same. */
    public TablePlan firstRows(String name, long count) {
        List<Step> more = new ArrayList<>(steps);
        if (crossing == null) {
            more.add(new LimitStep(count, false));
        }
        return new TablePlan(
                name, from, more, slots, origin, schema, view, levels, periods, totals, crossing, marks, written, texts,
                courses);
    }

    /**
     * This table with the fields that are shown only, where the others need not be read: nothing stands on it, and neither totals
     * nor marks count its fields.
     */
    public TablePlan shownOnly() {
        if (crossing != null || totals != null || !marks.isEmpty()) {
            return this;
        }
        Set<String> shown = view.stream().map(ViewColumn::field).collect(Collectors.toSet());
        List<Integer> kept = IntStream.range(0, schema.size())
                .filter(i -> shown.contains(schema.field(i).name()))
                .boxed()
                .toList();
        return new TablePlan(
                name,
                from,
                steps,
                kept.stream().map(slots::get).toList(),
                origin,
                new Schema(kept.stream().map(schema::field).toList()),
                view,
                levels,
                periods,
                totals,
                crossing,
                marks,
                written,
                texts,
                courses);
    }

    /** The tables that this one takes rows from or looks up. */
    public List<TablePlan> uses() {
        List<TablePlan> used = new ArrayList<>();
        if (from != null) {
            used.add(from);
        }
        for (Step step : steps) {
            used.addAll(step.lookedUp());
        }
        return used;
    }

    /** Tables, and all that they take rows from or look up, each once. */
    public static Set<TablePlan> standsOn(List<TablePlan> tables) {
        Set<TablePlan> all = new java.util.LinkedHashSet<>(tables);
        java.util.ArrayDeque<TablePlan> open = new java.util.ArrayDeque<>(tables);
        while (!open.isEmpty()) {
            for (TablePlan used : open.remove().uses()) {
                if (all.add(used)) {
                    open.add(used);
                }
            }
        }
        return all;
    }

    /** The name as it is told: up to what tells inputs of the same name apart. */
    public String shownName() {
        return shown(name);
    }

    /** A name as it is told. */
    public static String shown(String name) {
        int end = name.indexOf(HIDDEN);
        return end < 0 ? name : name.substring(0, end);
    }

    public boolean isInput() {
        return from == null;
    }

    /** The slots of the visible fields, then that of the origin, where there is one, and those of the marks: what tables over this one see. */
    public List<Integer> passedOn() {
        if (isInput() || (origin < 0 && marks.isEmpty())) {
            return slots;
        }
        List<Integer> all = new ArrayList<>(slots);
        if (origin >= 0) {
            all.add(origin);
        }
        marks.forEach(m -> all.add(m.slot()));
        return all;
    }

    /** The text field of an input that a visible field is, unchanged; null for any other. */
    public InputTexts.@Nullable InputField text(int place) {
        if (isInput()) {
            return schema.type(place).kind() == Kind.TEXT ? new InputTexts.InputField(this, place) : null;
        }
        return texts.fields().get(place);
    }

    /** The type of a visible field. */
    public Type type(String field) {
        return schema.type(schema.indexOf(field));
    }
}
