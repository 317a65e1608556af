package dev.fiesta.examples;

import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.Table;
import dev.fiesta.report.Terminal;
import java.io.IOException;
import java.io.PrintStream;
import java.math.BigDecimal;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;

/**
 * The library in one sentence: read, choose, compute, group, choose groups, rank them inside their sites. Run it with
 * {@code mvn -q -pl fiesta-examples exec:java -Dexec.mainClass=dev.fiesta.examples.LeadingStalls}.
 */
public final class LeadingStalls {
    /** A row of the answer as a Java record; components are filled by the fields of the same name. */
    public record Leader(String site, long place, String stall, BigDecimal takings, long sales) {}

    private LeadingStalls() {}

    public static void main(String[] args) throws IOException {
        Path folder = Files.createTempDirectory("ribera");
        Ribera.unpack(folder);
        run(folder, System.out);
    }

    /** Prints the table and hands its rows back as records. */
    public static List<Leader> run(Path folder, PrintStream out) {
        try (Fiesta fiesta = Fiesta.open()) {
            Table sales = fiesta.read(folder.resolve("sales-2026-07.csv"));
            Table leaders = sales.only("status = 'settled' and site is not missing")
                    .add("net = amount - fee")
                    .per("site", "stall")
                    .give("sales = count()", "takings = sum(net)")
                    .only("sales >= :least", Map.of("least", 50))
                    .add("place = rank(within site along takings desc)")
                    .only("place <= 2")
                    .sort("site", "place");
            Result result = leaders.run();
            Terminal.print(result, out);
            return result.as(Leader.class);
        }
    }
}
