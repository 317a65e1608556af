package dev.fiesta.cli;

import dev.fiesta.output.OutputFile;
import dev.fiesta.problem.RequestException;
import dev.fiesta.report.Compared;
import dev.fiesta.report.Comparison;
import dev.fiesta.report.ComparisonView;
import dev.fiesta.report.Format;
import java.io.IOException;
import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code fiesta compare}. */
@Command(
        name = "compare",
        description =
                "Compares two runs, two csv files or two folders of them: rows only here or there, and figures that moved.",
        mixinStandardHelpOptions = true,
        footer = {
            "",
            "Ends with 0 when nothing differs, with 1 when something does.",
            "",
            "Examples:",
            "  fiesta compare june/run.json july/run.json",
            "  fiesta compare old.csv new.csv --key site,stall"
        })
final class CompareCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;

    @Parameters(
            index = "0",
            paramLabel = "A",
            description = "The first: a run record or its folder, a csv file, or a folder.")
    private Path first = Path.of("");

    @Parameters(index = "1", paramLabel = "B", description = "The second.")
    private Path second = Path.of("");

    @Option(
            names = "--key",
            split = ",",
            paramLabel = "FIELD",
            description = "The fields that make a row the one it is.")
    private List<String> keys = new ArrayList<>();

    @Option(names = "--as", paramLabel = "FORMAT", description = "terminal, csv, json or html (default: terminal).")
    private Format as = Format.TERMINAL;

    @Option(names = "--out", paramLabel = "DIR", description = "The folder for comparison.html, .csv or .json.")
    private @Nullable Path out;

    @Mixin
    private Speaking speaking;

    @Override
    public Integer call() throws IOException {
        List<Comparison> tables = Compared.of(first, second, keys);
        ComparisonView view = new ComparisonView(tables);
        if (out == null) {
            PrintWriter to = spec.commandLine().getOut();
            if (as == Format.TERMINAL) {
                view.print(to, Window.size(speaking.colour).coloured());
            } else {
                write(view, to);
            }
        } else {
            as = as == Format.TERMINAL ? Format.HTML : as;
            Path file = out.resolve("comparison." + as.ending());
            OutputFile.write(file, to -> write(view, to));
            if (!speaking.quiet) {
                spec.commandLine().getErr().println("Written: " + file);
            }
        }
        return tables.stream().allMatch(Comparison::isEqual) ? 0 : Failures.CHECK;
    }

    private void write(ComparisonView view, Appendable to) throws IOException {
        switch (as) {
            case CSV -> view.writeCsv(to);
            case JSON -> to.append(view.json());
            case HTML -> to.append(view.page(first.getFileName() + " and " + second.getFileName()));
            default -> throw new RequestException("'compare' shows differences as terminal, csv, json or html.");
        }
    }
}
