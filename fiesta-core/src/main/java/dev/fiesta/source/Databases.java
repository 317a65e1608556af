package dev.fiesta.source;

import dev.fiesta.source.cells.Dialect;
import dev.fiesta.source.cells.FieldSpec;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Asks queries of databases that have a name. */
public interface Databases {
    /** Where no database is known. */
    Databases NONE = (query, dialect, fields) -> {
        throw new dev.fiesta.problem.RequestException(
                "Databases are not known here, so '" + query.database() + "' cannot be asked.");
    };

    /**
     * The value of a parameter.
     *
     * @param items the values, of the classes that columns hold; empty when none was given
     */
    record Parameter(boolean list, List<Object> items) {
        public Parameter {
            items = List.copyOf(items);
        }
    }

    /**
     * A query.
     *
     * @param input what the brief calls its rows
     * @param database the name of the connection
     * @param text as written, with {@code :name} for parameters
     * @param parameters all that there are, by name
     * @param partedBy the column by whose ranges it is read side by side, or null
     * @param parts into how many ranges
     * @param folder of the brief; null where nothing beside it may be read
     */
    record Query(
            String input,
            String database,
            String text,
            Map<String, Parameter> parameters,
            @Nullable String partedBy,
            int parts,
            @Nullable Path folder) {}

    /**
     * What a query gave.
     *
     * @param rows how many
     * @param fingerprint of all rows, whatever their order
     * @param ordered whether the query names an order, so that the rows come in the same one again
     */
    record Answer(Source source, long rows, String fingerprint, boolean ordered) {}

    /**
     * Asks a query once and takes all its rows.
     *
     * @param dialect how cells are written
     * @param fields that were told of
     */
    Answer ask(Query query, Dialect dialect, List<FieldSpec> fields);

    /**
     * The fields of a query, without its rows.
     *
     * @return a source of no records; nothing where only the rows tell what the types are
     */
    default Optional<Source> fields(Query query, Dialect dialect, List<FieldSpec> fields) {
        return Optional.empty();
    }
}
