package dev.fiesta;

import dev.fiesta.language.Clause;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A column as printed targets show it.
 *
 * @param field the field
 * @param title its title, or null for its name
 * @param key whether it is a key of the groups; a missing key is a group of its own
 * @param formats how values are printed, in the order written
 */
public record ViewColumn(String field, @Nullable String title, boolean key, List<Clause.Format> formats) {}
