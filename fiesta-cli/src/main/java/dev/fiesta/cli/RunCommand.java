package dev.fiesta.cli;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.StepLook;
import dev.fiesta.Tables;
import dev.fiesta.cli.options.Copying;
import dev.fiesta.cli.options.Crewing;
import dev.fiesta.cli.options.EachPart;
import dev.fiesta.cli.options.ShownRows;
import dev.fiesta.cli.options.Wanted;
import dev.fiesta.cli.options.Window;
import dev.fiesta.formats.JdbcDatabases;
import dev.fiesta.output.FileNames;
import dev.fiesta.output.OutputFolder;
import dev.fiesta.problem.CheckException;
import dev.fiesta.problem.RequestException;
import dev.fiesta.report.DataFile;
import dev.fiesta.report.Format;
import dev.fiesta.report.Report;
import dev.fiesta.report.Reporting;
import dev.fiesta.report.RunRecord;
import dev.fiesta.value.Texts;
import java.io.IOException;
import java.io.PrintWriter;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
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
            "  fiesta run takings.brief --table weekly --as csv > weekly.csv",
            "  fiesta run takings.brief --table weekly --into shop.weekly"
        })
final class RunCommand implements Callable<Integer> {
    /** Rows shown of each step. */
    static final int FIRST_ROWS = 3;

    @Spec
    private CommandSpec spec;

    @Mixin
    private Copying common;

    @Mixin
    private Wanted wanted;

    @Mixin
    private Crewing crewing;

    @Option(
            names = "--out",
            paramLabel = "DIR",
            description = "The folder for files and the run record; {:name} stands for a parameter.")
    private @Nullable Path out;

    @Option(
            names = "--as",
            paramLabel = "FORMAT",
            split = ",",
            description =
                    "terminal, html, pdf, xlsx, markdown, csv, tsv, json, jsonl, parquet, svg, png; several with commas between.")
    private List<Format> as = new ArrayList<>();

    @Option(names = "--table", paramLabel = "NAME", description = "Only this table; may be given several times.")
    private List<String> tables = new ArrayList<>();

    @Option(
            names = "--spreadsheet-safe",
            description = "In csv and tsv, put an apostrophe before texts that a spreadsheet takes for formulas.")
    private boolean guard;

    @Mixin
    private ShownRows rows;

    @Option(names = "--steps", description = "Show rows, fields and first rows after every clause of every table.")
    private boolean steps;

    @Option(names = "--no-kept-tables", description = "With --out, do not keep the tables beside the run record.")
    private boolean noTables;

    @Option(
            names = "--behind",
            paramLabel = "N",
            description = "On the page, let each row open up to N of the records behind it.")
    private int behind;

    @Option(
            names = "--each",
            paramLabel = "NAME",
            description =
                    "Run once for each value of a parameter, into a folder for each; values from --set, or from the field "
                            + "of that name.")
    private @Nullable String each;

    @Option(
            names = "--into",
            paramLabel = "PLACE",
            description =
                    "Write the one table into a database, all of it or nothing: its connection, a point, the table's name.")
    private @Nullable String into;

    @Option(names = "--replace", description = "With --into, put it in the place of a table that is there already.")
    private boolean replace;

    @Override
    public Integer call() throws IOException {
        Brief brief = wanted.brief(each);
        List<Format> formats = as.isEmpty() ? List.of(out == null ? Format.TERMINAL : Format.HTML) : as;
        List<Format> files = formats.stream().filter(f -> f != Format.TERMINAL).toList();
        if (out == null
                && (files.size() > 1
                        || files.stream().anyMatch(f -> f.isBinary() || !f.isData() && f != Format.MARKDOWN))) {
            throw new RequestException("Files need a folder: add --out DIR.");
        }
        if (each != null && out == null) {
            throw new RequestException("--each writes a folder for each value: add --out DIR.");
        }
        refuseInto();
        PrintWriter err = spec.commandLine().getErr();
        try (Crewing.Joined crew = crewing.join(common.quiet ? null : err);
                Fiesta fiesta = common.open(err, crew)) {
            List<Brief> briefs =
                    each == null ? List.of(brief) : new EachPart(brief, each, wanted.values(each)).briefs(fiesta);
            if (each != null && !brief.choosesFiles(each)) {
                run(briefs.stream().map(Reporting::of).toList(), fiesta, formats, files);
            } else {
                for (Brief one : briefs) {
                    run(List.of(Reporting.of(one)), fiesta, formats, files);
                }
            }
        }
        return 0;
    }

    private void refuseInto() {
        if (into != null && each != null) {
            throw new RequestException("--into writes one table, and --each makes several: leave one of them out.");
        }
        if (replace && into == null) {
            throw new RequestException("--replace says something with --into only.");
        }
    }

    /** Runs briefs that differ in a parameter only, over inputs that are read once. */
    private void run(List<Reporting> briefs, Fiesta fiesta, List<Format> formats, List<Format> files)
            throws IOException {
        Instant started = Instant.now();
        List<Tables> checked = new ArrayList<>();
        for (Reporting brief : briefs) {
            checked.add(checked.isEmpty() ? brief.check(fiesta) : brief.check(checked.get(0), checked.size()));
        }
        Reporting first = briefs.get(0);
        if (steps) {
            showSteps(first, checked.get(0), spec.commandLine().getOut());
            return;
        }
        List<Report> reports;
        try {
            reports = Reporting.runTogether(briefs, checked, wanted(first, checked.get(0), formats));
        } catch (CheckException e) {
            if (out != null) {
                try (OutputFolder folder = OutputFolder.open(folder(checked.get(0)))) {
                    first.record(e, checked.get(0), folder, started);
                    folder.finish();
                }
                tell(List.of(folder(checked.get(0)).resolve(RunRecord.FILE)));
            }
            throw e;
        }
        if (briefs.size() > 1 && hasCounts(reports.get(0))) {
            // What was counted and checked is that of all together, and a reader of one shall see only his own.
            for (Reporting one : briefs) {
                run(List.of(one), fiesta, formats, files);
            }
            return;
        }
        common.tell(reports.get(0).results().values(), spec.commandLine().getErr());
        if (out == null) {
            common.tellAsides(
                    reports.get(0).outcome().asides().values(),
                    spec.commandLine().getErr());
        }
        for (int i = 0; i < briefs.size(); i++) {
            write(briefs.get(i), reports.get(i).withBehind(behind), checked.get(i), started, formats, files);
        }
    }

    private static boolean hasCounts(Report report) {
        return report.results().values().stream()
                .map(Result::notices)
                .anyMatch(n -> !n.list().isEmpty() || !n.warnings().isEmpty());
    }

    private void write(
            Reporting reporting,
            Report report,
            Tables checked,
            Instant started,
            List<Format> formats,
            List<Format> files)
            throws IOException {
        Brief brief = reporting.brief();
        PrintWriter to = spec.commandLine().getOut();
        if (out == null) {
            intoDatabase(brief, report);
        } else { // first, so that a reader of the terminal's tables who has seen enough cuts no file off
            Path place = folder(checked);
            try (OutputFolder folder = OutputFolder.open(place)) {
                report.writeTo(folder, files, guard);
                reporting.record(report, folder, started, !noTables);
                List<String> written = folder.names();
                intoDatabase(brief, report);
                folder.finish();
                tell(written.stream()
                        .filter(n -> !RunRecord.isKept(n))
                        .map(place::resolve)
                        .toList());
            }
        }
        if (formats.contains(Format.TERMINAL)) {
            report.print(Window.terminal(brief.locale(), common.colour, rows.most), to);
        } else if (out == null && !files.isEmpty()) {
            print(report, files.get(0), to);
        }
    }

    /** The folder, its name filled with parameters; with --each, one in it for the value. */
    private Path folder(Tables tables) {
        String wanted = Objects.requireNonNull(out).toString();
        Path folder = Path.of(tables.fill(wanted, FileNames::of));
        if (each == null || wanted.contains("{:" + each + "}")) {
            return folder;
        }
        String value = String.join(", ", tables.parameterValues().getOrDefault(each, List.of(Texts.MISSING_KEY)));
        return folder.resolve(FileNames.of(value));
    }

    private void showSteps(Reporting reporting, Tables all, PrintWriter to) {
        for (String table : tables.isEmpty() ? all.names() : tables) {
            List<StepLook> looks = all.trace().steps(table, FIRST_ROWS);
            common.endProgress();
            Window.terminal(reporting.brief().locale(), common.colour, 0).steps(looks, to);
        }
    }

    private List<String> wanted(Reporting brief, Tables checked, List<Format> formats) {
        if (!tables.isEmpty()) {
            Reporting.refuseUnknown(checked, tables);
            return tables;
        }
        boolean all = formats.stream().anyMatch(Format::isData) && out != null;
        return all ? brief.all(checked) : brief.wanted(checked);
    }

    /** One table as text to standard output. */
    private void print(Report report, Format format, PrintWriter to) throws IOException {
        if (format == Format.MARKDOWN) {
            to.print(report.text(format));
            return;
        }
        DataFile.write(only(report, "Standard output", ", or add --out DIR"), format, guard, to);
    }

    private void intoDatabase(Brief brief, Report report) {
        if (into != null) {
            Result table = only(report, "--into", "");
            long rows = JdbcDatabases.ofUser().write(table, into, replace, brief.folder());
            if (!common.quiet) {
                spec.commandLine().getErr().println("Written: " + into + ", " + rows + (rows == 1 ? " row" : " rows"));
            }
        }
    }

    private static Result only(Report report, String what, String otherwise) {
        if (report.results().size() != 1) {
            throw new RequestException(what + " takes one table, the brief shows "
                    + String.join(", ", report.results().keySet()) + ". Choose one with --table" + otherwise + ".");
        }
        return report.results().values().iterator().next();
    }

    private void tell(List<Path> written) {
        if (!common.quiet) {
            written.forEach(f -> spec.commandLine().getErr().println("Written: " + f));
        }
    }
}
