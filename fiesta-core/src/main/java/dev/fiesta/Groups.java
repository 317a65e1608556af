package dev.fiesta;

import java.util.Map;

/**
 * The groups of a table, before it is said which figures they give.
 *
 * <pre>{@code
 * sales.per("site", "stall").give("sales = count()", "takings = sum(amount)")
 * sales.per("site").against("month = start_of_month(day)").give("takings = sum(amount)")
 * }</pre>
 */
public final class Groups {
    private final Table table;
    private final String per;

    Groups(Table table, String per) {
        this.table = table;
        this.per = per;
    }

    /**
     * Lays further keys out as columns.
     *
     * @param keys each a field or {@code name = expression}, with {@code in (…)}, {@code rest as} and {@code with} behind it if wanted
     * @return the groups
     */
    public Groups against(String... keys) {
        return new Groups(table, per + " against " + ClauseText.items("per all against", keys));
    }

    /**
     * The figures of each group.
     *
     * @param figures each {@code name = expression}, a bare call such as {@code count()}, or {@code each(sum, mean of amount, fee)}
     * @return the table that this leaves
     */
    public Table give(String... figures) {
        return table.then(given(figures));
    }

    /**
     * As {@link #give(String...)}, with values for the parameters in the figures.
     *
     * @param values as for {@link Table#set}
     * @param figures each as for {@link #give(String...)}
     * @return the table that this leaves
     */
    public Table give(Map<String, ?> values, String... figures) {
        return table.then(given(figures), values);
    }

    private String given(String... figures) {
        return per + " give " + ClauseText.items("per all give", figures);
    }

    /** {@return the different keys with the number of rows of each} */
    public Table count() {
        return table.then(per);
    }
}
