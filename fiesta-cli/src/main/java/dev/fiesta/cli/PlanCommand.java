package dev.fiesta.cli;

import dev.fiesta.Fiesta;
import dev.fiesta.Tables;
import dev.fiesta.cli.options.Crewing;
import dev.fiesta.cli.options.Speaking;
import dev.fiesta.cli.options.Wanted;
import dev.fiesta.cli.options.Window;
import dev.fiesta.progress.Explained;
import dev.fiesta.report.Reporting;
import dev.fiesta.report.Terminal;
import dev.fiesta.source.files.Paths;
import dev.fiesta.value.Field;
import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Spec;

/** {@code fiesta plan}. */
@Command(
        name = "plan",
        description = "Tells what a run of a brief would read and do, clause by clause; calculates nothing.",
        mixinStandardHelpOptions = true)
final class PlanCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;

    @Mixin
    private Speaking speaking;

    @Mixin
    private Wanted wanted;

    @Option(
            names = "--crew",
            paramLabel = "FILE",
            description = "Tell also what the members of a crew would read; none of them is asked.")
    private @Nullable Path crew;

    @Override
    public Integer call() {
        Reporting brief = Reporting.of(wanted.brief());
        PrintWriter out = spec.commandLine().getOut();
        Terminal terminal = Window.terminal("en-IE", speaking.colour, 0);
        try (Crewing.Joined joined = Crewing.named(crew);
                Fiesta fiesta = speaking.open(spec.commandLine().getErr(), joined)) {
            Tables tables = brief.check(fiesta);
            Explained plan = tables.explain(brief.wanted(tables));
            for (Explained.Input input : plan.inputs()) {
                List<Paths.Named> files = tables.files().getOrDefault(input.name(), List.of());
                print(input, files, terminal, out);
                if (crew != null) {
                    terminal.text("  " + readers(tables.parts(input.name()), input.counted()), 4, out);
                }
                out.println();
            }
            plan.tables().forEach(t -> print(t, terminal, out));
        }
        return 0;
    }

    private static void print(Explained.Input input, List<Paths.Named> files, Terminal terminal, PrintWriter out) {
        String names = files.size() > 2
                ? files.size() + " files, " + files.get(0).name() + " to "
                        + files.get(files.size() - 1).name()
                : files.stream().map(Paths.Named::name).collect(Collectors.joining(", "));
        out.println("read " + input.name() + ": " + names + (input.times() > 1 ? ", twice" : ""));
        String fields = input.read().isEmpty()
                ? "none, only counted"
                : input.read().stream().map(PlanCommand::typed).collect(Collectors.joining(", "));
        terminal.text("  fields read: " + fields, 4, out);
        if (!input.unread().isEmpty()) {
            terminal.text("  passed over: " + String.join(", ", input.unread()), 4, out);
        }
    }

    private static String readers(int parts, boolean counted) {
        return parts == 0
                ? "read on this machine alone"
                : String.format(
                        Locale.ROOT,
                        "%sread by members of the crew, in %,d part%s: what is done while reading, they do",
                        counted ? "read on this machine until there are enough first records; what is left, " : "",
                        parts,
                        parts == 1 ? "" : "s");
    }

    private static String typed(Field field) {
        return field.name() + " " + field.type();
    }

    private static void print(Explained.Table table, Terminal terminal, PrintWriter out) {
        out.println("table " + table.name() + ", from " + table.from()
                + (table.kept() ? "" : "; not kept, its rows pass through"));
        for (Explained.Clause clause : table.clauses()) {
            terminal.text(String.format(Locale.ROOT, "%4d  %s", clause.line(), clause.text()), 10, out);
            clause.steps().forEach(s -> terminal.text("        " + s, 10, out));
        }
        out.println();
    }
}
