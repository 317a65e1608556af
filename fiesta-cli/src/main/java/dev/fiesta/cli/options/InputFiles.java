package dev.fiesta.cli.options;

import dev.fiesta.Fiesta;
import dev.fiesta.Table;
import java.util.ArrayList;
import java.util.List;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;

/** The files that a command reads as one input, and how. */
public final class InputFiles {
    @Mixin
    private Reading reading;

    @Parameters(arity = "1..*", paramLabel = "FILE", description = "Files or globs; - is standard input.")
    private List<String> files = new ArrayList<>();

    public Table table(Fiesta fiesta) {
        return reading.table(fiesta, files);
    }

    /** The files as they were named. */
    @Override
    public String toString() {
        return String.join(", ", files);
    }
}
