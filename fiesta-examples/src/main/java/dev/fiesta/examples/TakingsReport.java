package dev.fiesta.examples;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.report.Format;
import dev.fiesta.report.Report;
import dev.fiesta.report.Reporting;
import java.io.IOException;
import java.io.PrintStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.List;

/**
 * A brief run from Java, with parameters, into a page and data files. Run it with {@code mvn -q -pl fiesta-examples exec:java
 * -Dexec.mainClass=dev.fiesta.examples.TakingsReport}.
 */
public final class TakingsReport {
    private TakingsReport() {}

    public static void main(String[] args) throws IOException {
        Path folder = Files.createTempDirectory("ribera");
        Ribera.unpack(folder);
        run(folder, System.out);
    }

    /** Writes the report of the summer at two sites and says where. */
    public static List<Path> run(Path folder, PrintStream out) {
        try (Fiesta fiesta = Fiesta.open()) {
            Brief brief = Brief.read(folder.resolve("takings.brief"))
                    .set("from_day", LocalDate.of(2026, 7, 1))
                    .set("sites", List.of("Quay", "Orchard"));
            Report report = Reporting.of(brief).runAll(fiesta);
            List<Path> written = report.writeTo(folder.resolve("summer"), Format.HTML, Format.CSV);
            written.forEach(file -> out.println("Written: " + file.getFileName()));
            return written;
        }
    }
}
