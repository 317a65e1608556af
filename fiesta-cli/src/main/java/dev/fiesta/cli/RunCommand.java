package dev.fiesta.cli;

import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.Tables;
import dev.fiesta.report.Brief;
import dev.fiesta.report.DataFile;
import dev.fiesta.report.Format;
import dev.fiesta.report.Report;
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
import picocli.CommandLine.Spec;

/** {@code fiesta run}. */
@Command(
        name = "run",
        description = "Runs a brief: tables on the terminal, or files.",
        mixinStandardHelpOptions = true,
        footer = {
            "",
            "Examples:",
            "  fiesta run takings.brief",
            "  fiesta run takings.brief --set from_day=2026-06-01 --set sites=Quay,Meadow",
            "  fiesta run takings.brief --out report --as html,csv",
            "  fiesta run takings.brief --table weekly --as csv > weekly.csv"
        })
final class RunCommand implements Callable<Integer> {
    /** Rows shown of each step. */
    static final int FIRST_ROWS = 3;

    @Spec
    private CommandSpec spec;

    @Mixin
    private Common common;

    @Mixin
    private Wanted wanted;

    @Option(names = "--out", paramLabel = "DIR", description = "The folder for files.")
    private @Nullable Path out;

    @Option(
            names = "--as",
            paramLabel = "FORMAT",
            split = ",",
            description =
                    "terminal, html, pdf, xlsx, markdown, csv, tsv, json, jsonl, svg, png; several with commas between.")
    private List<Format> as = new ArrayList<>();

    @Option(names = "--table", paramLabel = "NAME", description = "Only this table; may be given several times.")
    private List<String> tables = new ArrayList<>();

    @Option(
            names = "--guard",
            description = "In csv and tsv, put an apostrophe before texts that a spreadsheet takes for formulas.")
    private boolean guard;

    @Option(names = "--steps", description = "Show rows, fields and first rows after every clause of every table.")
    private boolean steps;

    @Override
    public Integer call() throws IOException {
        Brief brief = wanted.brief();
        List<Format> formats = as.isEmpty() ? List.of(out == null ? Format.TERMINAL : Format.HTML) : as;
        List<Format> files = formats.stream().filter(f -> f != Format.TERMINAL).toList();
        if (out == null && (files.size() > 1 || files.stream().anyMatch(f -> !f.isData() && f != Format.MARKDOWN))) {
            throw new IllegalArgumentException("Files need a folder: add --out DIR.");
        }
        PrintWriter to = spec.commandLine().getOut();
        try (Fiesta fiesta = common.open(spec.commandLine().getErr())) {
            if (steps) {
                showSteps(brief, fiesta, to);
                return 0;
            }
            Report report = run(brief, fiesta, formats);
            common.tell(report.results().values(), spec.commandLine().getErr());
            if (formats.contains(Format.TERMINAL)) {
                report.print(Window.terminal(brief.locale(), common.colour, 0), to);
            }
            if (out != null) {
                tell(report.writeTo(out, files, guard));
            } else if (!files.isEmpty()) {
                print(report, files.get(0), to);
            }
        }
        return 0;
    }

    private void showSteps(Brief brief, Fiesta fiesta, PrintWriter to) {
        Tables all = brief.check(fiesta);
        for (String table : tables.isEmpty() ? all.names() : tables) {
            Window.terminal(brief.locale(), common.colour, 0).steps(all.steps(table, FIRST_ROWS), to);
        }
        common.endProgress();
    }

    private Report run(Brief brief, Fiesta fiesta, List<Format> formats) {
        if (!tables.isEmpty()) {
            return brief.run(fiesta, tables);
        }
        return formats.stream().anyMatch(Format::isData) && out != null ? brief.runAll(fiesta) : brief.run(fiesta);
    }

    /** One table as text to standard output. */
    private void print(Report report, Format format, PrintWriter to) throws IOException {
        if (format == Format.MARKDOWN) {
            to.print(report.text(format));
            return;
        }
        if (report.results().size() != 1) {
            throw new IllegalArgumentException("Standard output takes one table, the brief shows "
                    + String.join(", ", report.results().keySet()) + ". Choose one with --table, or add --out DIR.");
        }
        Result only = report.results().values().iterator().next();
        DataFile.write(only, format, guard, to);
    }

    private void tell(List<Path> written) {
        if (!common.quiet) {
            written.forEach(f -> spec.commandLine().getErr().println("Written: " + f));
        }
    }
}
