package dev.fiesta.cli;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.Moved;
import dev.fiesta.cli.options.Failures;
import dev.fiesta.cli.options.OneFigure;
import dev.fiesta.cli.options.Speaking;
import dev.fiesta.cli.options.Window;
import dev.fiesta.output.OutputFile;
import dev.fiesta.problem.RequestException;
import dev.fiesta.report.Compared;
import dev.fiesta.report.Comparison;
import dev.fiesta.report.ComparisonView;
import dev.fiesta.report.DataFile;
import dev.fiesta.report.Format;
import dev.fiesta.report.MovedView;
import dev.fiesta.report.Reporting;
import java.io.IOException;
import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
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
            "  fiesta compare old.csv new.csv --key site,stall",
            "",
            "With --parts, what moved a sum, count, mean or ratio, group by group: between two runs, or two periods of a brief.",
            "",
            "  fiesta compare june july --parts --table by_kind --figure takings",
            "  fiesta compare takings.brief --parts --table weekly --figure takings --period week --between 2026-06-01 2026-06-08"
        })
final class CompareCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;

    @Parameters(
            index = "0",
            paramLabel = "A",
            description = "The first: a run record or its folder, a csv file, or a folder; with --period a brief.")
    private Path first = Path.of("");

    @Parameters(index = "1", arity = "0..1", paramLabel = "B", description = "The second.")
    private @Nullable Path second;

    @Option(
            names = "--key",
            split = ",",
            paramLabel = "FIELD",
            description = "The fields that make a row the one it is.")
    private List<String> keys = new ArrayList<>();

    @Option(
            names = "--as",
            paramLabel = "FORMAT",
            description = "terminal, csv, json or html, with --parts also tsv and jsonl (default: terminal).")
    private Format as = Format.TERMINAL;

    @Option(
            names = "--out",
            paramLabel = "DIR",
            description =
                    "The folder for comparison.html, .csv or .json; with --parts for parts.html, .csv and others.")
    private @Nullable Path out;

    @Mixin
    private OneFigure one;

    @Option(
            names = "--period",
            paramLabel = "KEY",
            description = "With --parts: the key of a brief's table that tells the two sides.")
    private @Nullable String period;

    @Option(
            names = "--between",
            arity = "2",
            paramLabel = "VALUE",
            description = "With --period: its earlier and its later value.")
    private List<String> between = new ArrayList<>();

    @Option(
            names = "--set",
            paramLabel = "NAME=VALUE",
            description = "With --period: a value for a parameter of the brief.")
    private Map<String, String> set = new LinkedHashMap<>();

    @Mixin
    private Speaking speaking;

    @Override
    public Integer call() throws IOException {
        one.check();
        if (one.isAsked()) {
            return parts(one.table(), one.figure());
        }
        if (period != null || !between.isEmpty() || !set.isEmpty()) {
            throw new RequestException("--period, --between and --set say something with --parts only.");
        }
        if (second == null) {
            throw new RequestException("B is missing: fiesta compare A B. See: fiesta help compare");
        }
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

    /** What moved a figure, group by group; ends with 1 when it moved, as a comparison does. */
    private int parts(String table, String figure) throws IOException {
        boolean shown = as == Format.TERMINAL || as == Format.HTML;
        if (!shown && !as.isData() || as.isBinary()) {
            throw new RequestException("--parts answers as terminal, html, csv, tsv, json or jsonl.");
        }
        try (Fiesta fiesta = speaking.open(spec.commandLine().getErr())) {
            Moved moved = moved(fiesta, table, figure);
            speaking.endProgress();
            String told = period == null ? "" : period + " " + between.get(0) + " to " + between.get(1);
            MovedView view = new MovedView(moved, figure, told);
            if (out != null) {
                as = as == Format.TERMINAL ? Format.HTML : as;
                Path file = out.resolve("parts." + as.ending());
                OutputFile.write(file, to -> write(moved, view, to));
                if (!speaking.quiet) {
                    spec.commandLine().getErr().println("Written: " + file);
                }
            } else if (as == Format.TERMINAL) {
                view.print(
                        Window.terminal("en-IE", speaking.colour, -1),
                        spec.commandLine().getOut());
            } else {
                write(moved, view, spec.commandLine().getOut());
            }
            boolean same = Objects.equals(moved.before(), moved.after());
            return same ? 0 : Failures.CHECK;
        }
    }

    private Moved moved(Fiesta fiesta, String ofTable, String ofFigure) {
        if (period == null) {
            if (second == null) {
                throw new RequestException(
                        "The parts are those between two runs, or of a brief with --period KEY --between A B.");
            }
            return Compared.moved(first, second, ofTable, ofFigure, fiesta);
        }
        if (second != null || between.size() != 2) {
            throw new RequestException("--period is a key of one brief, and --between has two of its values.");
        }
        Brief brief = Brief.read(first);
        for (Map.Entry<String, String> value : set.entrySet()) {
            brief = brief.set(value.getKey(), value.getValue());
        }
        return Moved.within(
                Reporting.of(brief).check(fiesta).trace().side(ofTable, ofFigure),
                period,
                between.get(0),
                between.get(1));
    }

    private void write(Moved moved, MovedView view, Appendable to) throws IOException {
        if (as == Format.HTML) {
            to.append(view.page());
        } else {
            DataFile.write(moved.parts(moved.exactDigits()), as, false, to);
        }
    }

    private void write(ComparisonView view, Appendable to) throws IOException {
        switch (as) {
            case CSV -> view.writeCsv(to);
            case JSON -> to.append(view.json());
            case HTML ->
                to.append(view.page(first.getFileName() + " and "
                        + Objects.requireNonNull(second).getFileName()));
            default -> throw new RequestException("'compare' shows differences as terminal, csv, json or html.");
        }
    }
}
