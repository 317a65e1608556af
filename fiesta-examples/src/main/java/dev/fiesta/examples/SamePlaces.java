package dev.fiesta.examples;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.formats.JdbcDatabases;
import dev.fiesta.output.TextStyle;
import dev.fiesta.parquet.ParquetFiles;
import dev.fiesta.parquet.ParquetTable;
import dev.fiesta.report.Report;
import dev.fiesta.report.Reporting;
import java.io.IOException;
import java.io.OutputStream;
import java.io.PrintStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;

/**
 * The sales of the season as text, as columns and, where a server is named, in a table of a database: the demo's brief over each, and its tables
 * the same to the byte. Run it with {@code mvn -q -pl fiesta-examples exec:java -Dexec.mainClass=dev.fiesta.examples.SamePlaces}; a server of
 * one's own is named by the variables {@code RIBERA_URL} ({@code jdbc:postgresql://localhost/ribera}), {@code RIBERA_USER} and
 * {@code RIBERA_PASSWORD}, and gets a table {@code ribera_sales}.
 */
public final class SamePlaces {
    private SamePlaces() {}

    public static void main(String[] args) throws IOException {
        run(Files.createTempDirectory("ribera"), System.getenv(), System.out);
    }

    /**
     * Works in a folder.
     *
     * @param environment variables by name
     * @return by place the tables of the brief, as text
     */
    static Map<String, String> run(Path folder, Map<String, String> environment, PrintStream out) throws IOException {
        Ribera.unpack(folder);
        Map<String, String> found = new LinkedHashMap<>();
        JdbcDatabases databases = JdbcDatabases.of(settings(folder, environment), environment);
        try (Fiesta fiesta =
                Fiesta.with().reads(ParquetFiles.FORMAT).asks(databases).open()) {
            Result sales =
                    fiesta.readAll(folder.resolve("sales-*.csv").toString()).run();
            try (OutputStream copy = Files.newOutputStream(folder.resolve("sales.parquet"))) {
                new ParquetTable().write(sales, copy);
            }
            found.put("text", tables(folder, "'sales-*.csv'", fiesta));
            found.put("columns", tables(folder, "'sales.parquet'", fiesta));
            if (environment.containsKey("RIBERA_URL")) {
                databases.write(sales, "ribera.ribera_sales", true, folder);
                found.put(
                        "database",
                        tables(
                                folder,
                                "database 'ribera' query 'select * from ribera_sales' parted by sale_id into 2",
                                fiesta));
            }
        }
        found.forEach((place, tables) -> out.println(place + ": "
                + tables.lines().count() + " lines, " + (tables.equals(found.get("text")) ? "the same" : "others")));
        return found;
    }

    /** A folder that says where the database is. */
    private static Path settings(Path folder, Map<String, String> environment) throws IOException {
        Path own = Files.createDirectories(folder.resolve("settings"));
        Files.writeString(
                own.resolve("connections.conf"),
                "ribera\n  url " + environment.getOrDefault("RIBERA_URL", "jdbc:postgresql:none") + "\n  user "
                        + environment.getOrDefault("RIBERA_USER", "ribera")
                        + "\n  password from environment RIBERA_PASSWORD\n");
        return own;
    }

    /** All tables of the demo's brief, with its sales from elsewhere. */
    private static String tables(Path folder, String place, Fiesta fiesta) throws IOException {
        String brief = Files.readString(folder.resolve("takings.brief")).replace("'sales-*.csv'", place);
        Report report = Reporting.of(Brief.of("takings.brief", brief, folder)).runAll(fiesta);
        StringBuilder all = new StringBuilder();
        for (Map.Entry<String, Result> table : report.results().entrySet()) {
            all.append(table.getKey()).append('\n');
            table.getValue().write(all, TextStyle.CSV);
        }
        return all.toString();
    }
}
