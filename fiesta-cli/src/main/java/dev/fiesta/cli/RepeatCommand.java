package dev.fiesta.cli;

import dev.fiesta.Fiesta;
import dev.fiesta.cli.options.Common;
import dev.fiesta.cli.options.Crewing;
import dev.fiesta.cli.options.Failures;
import dev.fiesta.cli.options.Window;
import dev.fiesta.report.ComparisonView;
import dev.fiesta.report.Repetition;
import dev.fiesta.report.RunRecord;
import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code fiesta repeat}. */
@Command(
        name = "repeat",
        description = "Runs again what a run record says: proves every table equal, or shows which figures moved.",
        mixinStandardHelpOptions = true,
        footer = {"", "Ends with 0 when all tables are equal, with 1 when one differs."})
final class RepeatCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;

    @Mixin
    private Common common;

    @Mixin
    private Crewing crewing;

    @Parameters(paramLabel = "RUN", description = "A run record (run.json), or the folder that holds it.")
    private Path file = Path.of("");

    @Override
    public Integer call() {
        PrintWriter out = spec.commandLine().getOut();
        RunRecord record = RunRecord.read(file);
        PrintWriter err = spec.commandLine().getErr();
        try (Crewing.Joined crew = crewing.join(common.quiet ? null : err);
                Fiesta fiesta = common.open(err, crew)) {
            Repetition again = Repetition.of(record, fiesta);
            common.endProgress();
            again.remarks().forEach(r -> spec.commandLine().getErr().println("Note: " + r));
            again.inputs().forEach(i -> out.println("Input " + i + "."));
            String tables = again.equal().size() + (again.equal().size() == 1 ? " table" : " tables");
            if (again.isEqual()) {
                out.println("Repeated: " + tables + " came out equal, to the last figure ("
                        + String.join(", ", again.equal()) + ")"
                        + (again.inputs().isEmpty()
                                ? "; the inputs are unchanged."
                                : ", although inputs were changed."));
                return 0;
            }
            out.println();
            new ComparisonView(again.moved())
                    .print(out, Window.size(common.colour).coloured());
            again.unknown()
                    .forEach(t -> out.println(t + ": differs; the record kept no tables, so figures cannot be told."));
            if (!again.equal().isEmpty()) {
                out.println("Equal: " + String.join(", ", again.equal()));
            }
            return Failures.CHECK;
        }
    }
}
