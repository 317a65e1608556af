package dev.fiesta.cli;

import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.formats.JsonLines;
import dev.fiesta.problem.Notices;
import java.io.PrintWriter;
import java.util.Collection;
import picocli.CommandLine.Option;

/** Options that all commands that calculate share. */
final class Common {
    @Option(
            names = "--threads",
            paramLabel = "N",
            description = "Threads that read and calculate (default: all processors).")
    int threads = Runtime.getRuntime().availableProcessors();

    @Option(names = "--quiet", description = "Tell problems only.")
    boolean quiet;

    @Option(names = "--colour", paramLabel = "WHEN", description = "auto, always or never (default: auto).")
    Window.Colour colour = Window.Colour.AUTO;

    Fiesta open() {
        return Fiesta.with().threads(threads).reads(JsonLines.FORMAT).open();
    }

    /** Tells what a run counted, a line each. */
    void notices(Collection<Result> results, PrintWriter err) {
        if (quiet || results.isEmpty()) {
            return;
        }
        Notices notices = results.iterator().next().notices();
        notices.warnings().forEach(err::println);
        notices.list().forEach(n -> err.println("Note: " + n.text() + "."));
    }
}
