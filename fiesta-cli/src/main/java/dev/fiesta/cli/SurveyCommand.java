package dev.fiesta.cli;

import dev.fiesta.Fiesta;
import dev.fiesta.cli.options.Common;
import dev.fiesta.cli.options.Crewing;
import dev.fiesta.cli.options.InputFiles;
import dev.fiesta.cli.options.Window;
import dev.fiesta.output.OutputFile;
import dev.fiesta.report.SurveyView;
import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Spec;

/** {@code fiesta survey}. */
@Command(
        name = "survey",
        description = "Looks at files: every field's type, gaps, values and oddities.",
        mixinStandardHelpOptions = true,
        footer = {
            "",
            "Examples:",
            "  fiesta survey sales.csv",
            "  fiesta survey 'sales-*.csv' --as html --out look",
            "  fiesta survey stalls.csv --fields >> takings.brief"
        })
final class SurveyCommand implements Callable<Integer> {
    /** What a survey can be written as. */
    enum As {
        TERMINAL,
        HTML,
        JSON
    }

    @Spec
    private CommandSpec spec;

    @Mixin
    private Common common;

    @Mixin
    private InputFiles files;

    @Mixin
    private Crewing crewing;

    @Option(names = "--fields", description = "Only the lines that declare the fields, to put in a brief.")
    private boolean fields;

    @Option(names = "--as", paramLabel = "FORMAT", description = "terminal, html or json (default: terminal).")
    private As as = As.TERMINAL;

    @Option(names = "--out", paramLabel = "DIR", description = "The folder for survey.html or survey.json.")
    private @Nullable Path out;

    @Override
    public Integer call() {
        PrintWriter to = spec.commandLine().getOut();
        PrintWriter err = spec.commandLine().getErr();
        try (Crewing.Joined crew = crewing.join(common.quiet ? null : err);
                Fiesta fiesta = common.open(err, crew)) {
            SurveyView view =
                    new SurveyView(files.toString(), files.table(fiesta).survey());
            if (fields) {
                to.print(view.fieldLines());
            } else if (as == As.TERMINAL) {
                Window.Size window = Window.size(common.colour);
                view.print(window.width(), window.coloured(), to);
            } else if (out == null) {
                to.print(as == As.HTML ? view.html() : view.json());
            } else {
                write(view, out);
            }
        }
        return 0;
    }

    private void write(SurveyView view, Path folder) {
        Path file = folder.resolve(as == As.HTML ? "survey.html" : "survey.json");
        OutputFile.write(file, to -> to.append(as == As.HTML ? view.html() : view.json()));
        if (!common.quiet) {
            spec.commandLine().getErr().println("Written: " + file);
        }
    }
}
