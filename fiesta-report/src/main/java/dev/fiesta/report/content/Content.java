package dev.fiesta.report.content;

import dev.fiesta.Result;
import dev.fiesta.Tables;
import dev.fiesta.language.BriefTree;
import dev.fiesta.language.Ref;
import dev.fiesta.language.Span;
import dev.fiesta.output.FileNames;
import dev.fiesta.problem.Notices;
import dev.fiesta.problem.RequestException;
import dev.fiesta.report.chart.ChartSheet;
import dev.fiesta.report.chart.Charts;
import dev.fiesta.report.text.CellFormat;
import dev.fiesta.value.LocaleStyle;
import java.util.ArrayList;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** What a report shows, whatever it is written as: its pieces, their texts filled, their tables and charts. */
public final class Content {
    /** Something that the report rests on: an input, a parameter, a count. */
    public record Particular(String name, String value) {}

    private final String title;
    private final BriefTree.Settings settings;
    private final Set<String> data;
    private final List<BriefTree.Piece> written;
    private final Tables tables;
    private final Tables.Outcome outcome;
    private final int behind;
    private final Map<BriefTree.Chart, ChartSheet> drawn = new IdentityHashMap<>();

    /**
     * @param settings those of the brief
     * @param data the tables that data formats and workbooks hold
     */
    public Content(
            String title,
            BriefTree.Settings settings,
            Set<String> data,
            List<BriefTree.Piece> written,
            Tables tables,
            Tables.Outcome outcome) {
        this(title, settings, data, written, tables, outcome, 0);
    }

    private Content(
            String title,
            BriefTree.Settings settings,
            Set<String> data,
            List<BriefTree.Piece> written,
            Tables tables,
            Tables.Outcome outcome,
            int behind) {
        this.title = title;
        this.settings = settings;
        this.data = data;
        this.written = written;
        this.tables = tables;
        this.outcome = outcome;
        this.behind = behind;
    }

    /** With so many of the records behind each row, 0 for none. */
    public Content withBehind(int most) {
        return new Content(title, settings, data, written, tables, outcome, most);
    }

    /** The title, its places filled. */
    public String title() {
        return fill(title);
    }

    /** The tables worked out, by name. */
    public Map<String, Result> results() {
        return outcome.results();
    }

    public Tables.Outcome outcome() {
        return outcome;
    }

    /** The tables that data formats and workbooks hold; of what is only drawn, the drawing is enough. */
    public List<Result> data() {
        return results().values().stream().filter(r -> data.contains(r.name())).toList();
    }

    public String locale() {
        return settings.locale();
    }

    public Tables tables() {
        return tables;
    }

    /** For a table shown, the records behind its rows, or null where none are wanted or rows are records. */
    @Nullable
    public Result samples(String table) {
        return behind > 0 ? tables.trace().samples(table, behind) : null;
    }

    public Result result(String table) {
        return Objects.requireNonNull(results().get(table), table);
    }

    /** The pieces; without a report in the brief, all its tables. */
    public List<BriefTree.Piece> pieces() {
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
    public String title(BriefTree.Piece piece) {
        if (piece.title() != null) {
            return fill(piece.title());
        }
        return piece.table() == null ? "" : piece.table().name();
    }

    /** The small lines beside the rows of a table. */
    public List<Courses.Column> courses(Result table) {
        return Courses.of(table, tables.courses(table.name()), results(), LocaleStyle.of(locale()));
    }

    /** A chart, drawn once. */
    public synchronized ChartSheet draw(BriefTree.Chart chart) {
        return drawn.computeIfAbsent(
                chart, c -> Charts.of(c, result(c.table().name()), LocaleStyle.of(locale()), lines(c)));
    }

    /** The lines across a chart; one whose value is missing is left out. */
    public List<Charts.Line> lines(BriefTree.Chart chart) {
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

    public List<BriefTree.Chart> charts() {
        return pieces().stream()
                .filter(p -> p instanceof BriefTree.Chart)
                .map(p -> (BriefTree.Chart) p)
                .toList();
    }

    /**
     * The name of a chart's file: its table and kind, and a number where another has the same.
     *
     * @param ending of the file, without the point
     */
    public String chartFile(BriefTree.Chart wanted, String ending) {
        Map<String, Integer> times = new LinkedHashMap<>();
        for (BriefTree.Chart chart : charts()) {
            String name = FileNames.of(chart.table().name() + "-" + chart.kind());
            int number = times.merge(name, 1, Integer::sum);
            if (chart == wanted) {
                return name + (number == 1 ? "" : "-" + number) + "." + ending;
            }
        }
        throw new IllegalStateException("the chart is not of this report");
    }

    /** Checks that do not hold, but only warn. */
    public List<String> warnings() {
        return results().values().stream()
                .map(Result::notices)
                .findFirst()
                .map(Notices::warnings)
                .orElse(List.of());
    }

    /** What the report rests on: inputs with their records, parameters, what was counted. */
    public List<Particular> particulars() {
        return new Particulars(this).all();
    }

    /** A text with its places filled: parameters, row counts, fields of first rows. */
    public String fill(String text) {
        return new FilledTexts(tables, results(), locale(), settings.localeTold()).fill(text);
    }

    /** The single figures of a piece: their titles, and their values with their units. */
    public Map<String, String> figures(BriefTree.Figures figures) {
        Result result = result(figures.table().name());
        Map<String, String> shown = new LinkedHashMap<>();
        for (Ref field : figures.fields()) {
            CellFormat format = CellFormat.of(LocaleStyle.of(locale()), result, field.name());
            Object value = result.rows() == 0 ? null : result.shown(field.name(), 0);
            shown.put(format.title(), format.print(value) + (format.unit().isEmpty() ? "" : " " + format.unit()));
        }
        return shown;
    }

    /**
     * The only one of some things.
     *
     * @param what they are, {@code format} how they are wanted
     * @throws RequestException when there are several, or none
     */
    public <T> T only(List<T> all, String what, String format) {
        if (all.size() != 1) {
            throw new RequestException("a stream takes one " + what + " as " + format + ", and the report has "
                    + all.size() + "; write it to a folder");
        }
        return all.get(0);
    }
}
