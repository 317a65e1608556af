package dev.fiesta.plan;

import dev.fiesta.compute.RowFunction;
import dev.fiesta.value.Type;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * What a text is given from outside.
 *
 * @param values those of its parameters, by name
 * @param functions those that the program defines besides the language, by name
 */
public record Parameters(Map<String, Value> values, Map<String, RowFunction> functions) {
    public static final Parameters NONE = new Parameters(Map.of(), Map.of());

    /** Without functions. */
    public Parameters(Map<String, Value> values) {
        this(values, Map.of());
    }

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
