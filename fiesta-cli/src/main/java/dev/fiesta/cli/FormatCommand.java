package dev.fiesta.cli;

import dev.fiesta.cli.options.Failures;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.Parser;
import dev.fiesta.output.OutputFile;
import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code fiesta format}. */
@Command(
        name = "format",
        description = "Lays briefs out in the standard way; words and comments stay as they are.",
        mixinStandardHelpOptions = true)
final class FormatCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;

    @Parameters(arity = "1..*", paramLabel = "BRIEF", description = "The briefs.")
    private List<Path> files = new ArrayList<>();

    @Option(names = "--check", description = "Change nothing; tell which are laid out otherwise, and end with 1.")
    private boolean check;

    @Override
    public Integer call() {
        PrintWriter out = spec.commandLine().getOut();
        boolean differs = false;
        for (Path file : files) {
            String text = BriefText.read(file).text();
            String laidOut = Parser.layOut(new BriefText(file.getFileName().toString(), text));
            if (laidOut.equals(text)) {
                continue;
            }
            differs = true;
            if (!check) {
                OutputFile.write(file, to -> to.append(laidOut));
            }
            out.println((check ? "Not in the standard layout: " : "Laid out: ") + file);
        }
        return check && differs ? Failures.CHECK : 0;
    }
}
