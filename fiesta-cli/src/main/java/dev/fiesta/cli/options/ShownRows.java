package dev.fiesta.cli.options;

import picocli.CommandLine.Option;

/** How many rows are shown of a table in a window; written to a pipe or a file, all are. */
public final class ShownRows {
    @Option(
            names = "--rows",
            paramLabel = "N",
            description = "Most rows of a table in a window, 0 for all (default: " + Window.USUAL_ROWS + ").")
    public int most = -1;
}
