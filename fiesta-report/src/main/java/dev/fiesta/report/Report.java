package dev.fiesta.report;

import dev.fiesta.OutputFile;
import dev.fiesta.Result;
import dev.fiesta.Tables;
import dev.fiesta.ViewColumn;
import dev.fiesta.language.Braces;
import dev.fiesta.language.Brief;
import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** A brief that has been run: its pieces and the tables they show. */
public final class Report {
    private final String title;
    private final String locale;
    private final List<Brief.Piece> written;
    private final Tables tables;
    private final Map<String, Result> results;

    Report(String title, String locale, List<Brief.Piece> written, Tables tables, Map<String, Result> results) {
        this.title = title;
        this.locale = locale;
        this.written = written;
        this.tables = tables;
        this.results = results;
    }

    public String title() {
        return title;
    }

    String locale() {
        return locale;
    }

    /** The tables worked out, by name. */
    public Map<String, Result> results() {
        return results;
    }

    Result result(String table) {
        return java.util.Objects.requireNonNull(results.get(table), table);
    }

    /** The pieces; without a report in the brief, all its tables. */
    List<Brief.Piece> pieces() {
        if (!written.isEmpty()) {
            return written;
        }
        List<Brief.Piece> pieces = new ArrayList<>();
        dev.fiesta.language.Span nowhere = new dev.fiesta.language.Span(0, 0);
        results.keySet()
                .forEach(name ->
                        pieces.add(new Brief.ShowTable(new dev.fiesta.language.Ref(name, nowhere), name, 0, nowhere)));
        return pieces;
    }

    /** A text with its places filled: parameters, row counts, fields of first rows. */
    String fill(String text) {
        return Braces.fill(tables.fill(text), this::place);
    }

    private @Nullable String place(String inner) {
        int dot = inner.indexOf('.');
        Result result = dot < 0 ? null : results.get(inner.substring(0, dot));
        if (result == null) {
            return null;
        }
        String field = inner.substring(dot + 1);
        LocaleStyle style = LocaleStyle.of(locale);
        if (field.equals("rows")) {
            return style.number(Integer.toString(result.rows()));
        }
        if (result.schema().indexOf(field) < 0) {
            return null;
        }
        ViewColumn view = result.view().stream()
                .filter(v -> v.field().equals(field))
                .findFirst()
                .orElse(new ViewColumn(field, null, false, List.of()));
        return new CellFormat(style, view, result.column(field))
                .print(result.rows() == 0 ? null : result.row(0).get(field));
    }

    /** Prints the report as characters. */
    public void print(Terminal terminal, PrintWriter out) {
        boolean first = true;
        for (Brief.Piece piece : pieces()) {
            if (piece instanceof Brief.Heading heading) {
                out.print(first ? "" : "\n");
                terminal.heading(fill(heading.text()), out);
                out.println();
            } else if (piece instanceof Brief.Say say) {
                out.println(fill(say.text()));
                out.println();
            } else if (piece instanceof Brief.ShowTable show) {
                String shown = show.title() == null ? show.table().name() : fill(show.title());
                terminal.table(result(show.table().name()), shown, show.rows(), out);
                out.println();
            } else if (piece instanceof Brief.Chart chart) {
                String shown = chart.title() == null ? chart.table().name() : fill(chart.title());
                out.println("(Chart on the page: " + shown + ")");
                out.println();
            } else if (piece instanceof Brief.Figures figures) {
                figures.fields()
                        .forEach(f -> out.println(
                                f.name() + "  " + place(figures.table().name() + "." + f.name())));
                out.println();
            }
            first = false;
        }
    }

    /**
     * Writes files into a folder, each beside its place and then moved there: {@code NAME.csv} for each table,
     * {@code report.html}.
     *
     * @return the files written
     */
    public List<Path> writeTo(Path folder, Format... formats) {
        List<Path> written = new ArrayList<>();
        for (Format format : formats) {
            if (format == Format.CSV) {
                for (Result result : results.values()) {
                    Path file = folder.resolve(result.name() + ".csv");
                    result.writeCsv(file);
                    written.add(file);
                }
            } else if (format == Format.HTML) {
                Path file = folder.resolve("report.html");
                OutputFile.write(file, out -> out.append(new HtmlPage(this).render()));
                written.add(file);
            }
        }
        return written;
    }
}
