package dev.fiesta.cli;

import dev.fiesta.Fiesta;
import dev.fiesta.cli.options.Common;
import dev.fiesta.cli.options.Reading;
import dev.fiesta.report.Draft;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code fiesta draft}. */
@Command(
        name = "draft",
        description = "Writes a first brief for files, to be changed.",
        mixinStandardHelpOptions = true,
        footer = {"", "Example:", "  fiesta draft 'sales-*.csv' > sales.brief"})
final class DraftCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;

    @Mixin
    private Common common;

    @Mixin
    private Reading reading;

    @Parameters(
            arity = "1..*",
            paramLabel = "FILE",
            description = "Files or globs, as the brief is to name them: from the folder it will stand in.")
    private List<String> files = new ArrayList<>();

    @Override
    public Integer call() {
        try (Fiesta fiesta = common.open(spec.commandLine().getErr())) {
            Draft draft = Draft.of(
                    name(files.get(0)),
                    files,
                    reading.options(),
                    options -> reading.table(fiesta, files, options).survey());
            spec.commandLine().getOut().print(draft.text());
        }
        return 0;
    }

    /** A name for the input: the file's up to the first sign that no name has. */
    static String name(String file) {
        String last = file.substring(file.lastIndexOf('/') + 1);
        String name = last.replaceFirst("[^\\p{L}_].*$", "");
        return name.isEmpty() ? "records" : name;
    }
}
