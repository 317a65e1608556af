package dev.fiesta.cli.help;

import dev.fiesta.cli.options.Choices;
import java.io.PrintWriter;
import java.util.List;
import java.util.concurrent.Callable;
import picocli.AutoComplete;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Model.OptionSpec;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code fiesta completion}: what a shell needs to complete commands and options, made from the commands themselves. */
@Command(
        name = "completion",
        description = "Prints what lets a shell complete commands and options.",
        mixinStandardHelpOptions = true,
        footer = {
            "",
            "To have it, put one line into the shell's start file:",
            "  bash   ~/.bashrc                   source <(fiesta completion bash)",
            "  zsh    ~/.zshrc                    source <(fiesta completion zsh)",
            "  fish   ~/.config/fish/config.fish  fiesta completion fish | source"
        })
public final class CompletionCommand implements Callable<Integer> {
    enum Shell {
        BASH,
        ZSH,
        FISH
    }

    @Spec
    private CommandSpec spec;

    @Parameters(paramLabel = "SHELL", description = "bash, zsh or fish.")
    private Shell shell = Shell.BASH;

    @Override
    public Integer call() {
        CommandLine main = spec.parent().commandLine();
        PrintWriter out = spec.commandLine().getOut();
        if (shell == Shell.FISH) {
            fish(main, out);
        } else {
            out.println(AutoComplete.bash("fiesta", main));
        }
        return 0;
    }

    private static void fish(CommandLine main, PrintWriter out) {
        out.println("complete -c fiesta -e");
        main.getSubcommands().forEach((name, command) -> {
            out.println("complete -c fiesta -n __fish_use_subcommand -f -a " + name + " -d "
                    + quoted(String.join(
                            " ", command.getCommandSpec().usageMessage().description())));
            for (OptionSpec option : command.getCommandSpec().options()) {
                out.println("complete -c fiesta -n '__fish_seen_subcommand_from " + name + "' -l "
                        + option.longestName().substring(2) + values(option) + " -d "
                        + quoted(String.join(" ", option.description())));
            }
        });
    }

    private static String values(OptionSpec option) {
        List<String> choices = Choices.of(option);
        return !choices.isEmpty()
                ? " -x -a " + quoted(String.join(" ", choices))
                : option.arity().max() > 0 ? " -r" : "";
    }

    private static String quoted(String text) {
        return "'" + text.replace("'", "\\'") + "'";
    }
}
