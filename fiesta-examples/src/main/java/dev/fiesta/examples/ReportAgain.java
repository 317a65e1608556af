package dev.fiesta.examples;

import dev.fiesta.Behind;
import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.Tables;
import dev.fiesta.output.OutputFolder;
import dev.fiesta.report.Compared;
import dev.fiesta.report.ComparisonView;
import dev.fiesta.report.Format;
import dev.fiesta.report.Repetition;
import dev.fiesta.report.Report;
import dev.fiesta.report.Reporting;
import dev.fiesta.report.RunRecord;
import java.io.IOException;
import java.io.PrintStream;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Map;

/** A report asked for again: May and June, then July's file arrives and June is corrected; what moved, and why. */
public final class ReportAgain {
    private ReportAgain() {}

    /** Works in the folder named, or in a temporary one. */
    public static void main(String[] args) throws IOException {
        run(args.length > 0 ? Path.of(args[0]) : Files.createTempDirectory("ribera"), System.out);
    }

    static void run(Path folder, PrintStream out) throws IOException {
        Ribera.unpack(folder);
        Path later = Files.createDirectories(folder.resolve("later"));
        for (String month : List.of("07", "08", "09")) {
            String file = "sales-2026-" + month + ".csv";
            Files.move(folder.resolve(file), later.resolve(file));
        }
        Brief brief = Brief.read(folder.resolve("takings.brief"));
        PrintWriter writer = new PrintWriter(out, true, StandardCharsets.UTF_8);
        try (Fiesta fiesta = Fiesta.open()) {
            record(brief, fiesta, folder.resolve("june"));
            writer.println("Unchanged: "
                    + Repetition.of(RunRecord.read(folder.resolve("june")), fiesta)
                            .isEqual());

            Files.move(later.resolve("sales-2026-07.csv"), folder.resolve("sales-2026-07.csv"));
            Path june = folder.resolve("sales-2026-06.csv");
            Files.writeString(june, Files.readString(june).replaceFirst(",settled,", ",voided,"));
            Repetition again = Repetition.of(RunRecord.read(folder.resolve("june")), fiesta);
            again.inputs().forEach(i -> writer.println("Changed: " + i));

            record(brief, fiesta, folder.resolve("july"));
            new ComparisonView(Compared.of(folder.resolve("june"), folder.resolve("july"), List.of()))
                    .print(writer, false);

            Tables tables = brief.tables(fiesta);
            Behind behind = tables.trace().behind("by_kind", Map.of("kind", "bakery"), Behind.Part.ROW);
            writer.println(behind.records().rows() + " records make " + behind.figures() + ", as the table shows: "
                    + behind.differing().isEmpty());
        }
        writer.flush();
    }

    private static void record(Brief brief, Fiesta fiesta, Path to) {
        Instant started = Instant.now();
        Report report = Report.of(brief, fiesta);
        try (OutputFolder folder = OutputFolder.open(to)) {
            report.writeTo(folder, List.of(Format.HTML), false);
            Reporting.of(brief).record(report, folder, started, true);
            folder.finish();
        }
    }
}
