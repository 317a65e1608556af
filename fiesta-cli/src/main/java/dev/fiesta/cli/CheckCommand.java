package dev.fiesta.cli;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.Tables;
import dev.fiesta.cli.options.Speaking;
import dev.fiesta.cli.options.Wanted;
import dev.fiesta.report.Reporting;
import java.util.List;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Spec;

/** {@code fiesta check}. */
@Command(
        name = "check",
        description = "Looks for problems in a brief: reads headers and types, calculates nothing.",
        mixinStandardHelpOptions = true)
final class CheckCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;

    @Mixin
    private Speaking speaking;

    @Mixin
    private Wanted wanted;

    @Override
    public Integer call() {
        Brief brief = wanted.brief();
        try (Fiesta fiesta = speaking.open(spec.commandLine().getErr())) {
            Tables tables = Reporting.of(brief).check(fiesta);
            if (!speaking.quiet) {
                spec.commandLine()
                        .getOut()
                        .println(wanted.file.getFileName() + ": no problems, " + counted(tables.names()));
            }
        }
        return 0;
    }

    private static String counted(List<String> tables) {
        return tables.isEmpty()
                ? "and no tables"
                : tables.size() + (tables.size() == 1 ? " table (" : " tables (") + String.join(", ", tables) + ")";
    }
}
