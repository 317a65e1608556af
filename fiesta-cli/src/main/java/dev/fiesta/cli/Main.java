package dev.fiesta.cli;

import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import picocli.CommandLine;
import picocli.CommandLine.Command;

/** The {@code fiesta} command: each subcommand is a class of its own. */
@Command(
        name = "fiesta",
        description = "Reports from transaction records: exact figures, explained mistakes, results that repeat.",
        synopsisSubcommandLabel = "COMMAND",
        versionProvider = Version.class,
        mixinStandardHelpOptions = true,
        footer = {"", "Start with: fiesta demo"},
        subcommands = {
            DemoCommand.class,
            RunCommand.class,
            AskCommand.class,
            SurveyCommand.class,
            DraftCommand.class,
            CheckCommand.class,
            PlanCommand.class,
            BehindCommand.class,
            RepeatCommand.class,
            CompareCommand.class,
            WatchCommand.class,
            FormatCommand.class,
            HelpCommand.class
        })
public final class Main {
    private Main() {}

    /** Runs the command and ends the process with its exit status. */
    public static void main(String[] args) {
        PrintWriter out = new PrintWriter(System.out, false, StandardCharsets.UTF_8);
        PrintWriter err = new PrintWriter(System.err, true, StandardCharsets.UTF_8);
        System.exit(run(out, err, args));
    }

    /**
     * Runs the command.
     *
     * @param out where results go
     * @param err where everything else goes
     * @return the exit status
     */
    public static int run(PrintWriter out, PrintWriter err, String... args) {
        CommandLine line = new CommandLine(new Main());
        line.setOut(out);
        line.setErr(err);
        line.setExecutionExceptionHandler(new Failures());
        line.setCaseInsensitiveEnumValuesAllowed(true);
        int status = line.execute(args);
        out.flush();
        err.flush();
        return status;
    }
}
