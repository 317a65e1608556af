package dev.fiesta.cli;

import dev.fiesta.Fiesta;
import dev.fiesta.Tables;
import dev.fiesta.report.Brief;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code fiesta check}. */
@Command(
        name = "check",
        description = "Looks for problems in a brief: reads headers and types, works out nothing.",
        mixinStandardHelpOptions = true)
final class CheckCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;

    @Mixin
    private Common common;

    @Parameters(paramLabel = "BRIEF", description = "The brief.")
    private Path brief;

    @Option(names = "--set", paramLabel = "NAME=VALUE", description = "A value for a parameter.")
    private Map<String, String> set = new LinkedHashMap<>();

    @Override
    public Integer call() {
        Brief wanted = Brief.read(brief);
        for (Map.Entry<String, String> value : set.entrySet()) {
            wanted = wanted.set(value.getKey(), value.getValue());
        }
        try (Fiesta fiesta = common.open()) {
            Tables tables = wanted.check(fiesta);
            if (!common.quiet) {
                spec.commandLine()
                        .getOut()
                        .println(brief.getFileName() + ": no problems, "
                                + tables.names().size() + (tables.names().size() == 1 ? " table (" : " tables (")
                                + String.join(", ", tables.names()) + ")");
            }
        }
        return 0;
    }
}
