package dev.fiesta.cli;

import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.Table;
import dev.fiesta.formats.ParquetTable;
import dev.fiesta.output.OutputFile;
import dev.fiesta.problem.RequestException;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
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
            "  fiesta copy takings.csv --to takings.parquet --input-options \"decimal comma\""
        })
final class CopyCommand implements Callable<Integer> {
    private static final String ENDING = ".parquet";

    @Spec
    private CommandSpec spec;

    @Mixin
    private Common common;

    @Mixin
    private InputFiles files;

    @Option(
            names = "--to",
            paramLabel = "FILE",
            required = true,
            description = "The copy: a file that ends in .parquet.")
    private Path to;

    @Option(
            names = "--along",
            paramLabel = "FIELD",
            description = "The order of its rows: questions for a part of it then pass over the rest.")
    private @Nullable String along;

    @Override
    public Integer call() {
        if (!to.toString().endsWith(ENDING)) {
            throw new RequestException(
                    "A copy is a file of columns: give it a name that ends in " + ENDING + ", not '" + to + "'.");
        }
        try (Fiesta fiesta = common.open(spec.commandLine().getErr())) {
            Table table = files.table(fiesta);
            Result records = (along == null ? table : table.sort(along)).run();
            OutputFile.writeBytes(to, out -> ParquetTable.write(records, out));
            common.tell(List.of(records), spec.commandLine().getErr());
            if (!common.quiet) {
                spec.commandLine().getErr().println("Written: " + to + ", " + records.rows() + " records");
            }
        }
        return 0;
    }
}
