package dev.fiesta.formats;

import dev.fiesta.Result;
import dev.fiesta.problem.RequestException;
import dev.fiesta.source.Databases;
import dev.fiesta.source.Source;
import dev.fiesta.source.cells.Dialect;
import dev.fiesta.source.cells.FieldSpec;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * Databases that are asked by JDBC, under the names of {@code connections.conf}. Nothing is ever written: sessions are read-only, and a
 * query is asked as the inside of a select.
 *
 * <pre>{@code
 * Fiesta fiesta = Fiesta.with().asks(JdbcDatabases.ofUser()).open();
 * }</pre>
 */
public final class JdbcDatabases implements Databases {
    private final Path own;
    private final Map<String, String> environment;

    private JdbcDatabases(Path own, Map<String, String> environment) {
        this.own = own;
        this.environment = environment;
    }

    /** {@return those that the user has written down: in the folder for settings, in {@code fiesta/connections.conf}} */
    public static JdbcDatabases ofUser() {
        Map<String, String> environment = System.getenv();
        String told = environment.getOrDefault("XDG_CONFIG_HOME", "");
        String home = System.getProperty("user.home", "");
        Path settings = told.isEmpty() ? Path.of(home, ".config") : Path.of(told);
        return of(settings.resolve("fiesta"), environment);
    }

    /**
     * @param own the folder of {@code connections.conf}; it may name where passwords are
     * @param environment the variables that passwords stand in
     * @return who asks
     */
    public static JdbcDatabases of(Path own, Map<String, String> environment) {
        return new JdbcDatabases(own, Map.copyOf(environment));
    }

    @Override
    public Answer ask(Query query, Dialect dialect, List<FieldSpec> fields) {
        return new QueryReading(session(query.database(), query.folder()), query, dialect, fields).run();
    }

    @Override
    public Optional<Source> fields(Query query, Dialect dialect, List<FieldSpec> fields) {
        return new QueryReading(session(query.database(), query.folder()), query, dialect, fields).fields();
    }

    /**
     * Writes a table into a database, all of it or nothing.
     *
     * @param result the table
     * @param place the name of the connection and that of the table, with a point between: {@code shop.weekly}
     * @param replace whether a table that is there already takes these fields and rows
     * @param folder of the brief
     * @return the number of rows
     * @throws RequestException when the table is there already and shall not be replaced, or the database does not take it
     */
    public long write(Result result, String place, boolean replace, Path folder) {
        int point = place.indexOf('.');
        if (point < 1 || point == place.length() - 1) {
            throw new RequestException("'" + place
                    + "' names no table of a database. Write its connection, a point and the table: " + "shop.weekly");
        }
        return new DatabaseTable(session(place.substring(0, point), folder), place.substring(point + 1))
                .write(result, replace);
    }

    /**
     * Opens sessions of a database.
     *
     * @param folder of the brief
     * @throws RequestException when it is not known, or its password is nowhere
     */
    Sessions session(String name, @Nullable Path folder) {
        Connections.Connection connection = Connections.of(own, folder).get(name, own);
        String variable = connection.passwordVariable();
        if (variable != null && !environment.containsKey(variable)) {
            throw new RequestException("The password of '" + name + "' should stand in the variable " + variable
                    + " of the environment, which is not set.");
        }
        return new Sessions(connection, variable == null ? null : environment.get(variable));
    }
}
