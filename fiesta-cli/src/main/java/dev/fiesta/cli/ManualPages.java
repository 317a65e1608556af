package dev.fiesta.cli;

import dev.fiesta.output.OutputFolder;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import picocli.CommandLine;
import picocli.CommandLine.Help;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Model.OptionSpec;
import picocli.CommandLine.Model.PositionalParamSpec;

/** Manual pages of the command and of each of its subcommands, made from their help; and what shells need to complete them. */
public final class ManualPages {
    private ManualPages() {}

    /**
     * Writes them into two folders, {@code man1} and {@code completion}.
     *
     * @param args the folder that these are put into
     */
    public static void main(String[] args) {
        Path folder = Path.of(args[0]);
        CommandLine main = Main.all();
        try (OutputFolder pages = OutputFolder.open(folder.resolve("man1"))) {
            pages.write("fiesta.1", out -> out.append(page(main.getCommandSpec(), "fiesta")));
            for (var command : main.getSubcommands().entrySet()) {
                String name = "fiesta-" + command.getKey();
                pages.write(
                        name + ".1", out -> out.append(page(command.getValue().getCommandSpec(), name)));
            }
            pages.finish();
        }
        try (OutputFolder shells = OutputFolder.open(folder.resolve("completion"))) {
            for (String shell : List.of("bash", "fish")) {
                shells.write("fiesta." + shell, out -> out.append(completion(shell)));
            }
            shells.finish();
        }
    }

    private static String completion(String shell) {
        StringWriter text = new StringWriter();
        PrintWriter out = new PrintWriter(text);
        int status = Main.run(out, new PrintWriter(new StringWriter()), "completion", shell);
        if (status != 0) {
            throw new IllegalStateException("there is no completion for " + shell);
        }
        out.flush();
        return text.toString();
    }

    /** One page. */
    static String page(CommandSpec command, String name) {
        Help help = command.commandLine().getHelp();
        StringBuilder page = new StringBuilder();
        String[] about = command.usageMessage().description();
        page.append(".TH \"")
                .append(name.toUpperCase(Locale.ROOT))
                .append("\" \"1\" \"\" \"fiesta ")
                .append(dev.fiesta.Fiesta.version())
                .append("\"\n.nh\n.SH NAME\n")
                .append(plain(name))
                .append(" \\- ")
                .append(plain(about.length == 0 ? "" : about[0]))
                .append("\n.SH SYNOPSIS\n.nf\n")
                .append(lines(help.synopsis(0)))
                .append(".fi\n");
        section(page, "DESCRIPTION", about);
        if (!command.positionalParameters().isEmpty()) {
            page.append(".SH ARGUMENTS\n");
            for (PositionalParamSpec argument : command.positionalParameters()) {
                entry(page, argument.paramLabel(), argument.description());
            }
        }
        page.append(".SH OPTIONS\n");
        for (OptionSpec option : command.options()) {
            if (!option.hidden()) {
                String label = option.arity().max() == 0 ? "" : " " + option.paramLabel();
                entry(page, String.join(", ", option.names()) + label, option.description());
            }
        }
        if (!command.subcommands().isEmpty()) {
            page.append(".SH COMMANDS\n");
            command.subcommands()
                    .forEach((sub, line) -> entry(
                            page,
                            "fiesta-" + sub + "(1)",
                            line.getCommandSpec().usageMessage().description()));
        }
        section(page, "EXAMPLES", command.usageMessage().header());
        section(page, "NOTES", command.usageMessage().footer());
        return page.toString();
    }

    private static void entry(StringBuilder page, String label, String[] about) {
        page.append(".TP\n\\fB").append(plain(label)).append("\\fR\n");
        for (String line : about) {
            page.append(plain(String.format(line.replace("%n", " "), "", ""))).append('\n');
        }
    }

    private static void section(StringBuilder page, String title, String[] text) {
        if (text.length > 0) {
            page.append(".SH ")
                    .append(title)
                    .append("\n.nf\n")
                    .append(lines(String.join("\n", text)))
                    .append(".fi\n");
        }
    }

    private static String lines(String text) {
        StringBuilder all = new StringBuilder();
        text.strip().lines().forEach(line -> all.append(plain(line)).append('\n'));
        return all.toString();
    }

    /** A text in which nothing is an order to the one that prints it. */
    private static String plain(String text) {
        String escaped = text.replace("\\", "\\e").replace("-", "\\-");
        return escaped.startsWith(".") || escaped.startsWith("'") ? "\\&" + escaped : escaped;
    }
}
