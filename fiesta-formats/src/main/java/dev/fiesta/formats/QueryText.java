package dev.fiesta.formats;

import dev.fiesta.source.Databases.Parameter;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * A query whose parameters are bound, never pasted: {@code :name} outside quotes and comments becomes a question mark, for a list one each.
 *
 * @param text one statement that reads, without a semicolon at its end
 * @param values in the order of the question marks; null for a missing one
 * @param ordered whether it says in which order its rows come
 */
record QueryText(String text, List<@Nullable Object> values, boolean ordered) {
    /**
     * Looks at a query.
     *
     * @param doubled whether the driver takes a question mark of the query only when it is doubled
     * @throws dev.fiesta.problem.RequestException when it is not one statement that reads, or asks for a parameter that is not there
     */
    static QueryText of(String query, Map<String, Parameter> parameters, boolean doubled) {
        return new QueryScanner(query.strip().replaceFirst("[;\\s]+$", ""), parameters, doubled).scan();
    }
}
