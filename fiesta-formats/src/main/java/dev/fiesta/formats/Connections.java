package dev.fiesta.formats;

import dev.fiesta.problem.Names;
import dev.fiesta.problem.RequestException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/**
 * The databases that a user knows by name, one below the other in {@code connections.conf}:
 *
 * <pre>
 * shop
 *   url jdbc:postgresql://db.ribera.example/shop
 *   user analyst
 *   password from environment SHOP_PASSWORD
 *   timeout 30 s
 * </pre>
 *
 * The file in the user's own folder wins over one beside the brief, which may come from anybody: it may name no password.
 */
final class Connections {
    static final String FILE = "connections.conf";

    private static final Pattern TIMEOUT = Pattern.compile("(\\d{1,6})\\s*(s|min)");
    private static final Pattern PASSWORD = Pattern.compile("from\\s+environment\\s+(\\S+)");
    /** Options of an address whose values are names of classes or of scripts: who writes them decides what is run. */
    private static final Pattern RUNS = Pattern.compile(
            ".*(factory|class|plugin|callback|verifier|interceptor|provider|script|^init$|logger|deserial|jaas|gsslib).*");

    /**
     * A database.
     *
     * @param passwordVariable the variable of the environment that holds the password, or null
     * @param timeout how long it may stay silent
     */
    record Connection(
            String name,
            String url,
            @Nullable String user,
            @Nullable String passwordVariable,
            Duration timeout,
            String where) {}

    private static final Duration USUAL = Duration.ofMinutes(5);

    private final Map<String, Connection> known;

    private Connections(Map<String, Connection> known) {
        this.known = known;
    }

    /**
     * @param own the user's folder for settings
     * @param folder of the brief, or null where nothing beside it may be read
     */
    static Connections of(Path own, @Nullable Path folder) {
        Map<String, Connection> all = new LinkedHashMap<>();
        if (folder != null && !isSame(own.resolve(FILE), folder.resolve(FILE))) {
            read(folder.resolve(FILE), false, all);
        }
        read(own.resolve(FILE), true, all);
        return new Connections(all);
    }

    private static boolean isSame(Path one, Path other) {
        try {
            return Files.exists(one) && Files.exists(other) && Files.isSameFile(one, other);
        } catch (IOException e) {
            return false;
        }
    }

    /** @throws RequestException when it is not known */
    Connection get(String name, Path own) {
        Connection connection = known.get(name);
        if (connection == null) {
            throw new RequestException("There is no connection '" + name + "'. "
                    + (known.isEmpty()
                            ? "Write it into " + own.resolve(FILE) + ": a line with its name, below it, indented, "
                                    + "'url jdbc:…', 'user …', 'password from environment …'."
                            : Names.didYouMean(name, known.keySet(), "There are")));
        }
        return connection;
    }

    private static void read(Path file, boolean trusted, Map<String, Connection> all) {
        List<String> lines;
        try {
            if (!Files.exists(file)) {
                return;
            }
            lines = Files.readAllLines(file);
        } catch (IOException e) {
            throw new RequestException("'" + file + "' cannot be read; it is plain UTF-8 text.");
        }
        for (int i = 0; i < lines.size(); ) {
            int first = i;
            Map<String, String> settings = new LinkedHashMap<>();
            String name = plain(lines.get(i++)).strip();
            while (i < lines.size()
                    && (plain(lines.get(i)).isBlank() || lines.get(i).matches("\\s.*"))) {
                String[] words = plain(lines.get(i++)).strip().split("\\s+", 2);
                if (!words[0].isEmpty()) {
                    settings.put(words[0].toLowerCase(Locale.ROOT), words.length > 1 ? words[1].strip() : "");
                }
            }
            if (!name.isEmpty()) {
                String at = file.getFileName() + ", line " + (first + 1) + ": connection '" + name + "': ";
                all.put(name, connection(name, settings, trusted, at));
            }
        }
    }

    /** A line without its comment: a {@code #} at its start or behind a blank. */
    private static String plain(String line) {
        return line.replaceFirst("(^|\\s)#.*", "");
    }

    private static Connection connection(String name, Map<String, String> settings, boolean trusted, String at) {
        List<String> unknown = new ArrayList<>(settings.keySet());
        unknown.removeAll(List.of("url", "user", "password", "timeout"));
        if (!unknown.isEmpty()) {
            throw new RequestException(
                    at + "'" + unknown.get(0) + "' says nothing here. There are url, user, password, timeout.");
        }
        String url = settings.getOrDefault("url", "");
        if (!url.startsWith("jdbc:")) {
            throw new RequestException(at + "it needs an address: url jdbc:postgresql://host/name");
        }
        refuseSecretsAndCode(url, at);
        String password = settings.get("password");
        String variable = null;
        if (password != null) {
            Matcher from = PASSWORD.matcher(password);
            if (!trusted) {
                throw new RequestException(
                        at
                                + "a file beside a brief may name no password; write this connection into the file of your own folder.");
            }
            if (!from.matches()) {
                throw new RequestException(at
                        + "a password is never written down here. Put it into a variable of the environment: "
                        + "password from environment SHOP_PASSWORD");
            }
            variable = from.group(1);
        }
        return new Connection(name, url, settings.get("user"), variable, timeout(settings.get("timeout"), at), at);
    }

    private static Duration timeout(@Nullable String told, String at) {
        if (told == null) {
            return USUAL;
        }
        Matcher timeout = TIMEOUT.matcher(told);
        if (!timeout.matches() || Integer.parseInt(timeout.group(1)) == 0) {
            throw new RequestException(at + "a timeout is written '30 s' or '5 min', not '" + told + "'.");
        }
        long amount = Long.parseLong(timeout.group(1));
        return timeout.group(2).equals("s") ? Duration.ofSeconds(amount) : Duration.ofMinutes(amount);
    }

    private static void refuseSecretsAndCode(String url, String at) {
        String options = url.replaceFirst("^[^?;]*[?;]?", "");
        for (String option : options.split("[&;]")) {
            String name = option.replaceFirst("=.*", "").strip().toLowerCase(Locale.ROOT);
            if (name.matches(".*(password|passwd|secret|token).*") || name.equals("pwd")) {
                throw new RequestException(
                        at + "an address holds no password; put it into a variable of the environment: "
                                + "password from environment SHOP_PASSWORD");
            }
            if (RUNS.matcher(name).matches() || option.toLowerCase(Locale.ROOT).contains("runscript")) {
                throw new RequestException(at + "the option '" + name
                        + "' of the address names what is to be run, which an address may not.");
            }
        }
        if (url.replaceFirst("^jdbc:[^/]*//", "").matches("[^/?]*:[^/?]*@.*")) {
            throw new RequestException(at + "an address holds no password; put it into a variable of the environment: "
                    + "password from environment SHOP_PASSWORD");
        }
    }
}
