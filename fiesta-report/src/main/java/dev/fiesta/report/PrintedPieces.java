package dev.fiesta.report;

import dev.fiesta.Result;
import dev.fiesta.language.BriefTree;
import dev.fiesta.language.PieceVisitor;
import dev.fiesta.report.content.Content;
import dev.fiesta.report.text.Words;
import java.io.PrintWriter;

/** Prints pieces of a report as characters, one behind the other. */
final class PrintedPieces implements PieceVisitor<PrintWriter> {
    private final Content report;
    private final Terminal terminal;
    private final PrintWriter out;
    private boolean begun;

    PrintedPieces(Content report, Terminal terminal, PrintWriter out) {
        this.report = report;
        this.terminal = terminal;
        this.out = out;
    }

    @Override
    public PrintWriter heading(BriefTree.Heading heading) {
        out.print(begun ? "\n" : "");
        terminal.heading(report.fill(heading.text()), out);
        return end();
    }

    @Override
    public PrintWriter say(BriefTree.Say say) {
        terminal.text(report.fill(say.text()), 0, out);
        return end();
    }

    @Override
    public PrintWriter table(BriefTree.ShowTable show) {
        Result table = report.result(show.table().name());
        terminal.table(table, report.courses(table), report.title(show), show.rows(), out);
        if (show.note() != null) {
            terminal.text(report.fill(show.note()), 0, out);
        }
        return end();
    }

    @Override
    public PrintWriter figures(BriefTree.Figures figures) {
        if (figures.title() != null) {
            out.println(report.fill(figures.title()));
            out.println();
        }
        report.figures(figures).forEach((name, value) -> out.println(name + "  " + value));
        return end();
    }

    @Override
    public PrintWriter chart(BriefTree.Chart chart) {
        out.println("(" + Words.of(report.locale()).get("chart_on_page") + ": " + report.title(chart) + ")");
        return end();
    }

    @Override
    public PrintWriter newPage(BriefTree.NewPage page) {
        begun = true;
        return out;
    }

    private PrintWriter end() {
        begun = true;
        out.println();
        return out;
    }
}
