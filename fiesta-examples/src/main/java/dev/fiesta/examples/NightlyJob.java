package dev.fiesta.examples;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.Tables;
import dev.fiesta.output.OutputFolder;
import dev.fiesta.problem.CheckException;
import dev.fiesta.problem.FiestaException;
import dev.fiesta.report.Compared;
import dev.fiesta.report.ComparisonView;
import dev.fiesta.report.Format;
import dev.fiesta.report.Report;
import dev.fiesta.report.Reporting;
import java.io.IOException;
import java.io.PrintStream;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;

/**
 * A job of the night: runs a brief, keeps its record, says what moved since the night before, and ends with a status of its own when a check does
 * not hold. Run it with {@code mvn -q -pl fiesta-examples exec:java -Dexec.mainClass=dev.fiesta.examples.NightlyJob}.
 */
public final class NightlyJob {
    private NightlyJob() {}

    public static void main(String[] args) throws IOException {
        Path folder = Files.createTempDirectory("ribera");
        Ribera.unpack(folder);
        run(folder, LocalDate.of(2026, 9, 30), System.out);
        System.exit(run(folder, LocalDate.of(2026, 10, 1), System.out));
    }

    /**
     * One night.
     *
     * @return 0, or 1 where a check does not hold, 3 where the job failed otherwise
     */
    static int run(Path folder, LocalDate night, PrintStream out) {
        Path to = folder.resolve("nights").resolve(night.toString());
        Path before = folder.resolve("nights").resolve(night.minusDays(1).toString());
        Instant started = Instant.now();
        Reporting reporting = Reporting.of(Brief.read(folder.resolve("takings.brief")));
        try (Fiesta fiesta = Fiesta.open()) {
            Tables tables = reporting.check(fiesta);
            Report report;
            try {
                report = reporting.run(tables, reporting.all(tables));
            } catch (CheckException e) {
                out.println("A check does not hold, so no report was written: " + e.getMessage());
                return 1;
            }
            try (OutputFolder files = OutputFolder.open(to)) {
                report.writeTo(files, List.of(Format.HTML, Format.CSV), false);
                reporting.record(report, files, started, true);
                files.finish();
            }
            out.println("Written: " + folder.relativize(to));
            if (Files.isDirectory(before)) {
                PrintWriter moved = new PrintWriter(out, true, StandardCharsets.UTF_8);
                new ComparisonView(Compared.of(before, to, List.of())).print(moved, false);
                moved.flush();
            }
            return 0;
        } catch (FiestaException e) {
            out.println("The night of " + night + " failed: " + e.getMessage());
            return 3;
        }
    }
}
