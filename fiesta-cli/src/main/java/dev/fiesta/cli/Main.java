package dev.fiesta.cli;

import dev.fiesta.cli.help.CompletionCommand;
import dev.fiesta.cli.help.HelpCommand;
import dev.fiesta.cli.options.Failures;
import dev.fiesta.cli.options.StandardOutput;
import dev.fiesta.cli.options.Utf8Printer;
import dev.fiesta.cli.options.Window;
import dev.fiesta.problem.MachineException;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Supplier;
import picocli.CommandLine;
import picocli.CommandLine.Command;

/** The {@code fiesta} command: each subcommand is a class of its own. */
@Command(
        name = "fiesta",
        description = "Reports from transaction records: exact figures, explained mistakes, results that repeat.",
        synopsisSubcommandLabel = "COMMAND",
        versionProvider = Version.class,
        mixinStandardHelpOptions = true,
        header = {
            "A month's report, step by step:",
            "  fiesta survey sales.csv                  look at what came in",
            "  fiesta ask sales.csv 'per site'          ask, step after step",
            "  fiesta try sales.csv                     try, look, go back, save what is good",
            "  fiesta draft sales.csv > sales.brief     have a first brief written",
            "  fiesta run sales.brief --out report      run it, change it, run it again",
            "  fiesta repeat report/run.json            prove it, or see what has moved",
            ""
        },
        footer = {"", "Made-up data to try it on: fiesta demo. Any word of a brief: fiesta help WORD."})
public final class Main {
    private static final Map<String, Supplier<Object>> COMMANDS = new LinkedHashMap<>();

    static {
        COMMANDS.put("demo", DemoCommand::new);
        COMMANDS.put("run", RunCommand::new);
        COMMANDS.put("ask", AskCommand::new);
        COMMANDS.put("survey", SurveyCommand::new);
        COMMANDS.put("try", TryCommand::new);
        COMMANDS.put("copy", CopyCommand::new);
        COMMANDS.put("draft", DraftCommand::new);
        COMMANDS.put("check", CheckCommand::new);
        COMMANDS.put("plan", PlanCommand::new);
        COMMANDS.put("behind", BehindCommand::new);
        COMMANDS.put("repeat", RepeatCommand::new);
        COMMANDS.put("compare", CompareCommand::new);
        COMMANDS.put("watch", WatchCommand::new);
        COMMANDS.put("member", MemberCommand::new);
        COMMANDS.put("format", FormatCommand::new);
        COMMANDS.put("language-server", LanguageServerCommand::new);
        COMMANDS.put("help", HelpCommand::new);
        COMMANDS.put("completion", CompletionCommand::new);
    }

    /** Commands that speak of the others. */
    private static final Set<String> ALL_NEEDED = Set.of("help", "completion");

    /** Briefs may chain thousands of tables; only what is used of a stack takes memory. */
    private static final long STACK = 256 << 20;

    private Main() {}

    /** Runs the command and ends the process with its exit status. */
    public static void main(String[] args) {
        // Both would be looked for in every jar, which takes as long as a small question.
        System.setProperty("picocli.disable.closures", "true");
        System.setProperty("slf4j.provider", "org.slf4j.jul.JULServiceProvider");
        PrintWriter out = new Utf8Printer(new StandardOutput());
        PrintWriter err = new PrintWriter(System.err, true, StandardCharsets.UTF_8);
        int[] status = {Failures.MACHINE};
        Thread main = new Thread(null, () -> status[0] = run(out, err, args), "fiesta", STACK);
        main.start();
        try {
            main.join();
        } catch (InterruptedException e) {
            status[0] = Failures.INTERRUPTED;
        }
        System.exit(status[0]);
    }

    /**
     * Runs the command.
     *
     * @param out where results go
     * @param err where everything else goes
     * @return the exit status
     */
    public static int run(PrintWriter out, PrintWriter err, String... words) {
        CommandLine line = new CommandLine(new Main());
        String[] args = commandFirst(words);
        commands(args).forEach((name, command) -> line.addSubcommand(name, command.get()));
        line.setOut(out);
        line.setErr(err);
        line.setExecutionExceptionHandler(new Failures());
        line.setParameterExceptionHandler(new WrongUse());
        line.setCaseInsensitiveEnumValuesAllowed(true);
        line.setUsageHelpWidth(Window.helpWidth());
        int status = execute(line, args);
        try {
            out.flush();
        } catch (StandardOutput.ReaderGone | MachineException e) {
            // What failed once was told then, and fails again here.
            status = status == 0 ? Failures.tell(e, err) : status;
        }
        err.flush();
        return status;
    }

    private static int execute(CommandLine line, String[] args) {
        try {
            return line.execute(args);
        } catch (OutOfMemoryError e) {
            String told = MachineException.memory("what was asked", "ask for less at once");
            return Failures.tell(new MachineException(told, e), line.getErr());
        }
    }

    /** The command with all its subcommands, for what speaks of them. */
    static CommandLine all() {
        CommandLine line = new CommandLine(new Main());
        COMMANDS.forEach((name, command) -> line.addSubcommand(name, command.get()));
        return line;
    }

    /** Options may stand before the command too. */
    private static String[] commandFirst(String[] words) {
        int command = 0;
        while (command < words.length && !COMMANDS.containsKey(words[command])) {
            command++;
        }
        boolean moved = command > 0 && command < words.length && words[0].startsWith("-");
        if (!moved) {
            return words;
        }
        List<String> all = new ArrayList<>(List.of(words));
        all.add(0, all.remove(command));
        return all.toArray(String[]::new);
    }

    /** The command that the arguments begin with, so that the others need not be looked at; all where none is named or help is. */
    private static Map<String, Supplier<Object>> commands(String[] args) {
        boolean all = args.length == 0 || ALL_NEEDED.contains(args[0]);
        Supplier<Object> named = all ? null : COMMANDS.get(args[0]);
        return named == null ? COMMANDS : Map.of(args[0], named);
    }
}
