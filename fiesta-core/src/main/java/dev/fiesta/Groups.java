package dev.fiesta;

import java.util.Map;

/** The groups of a table, before it is said which figures they give. */
public final class Groups {
    private final Table table;
    private final String per;

    Groups(Table table, String per) {
        this.table = table;
        this.per = per;
    }

    /** The figures of each group: {@code name = expression}, or a bare call such as {@code count()}. */
    public Table give(String... figures) {
        return table.then(per + " give " + String.join(", ", figures));
    }

    /** As {@link #give(String...)}, with values for the parameters in the figures. */
    public Table give(Map<String, ?> values, String... figures) {
        return table.then(per + " give " + String.join(", ", figures), values);
    }

    /** The different keys with the number of rows of each. */
    public Table count() {
        return table.then(per);
    }
}
