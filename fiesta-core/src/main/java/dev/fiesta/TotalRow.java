package dev.fiesta;

import dev.fiesta.step.TablePlan;
import dev.fiesta.total.Totalling;
import dev.fiesta.total.Worked;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * A total or subtotal of a {@link Result}, recomputed from the records.
 *
 * @param after the number of rows that it stands behind
 * @param grand whether it is the total of all rows
 * @param label the field that shows {@code Total} in printed tables, or null when that field is not visible
 * @param values the values by field; missing ones, keys among them, are null
 */
public record TotalRow(int after, boolean grand, @Nullable String label, Map<String, @Nullable Object> values) {
    /** What printed tables show in the label's field. */
    public static final String LABEL = "Total";

    /**
     * {@return what printed tables and delimited files show for a field}
     *
     * @param field the name of the field
     */
    public @Nullable Object shown(String field) {
        return field.equals(label) ? LABEL : values.get(field);
    }

    static List<TotalRow> of(TablePlan plan, Worked worked) {
        Totalling.TotalRows totals = worked.totals();
        List<TotalRow> list = new ArrayList<>();
        if (totals == null) {
            return list;
        }
        List<String> names = worked.schema().names();
        for (int i = 0; i < totals.after().length; i++) {
            Map<String, @Nullable Object> values = new LinkedHashMap<>();
            for (int f = 0; f < names.size(); f++) {
                values.put(names.get(f), totals.columns()[f].get(i));
            }
            int level = totals.level()[i];
            int shown = plan.totals() == null ? 0 : plan.totals().labels().get(level);
            list.add(new TotalRow(totals.after()[i], level == 0, shown < 0 ? null : names.get(shown), values));
        }
        return list;
    }
}
