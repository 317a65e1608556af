package dev.fiesta.cli;

import dev.fiesta.cli.editor.BriefServer;
import dev.fiesta.cli.options.Speaking;
import java.io.BufferedOutputStream;
import java.io.FileDescriptor;
import java.io.FileInputStream;
import java.io.FileOutputStream;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Spec;

/** {@code fiesta language-server}. */
@Command(
        name = "language-server",
        description =
                "Answers an editor about the briefs in it: problems, completion, names, on standard input and output.",
        mixinStandardHelpOptions = true)
final class LanguageServerCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;

    @Mixin
    private Speaking speaking;

    @Option(names = "--stdio", description = "What it does anyway; some editors say it.")
    private boolean standard;

    @Override
    public Integer call() throws InterruptedException {
        System.setOut(System.err); // only the protocol may be written where editors read
        speaking.quiet = true;
        boolean well = BriefServer.serve(
                () -> speaking.open(spec.commandLine().getErr()),
                new FileInputStream(FileDescriptor.in),
                new BufferedOutputStream(new FileOutputStream(FileDescriptor.out)));
        return well ? 0 : 1;
    }
}
