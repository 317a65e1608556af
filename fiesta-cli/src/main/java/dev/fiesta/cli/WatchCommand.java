package dev.fiesta.cli;

import dev.fiesta.Fiesta;
import dev.fiesta.Tables;
import dev.fiesta.problem.FiestaException;
import dev.fiesta.report.Changes;
import dev.fiesta.report.ComparisonView;
import dev.fiesta.report.Report;
import dev.fiesta.report.Reporting;
import java.io.PrintWriter;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Spec;

/** {@code fiesta watch}. */
@Command(
        name = "watch",
        description = "Runs a brief again whenever it or an input changes, and shows what moved. Ctrl-C ends it.",
        mixinStandardHelpOptions = true)
final class WatchCommand implements Callable<Integer> {
    private static final long PAUSE_MILLIS = 400;

    @Spec
    private CommandSpec spec;

    @Mixin
    private Common common;

    @Mixin
    private Wanted wanted;

    @Mixin
    private Rows rows;

    @Option(names = "--runs", hidden = true, description = "End after so many runs.")
    private int runs = Integer.MAX_VALUE;

    @Override
    public Integer call() throws InterruptedException {
        PrintWriter out = spec.commandLine().getOut();
        PrintWriter err = spec.commandLine().getErr();
        Changes changes = new Changes(wanted.file);
        for (int run = 0; run < runs; run++) {
            run(changes, out, err);
            out.flush();
            while (run + 1 < runs && !changes.seen()) {
                Thread.sleep(PAUSE_MILLIS);
            }
        }
        return 0;
    }

    private void run(Changes changes, PrintWriter out, PrintWriter err) {
        try (Fiesta fiesta = common.open(err)) {
            Reporting brief = Reporting.of(wanted.brief());
            Tables tables = brief.check(fiesta);
            changes.watch(tables);
            Report report = brief.run(tables, brief.wanted(tables));
            common.tell(report.results().values(), err);
            boolean again = changes.isAgain();
            var moved = changes.moved(report);
            if (again) {
                new ComparisonView(moved).print(out, Window.size(common.colour).coloured());
            } else {
                report.print(Window.terminal(brief.brief().locale(), common.colour, rows.most), out);
            }
            err.println("Waiting for a change; Ctrl-C ends it.");
        } catch (FiestaException e) {
            common.endProgress();
            Failures.tell(e, err);
            changes.watchBrief();
        }
    }
}
