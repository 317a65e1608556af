package dev.fiesta.cli;

import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.Table;
import dev.fiesta.cli.options.Common;
import dev.fiesta.cli.options.Copying;
import dev.fiesta.cli.options.Reading;
import dev.fiesta.cli.options.Window;
import dev.fiesta.copy.Copies;
import dev.fiesta.output.OutputFile;
import dev.fiesta.parquet.ParquetTable;
import dev.fiesta.problem.RequestException;
import java.io.PrintWriter;
import java.math.BigDecimal;
import java.math.RoundingMode;
import java.nio.file.Path;
import java.time.LocalDateTime;
import java.time.ZoneId;
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

/** {@code fiesta copy}. */
@Command(
        name = "copy",
        description = "Copies records into a file of columns (Parquet), which keeps their types and is read faster.",
        mixinStandardHelpOptions = true,
        footer = {
            "",
            "Examples:",
            "  fiesta copy 'sales-*.csv' --to sales.parquet",
            "  fiesta copy 'sales-*.csv' --to sales.parquet --along sold_at",
            "  fiesta copy takings.csv --to takings.parquet --input-options \"decimal comma\"",
            "  fiesta copy --list"
        })
final class CopyCommand implements Callable<Integer> {
    private static final String ENDING = ".parquet";

    @Spec
    private CommandSpec spec;

    @Mixin
    private Common common;

    @Mixin
    private Reading reading;

    @Parameters(arity = "0..*", paramLabel = "FILE", description = "Files or globs; - is standard input.")
    private List<String> files = new ArrayList<>();

    @Option(names = "--to", paramLabel = "FILE", description = "The copy: a file that ends in .parquet.")
    private @Nullable Path to;

    @Option(
            names = "--along",
            paramLabel = "FIELD",
            description = "The order of its rows: questions for a part of it then pass over the rest.")
    private @Nullable String along;

    @Option(names = "--list", description = "List the copies that --copies keeps.")
    private boolean list;

    @Option(names = "--clear", description = "Remove the copies that --copies keeps.")
    private boolean clear;

    @Override
    public Integer call() {
        if (list || clear) {
            if (list && clear || !files.isEmpty() || to != null || along != null) {
                throw new RequestException("--list and --clear stand alone: fiesta copy --list, fiesta copy --clear.");
            }
            kept(Copying.ofUser(sentence -> {}), spec.commandLine().getOut());
            return 0;
        }
        copy(to());
        return 0;
    }

    private Path to() {
        if (files.isEmpty()) {
            throw new RequestException(
                    "The files to be copied are missing: fiesta copy FILE… --to FILE" + ENDING + ".");
        }
        if (to == null) {
            throw new RequestException("Where the copy goes is missing: add --to FILE" + ENDING + ".");
        }
        if (!to.toString().endsWith(ENDING)) {
            throw new RequestException(
                    "A copy is a file of columns: give it a name that ends in " + ENDING + ", not '" + to + "'.");
        }
        return to;
    }

    private void copy(Path place) {
        try (Fiesta fiesta = common.open(spec.commandLine().getErr())) {
            Table table = reading.table(fiesta, files);
            Result records = (along == null ? table : table.sort(along)).run();
            OutputFile.writeBytes(place, out -> new ParquetTable().write(records, out));
            common.tell(List.of(records), spec.commandLine().getErr());
            if (!common.quiet) {
                spec.commandLine().getErr().println("Written: " + place + ", " + records.rows() + " records");
            }
        }
    }

    /** Lists or removes the copies that are kept. */
    private void kept(Copies copies, PrintWriter out) {
        if (clear) {
            int removed = copies.clear();
            out.println(removed == 1 ? "1 copy was removed." : removed + " copies were removed.");
            return;
        }
        List<Line> lines = copies.list().stream().map(Line::of).toList();
        if (lines.isEmpty()) {
            out.println("No copies are kept. They are by: fiesta run BRIEF --copies");
            return;
        }
        try (Fiesta fiesta = Fiesta.open()) {
            Result table = fiesta.records(Line.class, lines)
                    .then(
                            "columns files 'Copy of', records 'Records' integer, megabytes 'MB' number 1, used 'Last used'")
                    .run();
            Window.terminal("en-IE", common.colour, 0).table(table, "", 0, out);
        }
        out.println();
        out.println("In " + copies.folder() + "; together they may take " + (copies.most() >> 30) + " GB.");
    }

    /** A copy as it is listed. */
    record Line(String files, long records, BigDecimal megabytes, LocalDateTime used) {
        static Line of(Copies.Kept copy) {
            String first = copy.files().get(0);
            int more = copy.files().size() - 1;
            return new Line(
                    more == 0 ? first : first + " and " + more + " more",
                    copy.records(),
                    BigDecimal.valueOf(copy.bytes(), 6).setScale(1, RoundingMode.CEILING),
                    LocalDateTime.ofInstant(copy.used(), ZoneId.systemDefault())
                            .withNano(0)
                            .withSecond(0));
        }
    }
}
