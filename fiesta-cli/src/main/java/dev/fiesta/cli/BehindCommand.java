package dev.fiesta.cli;

import dev.fiesta.Behind;
import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.Tables;
import dev.fiesta.cli.options.Copying;
import dev.fiesta.cli.options.Crewing;
import dev.fiesta.cli.options.Failures;
import dev.fiesta.cli.options.ShownRows;
import dev.fiesta.cli.options.Wanted;
import dev.fiesta.cli.options.Window;
import dev.fiesta.problem.RequestException;
import dev.fiesta.report.DataFile;
import dev.fiesta.report.Format;
import dev.fiesta.report.Reporting;
import dev.fiesta.value.Texts;
import java.io.IOException;
import java.io.PrintWriter;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code fiesta behind}. */
@Command(
        name = "behind",
        description = "The records behind a row of a table, with the fields that made its figures first.",
        mixinStandardHelpOptions = true,
        footer = {
            "",
            "Examples:",
            "  fiesta behind takings.brief best site=Quay stall=006 kind=noodles",
            "  fiesta behind takings.brief weekly site=Quay week=2026-05-04 --as csv > records.csv",
            "  fiesta behind takings.brief by_kind --total",
            "  fiesta behind takings.brief weekly site=Quay week=2026-06-01 --figure moving"
        })
final class BehindCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;

    @Mixin
    private Copying common;

    @Mixin
    private Wanted wanted;

    @Mixin
    private Crewing crewing;

    @Parameters(index = "1", paramLabel = "TABLE", description = "The table.")
    private String table = "";

    @Parameters(
            index = "2..*",
            paramLabel = "KEY=VALUE",
            description = "The keys of the row; (missing) for a missing one. With some of them, a subtotal's records.")
    private List<String> keys = new ArrayList<>();

    @Option(names = "--total", description = "The records behind the grand total.")
    private boolean total;

    @Option(names = "--rest", description = "The records behind the row of 'rest as'.")
    private boolean rest;

    @Option(
            names = "--figure",
            paramLabel = "NAME",
            description = "For a moving figure: the rows of the table in its frame.")
    private @Nullable String figure;

    @Option(
            names = "--as",
            paramLabel = "FORMAT",
            description = "terminal, csv, tsv, json or jsonl (default: terminal).")
    private Format as = Format.TERMINAL;

    @Mixin
    private ShownRows rows;

    @Override
    public Integer call() throws IOException {
        if (total && rest) {
            throw new RequestException("Either --total or --rest: no row is both.");
        }
        Map<String, String> row = new LinkedHashMap<>();
        for (String key : keys) {
            int sign = key.indexOf('=');
            if (sign < 1) {
                throw new RequestException("Write keys as KEY=VALUE, not '" + key + "'.");
            }
            row.put(key.substring(0, sign), key.substring(sign + 1));
        }
        Brief brief = wanted.brief();
        PrintWriter err = spec.commandLine().getErr();
        try (Crewing.Joined crew = crewing.join(common.quiet ? null : err);
                Fiesta fiesta = common.open(err, crew)) {
            Tables tables = Reporting.of(brief).check(fiesta);
            Behind.Part part = total ? Behind.Part.TOTAL : rest ? Behind.Part.REST : Behind.Part.ROW;
            if (figure != null) {
                show(tables.trace().frame(table, row, figure), brief);
                return 0;
            }
            Behind behind = tables.trace().behind(table, row, part);
            show(behind.records(), brief);
            if (as == Format.TERMINAL) {
                foot(behind, spec.commandLine().getOut());
            }
            return behind.differing().isEmpty() ? 0 : Failures.CHECK;
        }
    }

    private void show(Result rowsBehind, Brief brief) throws IOException {
        common.endProgress();
        PrintWriter out = spec.commandLine().getOut();
        if (as == Format.TERMINAL) {
            Window.terminal(brief.locale(), common.colour, rows.most).table(rowsBehind, "", 0, out);
        } else {
            DataFile.write(rowsBehind, as, false, out);
        }
    }

    private static void foot(Behind behind, PrintWriter out) {
        int count = behind.records().rows();
        out.println();
        out.printf(Locale.ROOT, "%,d record%s%n", count, count == 1 ? "" : "s");
        behind.figures().forEach((name, value) -> {
            String proof = !behind.shown().containsKey(name)
                    ? ""
                    : behind.differing().contains(name)
                            ? "   the table shows " + text(behind.shown().get(name))
                            : "   as in the table";
            out.println("  " + name + " = " + text(value) + proof);
        });
    }

    private static String text(Object value) {
        return value == null ? "–" : Texts.printable(Texts.of(value));
    }
}
