package dev.fiesta.cli;

import dev.fiesta.Fiesta;
import dev.fiesta.Tables;
import dev.fiesta.progress.Explained;
import dev.fiesta.report.Brief;
import dev.fiesta.source.Paths;
import dev.fiesta.value.Field;
import java.io.PrintWriter;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
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

    @Override
    public Integer call() {
        Brief brief = wanted.brief();
        PrintWriter out = spec.commandLine().getOut();
        try (Fiesta fiesta = speaking.open(spec.commandLine().getErr())) {
            Tables tables = brief.check(fiesta);
            Explained plan = tables.explain(brief.wanted(tables));
            for (Explained.Input input : plan.inputs()) {
                List<Paths.Named> files = tables.files().getOrDefault(input.name(), List.of());
                print(input, files, out);
            }
            plan.tables().forEach(t -> print(t, out));
        }
        return 0;
    }

    private static void print(Explained.Input input, List<Paths.Named> files, PrintWriter out) {
        String names = files.size() > 2
                ? files.size() + " files, " + files.get(0).name() + " to "
                        + files.get(files.size() - 1).name()
                : files.stream().map(Paths.Named::name).collect(Collectors.joining(", "));
        out.println("read " + input.name() + ": " + names + (input.times() > 1 ? ", twice" : ""));
        out.println("  fields read: "
                + (input.read().isEmpty()
                        ? "none, only counted"
                        : input.read().stream().map(PlanCommand::typed).collect(Collectors.joining(", "))));
        if (!input.unread().isEmpty()) {
            out.println("  passed over: " + String.join(", ", input.unread()));
        }
        out.println();
    }

    private static String typed(Field field) {
        return field.name() + " " + field.type();
    }

    private static void print(Explained.Table table, PrintWriter out) {
        out.println("table " + table.name() + ", from " + table.from()
                + (table.kept() ? "" : "; not kept, its rows pass through"));
        for (Explained.Clause clause : table.clauses()) {
            out.printf(java.util.Locale.ROOT, "%4d  %s%n", clause.line(), clause.text());
            clause.steps().forEach(s -> out.println("        " + s));
        }
        out.println();
    }
}
