package dev.fiesta.cli;

import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.StepLook;
import dev.fiesta.Table;
import dev.fiesta.cli.options.Copying;
import dev.fiesta.cli.options.Crewing;
import dev.fiesta.cli.options.Reading;
import dev.fiesta.cli.options.ShownRows;
import dev.fiesta.cli.options.Window;
import dev.fiesta.language.Keywords;
import dev.fiesta.problem.RequestException;
import dev.fiesta.report.DataFile;
import dev.fiesta.report.Format;
import dev.fiesta.report.Terminal;
import java.io.IOException;
import java.io.PrintWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code fiesta ask}. */
@Command(
        name = "ask",
        description = "Answers a question to files, without a brief.",
        customSynopsis = "fiesta ask [OPTIONS] FILE… 'CLAUSES'",
        mixinStandardHelpOptions = true,
        footer = {
            "",
            "Examples:",
            "  fiesta ask sales.csv 'per site give takings = sum(amount) sort takings desc'",
            "  fiesta ask 'sales-*.csv' \"only status = 'settled' per item\" --as csv",
            "  cat sales.csv | fiesta ask - 'first 5'"
        })
final class AskCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;

    @Mixin
    private Copying common;

    @Mixin
    private Reading reading;

    @Mixin
    private Crewing crewing;

    @Parameters(
            arity = "1..*",
            paramLabel = "WORD",
            description = "Files or globs (- for standard input), then the clauses in quotes.")
    private List<String> words = new ArrayList<>();

    @Option(
            names = "--as",
            paramLabel = "FORMAT",
            description = "terminal, csv, tsv, json or jsonl (default: terminal).")
    private Format as = Format.TERMINAL;

    @Mixin
    private ShownRows rows;

    @Option(
            names = "--spreadsheet-safe",
            description = "In csv and tsv, put an apostrophe before texts that a spreadsheet takes for formulas.")
    private boolean guard;

    @Option(names = "--steps", description = "Show rows, fields and first rows after every clause.")
    private boolean steps;

    @Override
    public Integer call() throws IOException {
        if (as != Format.TERMINAL && (!as.isData() || as.isBinary())) {
            throw new RequestException(
                    "'ask' answers as terminal, csv, tsv, json or jsonl; for a document write a brief and use 'fiesta run'.");
        }
        String clauses = words.get(words.size() - 1);
        if (words.size() == 1) {
            throw new RequestException("What is to be asked is missing. It stands last, in quotes: fiesta ask "
                    + clauses + " 'per FIELD give n = count()'. The fields are told by: fiesta survey " + clauses);
        }
        refuseUnquoted();
        PrintWriter err = spec.commandLine().getErr();
        try (Crewing.Joined crew = crewing.join(common.quiet ? null : err);
                Fiesta fiesta = common.open(err, crew)) {
            Table table =
                    reading.table(fiesta, words.subList(0, words.size() - 1)).then(clauses);
            if (steps) {
                PrintWriter out = spec.commandLine().getOut();
                List<StepLook> looks = table.steps(RunCommand.FIRST_ROWS);
                common.endProgress();
                Window.terminal("en-IE", common.colour, 0).steps(looks, out);
                return 0;
            }
            Result result = table.runShown();
            common.tell(List.of(result), spec.commandLine().getErr());
            show(result, spec.commandLine().getOut());
            return 0;
        }
    }

    /** Clauses without quotes come as many words, of which all but the last would be taken for files. */
    private void refuseUnquoted() {
        for (int i = 1; i < words.size() - 1; i++) {
            if (Keywords.CLAUSES.contains(words.get(i)) && !Files.exists(Path.of(words.get(i)))) {
                throw new RequestException(
                        "The clauses stand in one pair of quotes: fiesta ask " + String.join(" ", words.subList(0, i))
                                + " '" + String.join(" ", words.subList(i, words.size())) + "'");
            }
        }
    }

    private void show(Result result, PrintWriter out) throws IOException {
        if (as.isData()) {
            DataFile.write(result, as, guard, out);
            return;
        }
        Terminal terminal = Window.terminal("en-IE", common.colour, rows.most);
        terminal.table(result, "", 0, out);
    }
}
