package dev.fiesta.examples;

import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.formats.Queries;
import dev.fiesta.report.Terminal;
import java.io.PrintStream;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.time.LocalDate;
import java.util.List;

/**
 * A query in, a table back, over a connection that the program has: its pool, its driver, its transaction. Run it with {@code mvn -q -pl
 * fiesta-examples exec:java -Dexec.mainClass=dev.fiesta.examples.QueryTable -Dexec.args="jdbc:postgresql://localhost/shop ana secret"},
 * where the shop has a table {@code sales}.
 */
public final class QueryTable {
    /** What a site took, and its part of all. */
    public record SiteTakings(String site, long sales, double part) {}

    private QueryTable() {}

    public static void main(String[] args) throws SQLException {
        try (Connection connection = DriverManager.getConnection(args[0], args[1], args[2])) {
            run(connection, LocalDate.of(2026, 5, 1), System.out);
        }
    }

    /** The database picks the records, Fiesta works them out. */
    static List<SiteTakings> run(Connection connection, LocalDate from, PrintStream out) {
        String query = "select site, amount from sales where status = ? and sold_at >= ?";
        try (Fiesta fiesta = Fiesta.open();
                Result result = Queries.rows(fiesta, connection, query, "settled", from.atStartOfDay())
                        .per("site")
                        .give("sales = count()", "takings = sum(amount)")
                        .add("part = share(takings within all)")
                        .sort("part desc")
                        .run()) {
            Terminal.print(result, out);
            return result.as(SiteTakings.class);
        }
    }
}
