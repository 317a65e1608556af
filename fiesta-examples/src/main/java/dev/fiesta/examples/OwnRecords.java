package dev.fiesta.examples;

import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.report.Terminal;
import java.io.PrintStream;
import java.math.BigDecimal;
import java.time.LocalDate;
import java.util.List;

/**
 * Records that are in memory already, followed over a moving window. Run it with {@code mvn -q -pl fiesta-examples exec:java
 * -Dexec.mainClass=dev.fiesta.examples.OwnRecords}.
 */
public final class OwnRecords {
    /** A day of a stall. */
    public record Day(String stall, LocalDate day, BigDecimal takings) {}

    private OwnRecords() {}

    public static void main(String[] args) {
        run(System.out);
    }

    /** The takings of each day beside the mean of three days and the change from the day before. */
    public static Result run(PrintStream out) {
        List<Day> days = List.of(
                day("001", 1, "310.50"),
                day("001", 2, "298.00"),
                day("001", 3, "402.75"),
                day("007", 1, "120.00"),
                day("007", 3, "180.00"));
        try (Fiesta fiesta = Fiesta.open()) {
            Result result = fiesta.records(Day.class, days)
                    .add(
                            "usual = mean(takings within stall along day last 3 days)",
                            "change = relative_change(takings within stall along day)",
                            "so_far = sum(takings within stall along day running)")
                    .columns(
                            "stall",
                            "day",
                            "takings",
                            "usual 'Mean of 3 days' number 2",
                            "change percent 1",
                            "so_far 'So far'")
                    .run();
            Terminal.print(result, out);
            return result;
        }
    }

    private static Day day(String stall, int day, String takings) {
        return new Day(stall, LocalDate.of(2026, 5, day), new BigDecimal(takings));
    }
}
