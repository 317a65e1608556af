package dev.fiesta;

import dev.fiesta.language.Clause;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A column as printed targets show it.
 *
 * @param field the field
 * @param title its title, or null for its name
 * @param role what it is in its table
 * @param formats how values are printed, in the order written
 */
public record ViewColumn(String field, @Nullable String title, Role role, List<Clause.Format> formats) {
    /** What a column is in its table. */
    public enum Role {
        /** Names a group; a missing key is a group of its own. */
        KEY,
        /** Tells something of a group. */
        FIGURE,
        /** Stands in a record. */
        FIELD
    }

    /** Whether it is a key of the groups. */
    public boolean key() {
        return role == Role.KEY;
    }
}
