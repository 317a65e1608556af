package dev.fiesta.formats;

import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.RequestException;
import java.io.IOException;
import java.net.MalformedURLException;
import java.net.URISyntaxException;
import java.net.URL;
import java.net.URLClassLoader;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.Driver;
import java.sql.SQLException;
import java.sql.SQLTimeoutException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.Optional;
import java.util.Properties;
import java.util.ServiceConfigurationError;
import java.util.ServiceLoader;
import org.jspecify.annotations.Nullable;

/** Opens sessions of one database, and says in sentences what goes wrong in them. */
final class Sessions {
    private static final String POSTGRES = "jdbc:postgresql:";

    private final Connections.Connection told;
    private final @Nullable String password;

    Sessions(Connections.Connection told, @Nullable String password) {
        this.told = told;
        this.password = password;
    }

    String name() {
        return told.name();
    }

    boolean isPostgres() {
        return told.url().startsWith(POSTGRES);
    }

    /** A session that cannot write: also what a query calls cannot. */
    Connection reading() {
        return open(true);
    }

    /** A session that may write, in one transaction. */
    Connection writing() {
        return open(false);
    }

    private Connection open(boolean readOnly) {
        Properties settings = new Properties();
        if (told.user() != null) {
            settings.setProperty("user", told.user());
        }
        if (password != null) {
            settings.setProperty("password", password);
        }
        int seconds = (int) told.timeout().toSeconds();
        if (isPostgres()) {
            settings.setProperty("socketTimeout", Integer.toString(seconds));
            settings.setProperty("connectTimeout", Integer.toString(Math.min(seconds, 30)));
            settings.setProperty("loginTimeout", Integer.toString(Math.min(seconds, 30)));
            settings.setProperty("ApplicationName", "fiesta");
            if (readOnly) {
                settings.setProperty(
                        "options", "-c default_transaction_read_only=on -c standard_conforming_strings=on");
            }
        }
        try {
            Connection connection = driver().connect(told.url(), settings);
            if (connection == null) {
                throw noDriver();
            }
            return prepared(connection, readOnly, seconds);
        } catch (SQLException e) {
            throw failure(e, 0);
        }
    }

    /** The mode of a transaction holds for good once it has asked something. */
    private Connection prepared(Connection connection, boolean readOnly, int seconds) throws SQLException {
        try {
            if (!isPostgres()) {
                connection.setNetworkTimeout(Runnable::run, seconds * 1000);
            }
        } catch (SQLException | AbstractMethodError e) {
            seconds = 0; // this driver knows no such limit
        }
        try {
            connection.setReadOnly(readOnly);
            connection.setAutoCommit(false);
            if (readOnly) {
                try (Statement first = connection.createStatement()) {
                    first.execute("select 1");
                }
            }
            return connection;
        } catch (SQLException e) {
            connection.close();
            throw e;
        }
    }

    private RequestException noDriver() {
        String kind = told.url().replaceFirst("^(jdbc:[^:]+):.*", "$1");
        return new RequestException("There is no driver for '" + kind + "' (connection '" + told.name()
                + "'). Put its jar into the folder lib/drivers of Fiesta.");
    }

    /** The first of the drivers that knows the address; those behind it are not made. */
    private Driver driver() {
        ClassLoader own = Sessions.class.getClassLoader();
        return knowing(own).or(() -> drivers().flatMap(this::knowing)).orElseThrow(this::noDriver);
    }

    /** A driver that cannot be found or made here, for whatever reason of its own, stands in nobody else's way. */
    private Optional<Driver> knowing(ClassLoader loader) {
        Iterator<Driver> drivers = ServiceLoader.load(Driver.class, loader).iterator();
        while (true) {
            try {
                if (!drivers.hasNext()) {
                    return Optional.empty();
                }
                Driver driver = drivers.next();
                if (driver.acceptsURL(told.url())) {
                    return Optional.of(driver);
                }
            } catch (SQLException | ServiceConfigurationError | LinkageError e) {
                continue;
            }
        }
    }

    /** What finds drivers in the folder {@code drivers} beside our own jar. */
    private static Optional<ClassLoader> drivers() {
        try {
            Path jar = Path.of(Sessions.class
                    .getProtectionDomain()
                    .getCodeSource()
                    .getLocation()
                    .toURI());
            Path folder = jar.resolveSibling("drivers");
            return Files.isDirectory(folder)
                    ? Optional.of(new URLClassLoader(jars(folder), Sessions.class.getClassLoader()))
                    : Optional.empty();
        } catch (URISyntaxException | IOException e) {
            throw new MachineException("The folder of drivers cannot be read", e);
        }
    }

    private static URL[] jars(Path folder) throws IOException {
        List<URL> jars = new ArrayList<>();
        try (DirectoryStream<Path> all = Files.newDirectoryStream(folder, "*.jar")) {
            for (Path jar : all) {
                jars.add(url(jar));
            }
        }
        return jars.toArray(URL[]::new);
    }

    private static URL url(Path jar) throws MalformedURLException {
        return jar.toUri().toURL();
    }

    /**
     * What went wrong, in a sentence. Nothing of the address is told: it may hold what nobody should read.
     *
     * @param rows how many rows had come
     */
    RuntimeException failure(SQLException e, long rows) {
        String state = e.getSQLState() == null ? "" : e.getSQLState();
        String database = "The database '" + told.name() + "' ";
        String said = said(e);
        if (state.startsWith("28")) {
            return new RequestException(database + "refuses the user"
                    + (told.user() == null ? "" : " '" + told.user() + "'")
                    + (told.passwordVariable() == null
                            ? "; no password is told in connections.conf."
                            : ": the password in " + told.passwordVariable() + " is wrong, or the user is not known."));
        }
        if (state.equals("3D000")) {
            return new RequestException(database + "is not there: " + said);
        }
        if (state.equals("25006")) {
            return new RequestException("The query writes; Fiesta only reads. " + database + "says: " + said);
        }
        if (e instanceof SQLTimeoutException || isTimeout(e)) {
            return new MachineException(
                    database + "did not answer for " + told.timeout().toSeconds()
                            + " s. Let it take longer: 'timeout' in connections.conf",
                    null);
        }
        if (state.startsWith("08") || state.startsWith("57P") || state.startsWith("58")) {
            return new MachineException(
                    state.equals("08001") || state.equals("08004")
                            ? database + "cannot be reached: " + said
                            : "The connection to '" + told.name() + "' was lost after " + rows + " rows: " + said,
                    null);
        }
        return new RequestException(database + "refuses the query: " + said);
    }

    private static boolean isTimeout(Throwable e) {
        for (Throwable cause = e; cause != null; cause = cause.getCause()) {
            if (cause instanceof java.net.SocketTimeoutException) {
                return true;
            }
        }
        return false;
    }

    /** What the database said, in one line, without what only names our own wrapping. */
    private static String said(SQLException e) {
        String message = e.getMessage() == null ? e.getClass().getSimpleName() : e.getMessage();
        String line = message.strip()
                .replaceFirst("^(ERROR|FATAL|FEHLER|ERREUR): ", "")
                .replaceAll("\\s*\\n\\s*", "; ")
                .replaceAll("; (Position|Where|SQL statement):.*", "");
        String cut = line.length() > 300 ? line.substring(0, 299) + "…" : line;
        return cut.matches("(?s).*[.!?…]$") ? cut : cut + ".";
    }
}
