package dev.fiesta.formats;

import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.IOException;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Properties;
import org.junit.jupiter.api.Assumptions;
import org.postgresql.Driver;

/**
 * A real server of databases: the one that {@code FIESTA_TEST_POSTGRES} names ({@code jdbc:postgresql://…}, its user in
 * {@code FIESTA_TEST_USER}, its password in {@code FIESTA_TEST_PASSWORD}), else one that is unpacked and started for the tests.
 */
final class Server {
    private static Server only;

    final String url;
    final String user;
    final String password;

    private Server(String url, String user, String password) {
        this.url = url;
        this.user = user;
        this.password = password;
    }

    static synchronized Server start() {
        if (only == null) {
            String told = System.getenv("FIESTA_TEST_POSTGRES");
            if (told != null) {
                only = new Server(told, System.getenv("FIESTA_TEST_USER"), System.getenv("FIESTA_TEST_PASSWORD"));
            } else {
                String machine = System.getProperty("os.name") + " " + System.getProperty("os.arch");
                Assumptions.assumeTrue(machine.equals("Linux amd64"), "no server for " + machine + " comes along");
                only = embedded();
            }
        }
        return only;
    }

    /** Where the machine lets none be started, tests are skipped with the reason; the system's own server is asked by {@code .ci/run}. */
    private static Server embedded() {
        try {
            EmbeddedPostgres started = EmbeddedPostgres.builder().start();
            return new Server("jdbc:postgresql://127.0.0.1:" + started.getPort() + "/postgres", "postgres", "postgres");
        } catch (IOException | IllegalStateException e) {
            return Assumptions.abort("no server can be started here: " + e);
        }
    }

    Connection open() throws SQLException {
        Properties settings = new Properties();
        settings.setProperty("user", user);
        settings.setProperty("password", password);
        return new Driver().connect(url, settings); // by itself: another driver here cannot be made
    }

    void does(String... statements) throws SQLException {
        try (Connection connection = open();
                Statement statement = connection.createStatement()) {
            for (String one : statements) {
                statement.execute(one);
            }
        }
    }

    /** The first value of the first row. */
    String one(String query) throws SQLException {
        try (Connection connection = open();
                Statement statement = connection.createStatement();
                ResultSet rows = statement.executeQuery(query)) {
            return rows.next() ? rows.getString(1) : "no row";
        }
    }
}
