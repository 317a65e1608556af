package dev.fiesta.report;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.RunOptions;
import dev.fiesta.Tables;
import dev.fiesta.language.BriefTree;
import dev.fiesta.language.Ref;
import dev.fiesta.language.Span;
import dev.fiesta.output.FileNames;
import dev.fiesta.output.OutputFolder;
import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.Notices;
import dev.fiesta.problem.RequestException;
import dev.fiesta.value.LocaleStyle;
import java.io.IOException;
import java.io.OutputStream;
import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** A brief that has been run: its pieces and the tables they show. It is long because it is written in many formats. */
public final class Report {

    /** Something that the report rests on: an input, a parameter, a count. */
    public record Particular(String name, String value) {}

    private final String title;
    private final String locale;
    private final boolean localeTold;
    private final Set<String> data;
    private final List<BriefTree.Piece> written;
    private final Tables tables;
    private final Tables.Outcome outcome;
    private final Map<BriefTree.Chart, ChartSheet> drawn = new HashMap<>();
    private int behind;

    /**
     * @param settings those of the brief
     * @param data the tables that data formats and workbooks hold
     */
    Report(
            String title,
            BriefTree.Settings settings,
            Set<String> data,
            List<BriefTree.Piece> written,
            Tables tables,
            Tables.Outcome outcome) {
        this(title, settings.locale(), settings.localeTold(), data, written, tables, outcome);
    }

    private Report(
            String title,
            String locale,
            boolean localeTold,
            Set<String> data,
            List<BriefTree.Piece> written,
            Tables tables,
            Tables.Outcome outcome) {
        this.title = title;
        this.localeTold = localeTold;
        this.data = data;
        this.locale = locale;
        this.written = written;
        this.tables = tables;
        this.outcome = outcome;
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
        return fill(title);
    }

    /** The tables that data formats and workbooks hold; of what is only drawn, the drawing is enough. */
    List<Result> data() {
        return results().values().stream().filter(r -> data.contains(r.name())).toList();
    }

    String locale() {
        return locale;
    }

    Tables tables() {
        return tables;
    }

    /**
     * {@return with so many of the records behind each row on the page, 0 for none}
     *
     * @param most the most that are wanted
     */
    public Report withBehind(int most) {
        Report more = new Report(title, locale, localeTold, data, written, tables, outcome);
        more.behind = most;
        return more;
    }

    /** For a table shown, the records behind its rows, or null where none are wanted or rows are records. */
    @Nullable
    Result samples(String table) {
        return behind > 0 ? tables.trace().samples(table, behind) : null;
    }

    /** {@return the tables worked out, by name} */
    public Map<String, Result> results() {
        return outcome.results();
    }

    /** {@return what the run did, table by table} */
    public Tables.Outcome outcome() {
        return outcome;
    }

    Result result(String table) {
        return Objects.requireNonNull(results().get(table), table);
    }

    /** The pieces; without a report in the brief, all its tables. */
    List<BriefTree.Piece> pieces() {
        if (!written.isEmpty()) {
            return written;
        }
        List<BriefTree.Piece> pieces = new ArrayList<>();
        Span nowhere = new Span(0, 0);
        results()
                .keySet()
                .forEach(name -> pieces.add(new BriefTree.ShowTable(new Ref(name, nowhere), name, 0, null, nowhere)));
        return pieces;
    }

    /** The title of a piece that has one: its own, or else the name of its table. */
    String title(BriefTree.Piece piece) {
        if (piece.title() != null) {
            return fill(piece.title());
        }
        return piece.table() == null ? "" : piece.table().name();
    }

    /** The small lines beside the rows of a table. */
    List<Courses.Column> courses(Result table) {
        return Courses.of(table, tables.courses(table.name()), results(), LocaleStyle.of(locale));
    }

    /** A chart, drawn once. */
    synchronized ChartSheet draw(BriefTree.Chart chart) {
        return drawn.computeIfAbsent(
                chart, c -> Charts.of(c, result(c.table().name()), LocaleStyle.of(locale), lines(c)));
    }

    /** The lines across a chart; one whose value is missing is left out. */
    List<Charts.Line> lines(BriefTree.Chart chart) {
        List<Charts.Line> lines = new ArrayList<>();
        for (BriefTree.Marker marker : chart.options().lines()) {
            Object value = value(marker);
            if (value != null) {
                lines.add(new Charts.Line(fill(marker.text()), value));
            }
        }
        return lines;
    }

    private @Nullable Object value(BriefTree.Marker marker) {
        if (marker.parameter() != null) {
            List<Object> items = tables.parameterItems(marker.parameter().name());
            return items == null || items.isEmpty() ? null : items.get(0);
        }
        if (marker.table() == null || marker.field() == null) {
            return marker.value();
        }
        Result of = result(marker.table().name());
        return of.rows() == 0 ? null : of.shown(marker.field().name(), 0);
    }

    List<BriefTree.Chart> charts() {
        return pieces().stream()
                .filter(p -> p instanceof BriefTree.Chart)
                .map(p -> (BriefTree.Chart) p)
                .toList();
    }

    /** The name of a chart's file: its table and kind, and a number where another has the same. */
    String chartFile(BriefTree.Chart wanted, Format format) {
        Map<String, Integer> times = new LinkedHashMap<>();
        for (BriefTree.Chart chart : charts()) {
            String name = FileNames.of(chart.table().name() + "-" + chart.kind());
            int number = times.merge(name, 1, Integer::sum);
            if (chart == wanted) {
                return name + (number == 1 ? "" : "-" + number) + "." + format.ending();
            }
        }
        throw new IllegalStateException("the chart is not of this report");
    }

    /** Checks that do not hold, but only warn. */
    List<String> warnings() {
        return results().values().stream()
                .map(Result::notices)
                .findFirst()
                .map(Notices::warnings)
                .orElse(List.of());
    }

    /** What the report rests on: inputs with their records, parameters, what was counted. */
    List<Particular> particulars() {
        return new Particulars(this).all();
    }

    /** A text with its places filled: parameters, row counts, fields of first rows. */
    String fill(String text) {
        return new FilledTexts(tables, results(), locale, localeTold).fill(text);
    }

    /** The single figures of a piece: their titles, and their values with their units. */
    Map<String, String> figures(BriefTree.Figures figures) {
        Result result = result(figures.table().name());
        Map<String, String> shown = new LinkedHashMap<>();
        for (Ref field : figures.fields()) {
            CellFormat format = new CellFormat(
                    LocaleStyle.of(locale), ChartData.view(result, field.name()), result.column(field.name()));
            Object value = result.rows() == 0 ? null : result.shown(field.name(), 0);
            shown.put(format.title(), format.print(value) + (format.unit().isEmpty() ? "" : " " + format.unit()));
        }
        return shown;
    }

    /**
     * Prints the report as characters.
     *
     * @param terminal how wide and coloured
     * @param out where they go
     */
    public void print(Terminal terminal, PrintWriter out) {
        PrintedPieces printed = new PrintedPieces(this, terminal, out);
        pieces().forEach(piece -> piece.accept(printed));
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
                writer.write(this, format, guarded, folder);
            }
            if (format == Format.MARKDOWN && !formats.contains(Format.SVG)) { // its charts are files
                Objects.requireNonNull(Format.SVG.writer()).write(this, Format.SVG, guarded, folder);
            }
        }
        SetAside.write(outcome.asides(), folder);
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
            writer.write(this, format, out);
            out.flush();
        } catch (IOException e) {
            throw new MachineException("The report cannot be written", e);
        }
    }

    <T> T only(List<T> all, String what, Format format) {
        if (all.size() != 1) {
            throw new RequestException("a stream takes one " + what + " as " + format + ", and the report has "
                    + all.size() + "; write it to a folder");
        }
        return all.get(0);
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
            case MARKDOWN -> new Markdown(this).render();
            case HTML -> HtmlPage.render(this);
            default ->
                throw new RequestException(
                        "'" + format + "' is not one text; html and markdown are. Write it to a folder.");
        };
    }
}
