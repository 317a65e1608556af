package dev.fiesta.cli;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.cli.options.Common;
import dev.fiesta.cli.options.Window;
import dev.fiesta.examples.Ribera;
import dev.fiesta.problem.RequestException;
import dev.fiesta.report.Format;
import dev.fiesta.report.Report;
import java.io.IOException;
import java.io.PrintWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.stream.Stream;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code fiesta demo}. */
@Command(
        name = "demo",
        description = "Writes the demo data and its brief into a folder, runs it, and says where to look.",
        mixinStandardHelpOptions = true)
final class DemoCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;

    @Mixin
    private Common common;

    @Parameters(
            arity = "0..1",
            paramLabel = "DIR",
            defaultValue = "ribera",
            description = "The folder (default: ribera).")
    private Path folder;

    @Override
    public Integer call() throws IOException {
        refuseForeign();
        Ribera.unpack(folder);
        PrintWriter out = spec.commandLine().getOut();
        Path file = folder.resolve("takings.brief");
        Brief brief = Brief.read(file);
        try (Fiesta fiesta = common.open(spec.commandLine().getErr())) {
            Report report = Report.of(brief, fiesta);
            common.tell(report.results().values(), spec.commandLine().getErr());
            List<Path> written = report.writeTo(folder, Format.HTML);
            report.print(Window.terminal(brief.locale(), common.colour, -1), out);
            out.println("The page:  " + written.get(0));
            out.println("The brief: " + file);
            out.println("The data:  " + folder.resolve("sales-2026-05.csv") + " and others");
            out.println();
            out.println("Change the brief and run it again: fiesta run " + file);
        }
        return 0;
    }

    /** What an earlier demo wrote, even one that was cut off. */
    private static boolean isOwn(Path file) {
        String name = file.getFileName().toString();
        return Ribera.FILES.contains(name) || name.startsWith(".fiesta-");
    }

    /** A folder with files of somebody else is left alone. */
    private void refuseForeign() throws IOException {
        boolean whole = Ribera.FILES.stream().allMatch(f -> Files.exists(folder.resolve(f)));
        if (Files.isDirectory(folder) && !whole) {
            try (Stream<Path> files = Files.list(folder)) {
                if (!files.allMatch(DemoCommand::isOwn)) {
                    throw new RequestException(
                            "The folder '" + folder + "' holds other files. Name another: fiesta demo DIR.");
                }
            }
        }
    }
}
