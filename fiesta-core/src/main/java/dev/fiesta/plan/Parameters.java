package dev.fiesta.plan;

import dev.fiesta.value.Type;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * The parameters of a brief with their values.
 *
 * @param values by name
 */
public record Parameters(Map<String, Value> values) {
    public static final Parameters NONE = new Parameters(Map.of());

    /**
     * @param list whether it holds several values
     * @param items the values; null or empty when an optional parameter was not given
     */
    public record Value(Type type, boolean list, @Nullable List<Object> items) {
        /** The one value, or null when none was given. */
        public @Nullable Object single() {
            return items == null || items.isEmpty() ? null : items.get(0);
        }
    }
}
