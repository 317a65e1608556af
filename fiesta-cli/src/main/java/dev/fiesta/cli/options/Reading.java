package dev.fiesta.cli.options;

import dev.fiesta.Fiesta;
import dev.fiesta.Table;
import java.util.List;
import picocli.CommandLine.Option;

/** How files are read that no brief speaks of. */
public final class Reading {
    @Option(
            names = "--input-options",
            paramLabel = "OPTIONS",
            description = "Options of the input as a brief has them, in quotes: \"delimiter ';' skip 2\".")
    private String options = "";

    /** What was told. */
    public String options() {
        return options;
    }

    public Table table(Fiesta fiesta, List<String> files) {
        return table(fiesta, files, "");
    }

    /** @param more options behind those that were told */
    public Table table(Fiesta fiesta, List<String> files, String more) {
        return fiesta.readAll(files, options + "\n" + more);
    }
}
