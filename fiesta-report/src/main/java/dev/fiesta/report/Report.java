package dev.fiesta.report;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.RunOptions;
import dev.fiesta.Tables;
import dev.fiesta.output.OutputFolder;
import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.RequestException;
import dev.fiesta.report.content.Content;
import dev.fiesta.report.page.HtmlPage;
import dev.fiesta.report.page.Markdown;
import dev.fiesta.report.write.FormatWriter;
import java.io.IOException;
import java.io.OutputStream;
import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Objects;

/** A brief that has been run: its pieces and the tables they show, to be written in many formats. */
public final class Report {
    private final Content content;

    Report(Content content) {
        this.content = content;
    }

    /**
     * Runs a brief: the tables that its report shows, without a report those that no other table uses.
     *
     * @param brief the brief
     * @param fiesta where it runs
     * @return the report
     * @throws dev.fiesta.problem.BriefException when the brief cannot be right
     * @throws dev.fiesta.problem.DataException when the data is wrong
     */
    public static Report of(Brief brief, Fiesta fiesta) {
        return of(brief, fiesta, RunOptions.usual());
    }

    /**
     * {@return as {@link #of(Brief, Fiesta)}, with a timeout, a cancellation or a listener of its own}
     *
     * @param brief the brief
     * @param fiesta where it runs
     * @param options of this run
     */
    public static Report of(Brief brief, Fiesta fiesta, RunOptions options) {
        return Reporting.of(brief).run(fiesta, options);
    }

    /** {@return the title, its places filled} */
    public String title() {
        return content.title();
    }

    /**
     * {@return with so many of the records behind each row on the page, 0 for none}
     *
     * @param most the most that are wanted
     */
    public Report withBehind(int most) {
        return new Report(content.withBehind(most));
    }

    /** {@return the tables worked out, by name} */
    public Map<String, Result> results() {
        return content.results();
    }

    /** {@return what the run did, table by table} */
    public Tables.Outcome outcome() {
        return content.outcome();
    }

    /** What it shows. */
    Content content() {
        return content;
    }

    /**
     * Prints the report as characters.
     *
     * @param terminal how wide and coloured
     * @param out where they go
     */
    public void print(Terminal terminal, PrintWriter out) {
        PrintedPieces printed = new PrintedPieces(content, terminal, out);
        content.pieces().forEach(piece -> piece.accept(printed));
    }

    /**
     * Writes files into a folder, each beside its place and then moved there: {@code NAME.csv} and the like for each table,
     * {@code report.html}, {@code report.pdf}, {@code report.xlsx}, {@code report.md}, {@code TABLE-KIND.svg} for each chart.
     *
     * @param folder the folder
     * @param formats what it becomes
     * @return the files written
     * @throws dev.fiesta.problem.MachineException when one cannot be written
     */
    public List<Path> writeTo(Path folder, Format... formats) {
        return writeTo(folder, List.of(formats), false);
    }

    /**
     * As {@link #writeTo(Path, Format...)}.
     *
     * @param folder the folder
     * @param formats what it becomes
     * @param guarded whether texts that a spreadsheet would take for a formula are defused in delimited files
     * @return these, in their order
     */
    public List<Path> writeTo(Path folder, List<Format> formats, boolean guarded) {
        try (OutputFolder out = OutputFolder.open(folder)) {
            writeTo(out, formats, guarded);
            out.finish();
            return out.files();
        }
    }

    /**
     * As {@link #writeTo(Path, List, boolean)}, beside what else a run writes.
     *
     * @param folder the folder
     * @param formats what it becomes
     * @param guarded whether texts that a spreadsheet would take for a formula are defused
     */
    public void writeTo(OutputFolder folder, List<Format> formats, boolean guarded) {
        for (Format format : formats) {
            FormatWriter writer = format.writer();
            if (writer != null) {
                writer.write(content, format.ending(), guarded, folder);
            }
            if (format == Format.MARKDOWN && !formats.contains(Format.SVG)) { // its charts are files
                Objects.requireNonNull(Format.SVG.writer()).write(content, Format.SVG.ending(), guarded, folder);
            }
        }
        SetAside.write(content.outcome().asides(), folder);
    }

    /**
     * Writes the report to a stream, which stays open.
     *
     * @param format of a document: {@link Format#HTML}, {@link Format#PDF}, {@link Format#XLSX}, {@link Format#MARKDOWN}; or, where the
     *     report has but one table, or one chart, one of data or of charts
     * @param out where they go
     * @throws RequestException when there are several of them
     * @throws MachineException when the stream takes no more
     */
    public void write(Format format, OutputStream out) {
        Objects.requireNonNull(format, "format");
        FormatWriter writer = format.writer();
        if (writer == null) {
            throw new RequestException("a terminal is printed to, by print");
        }
        try {
            writer.write(content, format.toString(), out);
            out.flush();
        } catch (IOException e) {
            throw new MachineException("The report cannot be written", e);
        }
    }

    /**
     * The report as one text.
     *
     * @param format {@link Format#HTML} or {@link Format#MARKDOWN}
     * @return the text
     * @throws RequestException for a format that is not one text
     */
    public String text(Format format) {
        return switch (format) {
            case MARKDOWN -> new Markdown(content).render();
            case HTML -> HtmlPage.render(content);
            default ->
                throw new RequestException(
                        "'" + format + "' is not one text; html and markdown are. Write it to a folder.");
        };
    }
}
