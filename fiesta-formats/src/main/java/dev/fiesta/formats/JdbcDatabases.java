package dev.fiesta.formats;

import dev.fiesta.problem.RequestException;
import dev.fiesta.source.Databases;
import dev.fiesta.source.Dialect;
import dev.fiesta.source.FieldSpec;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;

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

    /** Those that the user has written down: in the folder for settings, in {@code fiesta/connections.conf}. */
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
     */
    public static JdbcDatabases of(Path own, Map<String, String> environment) {
        return new JdbcDatabases(own, Map.copyOf(environment));
    }

    @Override
    public Answer ask(Query query, Dialect dialect, List<FieldSpec> fields) {
        return new QueryReading(session(query.database(), query.folder()), query, dialect, fields).run();
    }

    /**
     * Opens sessions of a database.
     *
     * @param folder of the brief
     * @throws RequestException when it is not known, or its password is nowhere
     */
    Sessions session(String name, Path folder) {
        Connections.Connection connection = Connections.of(own, folder).get(name, own);
        String variable = connection.passwordVariable();
        if (variable != null && !environment.containsKey(variable)) {
            throw new RequestException("The password of '" + name + "' should stand in the variable " + variable
                    + " of the environment, which is not set.");
        }
        return new Sessions(connection, variable == null ? null : environment.get(variable));
    }
}
