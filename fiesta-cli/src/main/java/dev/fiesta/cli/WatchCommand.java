package dev.fiesta.cli;

import dev.fiesta.Fiesta;
import dev.fiesta.Moved;
import dev.fiesta.Tables;
import dev.fiesta.cli.options.Common;
import dev.fiesta.cli.options.Failures;
import dev.fiesta.cli.options.OneFigure;
import dev.fiesta.cli.options.ShownRows;
import dev.fiesta.cli.options.Wanted;
import dev.fiesta.cli.options.Window;
import dev.fiesta.problem.FiestaException;
import dev.fiesta.report.Changes;
import dev.fiesta.report.ComparisonView;
import dev.fiesta.report.Format;
import dev.fiesta.report.MovedView;
import dev.fiesta.report.Report;
import dev.fiesta.report.Reporting;
import java.io.PrintWriter;
import java.util.Objects;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Spec;

/** {@code fiesta watch}. */
@Command(
        name = "watch",
        description = "Runs a brief again whenever it or an input changes, and shows what moved. Ctrl-C ends it.",
        mixinStandardHelpOptions = true,
        footer = {
            "",
            "With --parts, after each change also what moved a sum, count, mean or ratio, group by group.",
            "",
            "  fiesta watch takings.brief --parts --table by_stall --figure takings"
        })
final class WatchCommand implements Callable<Integer> {
    private static final long PAUSE_MILLIS = 400;

    @Spec
    private CommandSpec spec;

    @Mixin
    private Common common;

    @Mixin
    private Wanted wanted;

    @Mixin
    private ShownRows rows;

    @Option(
            names = "--page",
            description = "Serve the report as a page that follows: to this machine only, at the address that is told.")
    private boolean page;

    @Mixin
    private OneFigure one;

    /** The figure as it was before. */
    private Moved.@Nullable Side before;

    @Option(names = "--runs", hidden = true, description = "End after so many runs.")
    private int runs = Integer.MAX_VALUE;

    @Override
    public Integer call() {
        PrintWriter out = spec.commandLine().getOut();
        PrintWriter err = spec.commandLine().getErr();
        one.check();
        try (PageServer server = page ? new PageServer() : null) {
            if (server != null) {
                out.println("The page: " + server.address());
                out.flush();
            }
            Changes changes = new Changes(wanted.file);
            int run = 0;
            do {
                run(changes, server, out, err);
                out.flush();
            } while (++run < runs && waited(changes));
        }
        return Thread.currentThread().isInterrupted() ? Failures.INTERRUPTED : 0;
    }

    /** Waits until something changes; false when it is to wait no longer. */
    private static boolean waited(Changes changes) {
        try {
            while (!changes.seen()) {
                Thread.sleep(PAUSE_MILLIS);
            }
            return true;
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            return false;
        }
    }

    private void run(Changes changes, @Nullable PageServer server, PrintWriter out, PrintWriter err) {
        changes.begin();
        try (Fiesta fiesta = common.open(err)) {
            Reporting brief = Reporting.of(wanted.brief());
            Tables tables = brief.check(fiesta);
            changes.watch(tables);
            Report report = brief.run(tables, brief.wanted(tables));
            common.tell(report.results().values(), err);
            boolean again = changes.isAgain();
            var moved = changes.moved(report);
            if (server != null) {
                server.show(report.text(Format.HTML));
            }
            if (again) {
                new ComparisonView(moved).print(out, Window.size(common.colour).coloured());
            } else if (server == null) {
                report.print(Window.terminal(brief.brief().locale(), common.colour, rows.most), out);
            }
            if (one.isAsked()) {
                tell(tables.trace().side(one.table(), one.figure()), out);
            }
            err.println("Waiting for a change; Ctrl-C ends it.");
        } catch (FiestaException e) {
            common.endProgress();
            Failures.tell(e, err);
            if (server != null) {
                server.tell(e.getMessage());
            }
        }
    }

    /** Tells what moved the figure since the last run. */
    private void tell(Moved.Side now, PrintWriter out) {
        Moved.Side last = before;
        before = now;
        if (last != null) {
            Moved moved = Moved.between(last, now);
            if (!Objects.equals(moved.before(), moved.after())) {
                out.println();
                new MovedView(moved, now.figure(), "").print(Window.terminal("en-IE", common.colour, -1), out);
            }
        }
    }
}
