package dev.fiesta.report;

import dev.fiesta.Result;
import dev.fiesta.ViewColumn;
import dev.fiesta.language.Brief;
import dev.fiesta.value.Column;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/** The report as one page that needs nothing else. All texts are escaped by the template. */
final class HtmlPage {
    /** A piece for the template; what it does not have is empty. */
    public record Block(
            String kind,
            String id,
            String text,
            List<Head> heads,
            List<Line> rows,
            String svg,
            String further,
            List<Fact> facts) {}

    /** A line of a table; its kind is row, subtotal or total. */
    public record Line(String kind, List<Cell> cells) {}

    /** A column heading. */
    public record Head(String title, String unit, boolean right) {}

    /**
     * A cell.
     *
     * @param bar part of the largest value in hundredths, -1 for no bar
     * @param shade strength of the background from 0 to 4, -1 for none
     */
    public record Cell(String text, boolean right, boolean missing, boolean negative, int bar, int shade) {}

    /** A single figure with its name. */
    public record Fact(String name, String value) {}

    private final Report report;
    private final LocaleStyle locale;

    HtmlPage(Report report) {
        this.report = report;
        this.locale = LocaleStyle.of(report.locale());
    }

    String render() {
        List<Block> blocks = new ArrayList<>();
        for (Brief.Piece piece : report.pieces()) {
            blocks.add(block(piece, "part-" + (blocks.size() + 1)));
        }
        List<Block> contents =
                blocks.stream().filter(b -> b.kind().equals("heading")).toList();
        Map<String, Object> values = Map.of(
                "title",
                report.title(),
                "language",
                Locale.forLanguageTag(report.locale()).getLanguage(),
                "blocks",
                blocks,
                "contents",
                contents.size() > 1 ? contents : List.of());
        return Pages.fill("report.html.peb", values);
    }

    private Block block(Brief.Piece piece, String id) {
        if (piece instanceof Brief.Heading heading) {
            return text("heading", id, report.fill(heading.text()));
        }
        if (piece instanceof Brief.Say say) {
            return text("say", id, report.fill(say.text()));
        }
        if (piece instanceof Brief.ShowTable show) {
            String title = show.title() == null ? show.table().name() : report.fill(show.title());
            return table(id, title, report.result(show.table().name()), show.rows());
        }
        if (piece instanceof Brief.Figures figures) {
            return figures(id, figures);
        }
        if (piece instanceof Brief.Chart chart) {
            String title = chart.title() == null ? chart.table().name() : report.fill(chart.title());
            String svg = Charts.svg(id, chart, report.result(chart.table().name()), locale);
            return new Block("chart", id, title, List.of(), List.of(), svg, "", List.of());
        }
        return text("page", id, "");
    }

    private static Block text(String kind, String id, String text) {
        return new Block(kind, id, text, List.of(), List.of(), "", "", List.of());
    }

    private Block figures(String id, Brief.Figures figures) {
        Result result = report.result(figures.table().name());
        List<Fact> facts = new ArrayList<>();
        for (var field : figures.fields()) {
            ViewColumn view = result.view().stream()
                    .filter(v -> v.field().equals(field.name()))
                    .findFirst()
                    .orElse(new ViewColumn(field.name(), null, false, List.of()));
            CellFormat format = new CellFormat(locale, view, result.column(field.name()));
            Object value = result.rows() == 0 ? null : result.row(0).get(field.name());
            facts.add(new Fact(format.title(), format.print(value)));
        }
        String title = figures.title() == null ? "" : report.fill(figures.title());
        return new Block("figures", id, title, List.of(), List.of(), "", "", facts);
    }

    private Block table(String id, String title, Result result, int most) {
        int shown = most > 0 ? Math.min(most, result.rows()) : result.rows();
        List<CellFormat> formats = new ArrayList<>();
        List<Column> columns = new ArrayList<>();
        List<Head> heads = new ArrayList<>();
        for (ViewColumn view : result.view()) {
            Column column = result.column(view.field());
            CellFormat format = new CellFormat(locale, view, column);
            formats.add(format);
            columns.add(column);
            heads.add(new Head(format.title(), format.unit(), format.right()));
        }
        List<Line> rows = new ArrayList<>();
        double[] largest = columns.stream().mapToDouble(c -> largest(c, shown)).toArray();
        for (Lines.Line line : Lines.of(result, shown)) {
            List<Cell> cells = new ArrayList<>();
            for (int c = 0; c < columns.size(); c++) {
                cells.add(cell(formats.get(c), line, c, largest[c]));
            }
            rows.add(new Line(line.kind().name().toLowerCase(Locale.ROOT), cells));
        }
        int left = result.rows() - shown;
        String further =
                left == 0 ? "" : locale.number(Integer.toString(left)) + (left == 1 ? " further row" : " further rows");
        return new Block("table", id, title, heads, rows, "", further, List.of());
    }

    private static double largest(Column column, int rows) {
        double largest = 0;
        for (int i = 0; i < rows; i++) {
            if (column.get(i) instanceof Number number) {
                largest = Math.max(largest, Math.abs(number.doubleValue()));
            }
        }
        return largest;
    }

    private static Cell cell(CellFormat format, Lines.Line line, int column, double largest) {
        Object value = line.values().get(column);
        boolean row = line.kind() == Lines.Kind.ROW;
        double part = value instanceof Number number && largest > 0 ? Math.abs(number.doubleValue()) / largest : 0;
        int bar = format.bar() && value != null && row ? (int) Math.round(part * 100) : -1;
        int shade = format.shade() && value != null && row ? (int) Math.min(4, Math.floor(part * 5)) : -1;
        boolean negative = value instanceof Number number && number.doubleValue() < 0;
        return new Cell(line.print(column, format), format.right(), value == null && row, negative, bar, shade);
    }
}
