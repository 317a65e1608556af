package dev.fiesta.cli;

import dev.fiesta.cli.options.Speaking;
import dev.fiesta.cluster.CrewFile;
import dev.fiesta.cluster.Encryption;
import dev.fiesta.cluster.MemberNode;
import dev.fiesta.source.InputFormat;
import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Spec;

/** {@code fiesta member}. */
@Command(
        name = "member",
        description = "Reads parts of large inputs for runs that others begin, until it is ended.",
        mixinStandardHelpOptions = true,
        footer = {
            "",
            "Example, on each machine of a crew:",
            "  fiesta member --crew crew.conf",
            "Then on any of them:",
            "  fiesta run takings.brief --crew crew.conf"
        })
final class MemberCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;

    @Option(names = "--crew", paramLabel = "FILE", required = true, description = "The file of the crew (crew.conf).")
    private Path file = Path.of("");

    @Option(
            names = "--insecure",
            description = "Also where members are on other machines and there are no certificates.")
    private boolean insecure;

    @Override
    public Integer call() throws InterruptedException {
        PrintWriter out = spec.commandLine().getOut();
        Encryption encryption = insecure ? Encryption.WAIVED : Encryption.NEEDED;
        CrewFile crew = CrewFile.read(file);
        InputFormat[] formats = Speaking.formats().toArray(InputFormat[]::new);
        while (true) {
            try (MemberNode member = MemberNode.join(crew, encryption, formats)) {
                int members = member.members();
                out.println("A member of the crew, at " + member.place() + "; "
                        + (members == 1 ? "the first" : members + " are there") + ". Ctrl-C ends it.");
                out.flush();
                if (!member.await()) {
                    return 0;
                }
                out.println("The others took this machine for lost; it joins them again.");
            }
        }
    }
}
