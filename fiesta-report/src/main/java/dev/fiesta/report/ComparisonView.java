package dev.fiesta.report;

import dev.fiesta.report.page.Pages;
import dev.fiesta.report.terminal.TextTable;
import dev.fiesta.report.text.CellFormat;
import dev.fiesta.value.LocaleStyle;
import dev.fiesta.value.Texts;
import java.io.IOException;
import java.io.PrintWriter;
import java.math.BigDecimal;
import java.math.RoundingMode;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** Shows what differs between tables: for a terminal, as data, as a page. */
public final class ComparisonView {
    private static final int MOST_LINES = 30;
    private static final int MOST_DIGITS = 4;
    private static final LocaleStyle STYLE = LocaleStyle.of("en-IE");

    private final List<Comparison> tables;

    /** @param tables what is compared, table by table */
    public ComparisonView(List<Comparison> tables) {
        this.tables = List.copyOf(tables);
    }

    /**
     * Prints the differences, so many of each kind.
     *
     * @param out where they go
     * @param colour whether it has colours
     */
    public void print(PrintWriter out, boolean colour) {
        for (Comparison table : tables) {
            out.println(TextTable.bold(table.table(), colour) + ": " + summary(table));
            listed("new field", table.came(), out);
            listed("field gone", table.gone(), out);
            changes(table.changes(), out);
            listed("only before", table.before(), out);
            listed("only after", table.after(), out);
            out.println();
        }
    }

    private static String summary(Comparison table) {
        if (table.isEqual()) {
            return "equal, " + count(table.same(), "row");
        }
        List<String> parts = new ArrayList<>();
        if (!table.changes().isEmpty()) {
            long rows = table.changes().stream()
                    .map(Comparison.Change::key)
                    .distinct()
                    .count();
            parts.add(count(table.changes().size(), "figure") + " moved in " + count((int) rows, "row"));
        }
        if (!table.before().isEmpty()) {
            parts.add(count(table.before().size(), "row") + " only before");
        }
        if (!table.after().isEmpty()) {
            parts.add(count(table.after().size(), "row") + " only after");
        }
        parts.add(count(table.same(), "row") + " the same");
        return String.join(", ", parts);
    }

    private static String count(int number, String what) {
        return STYLE.number(Integer.toString(number)) + " " + what + (number == 1 ? "" : "s");
    }

    private static void listed(String what, List<String> lines, PrintWriter out) {
        for (int i = 0; i < Math.min(MOST_LINES, lines.size()); i++) {
            out.println("  " + what + "  " + Texts.printable(lines.get(i)));
        }
        further(lines.size() - MOST_LINES, out);
    }

    private static void further(int left, PrintWriter out) {
        if (left > 0) {
            out.println("  " + STYLE.number(Integer.toString(left)) + " further");
        }
    }

    private static void changes(List<Comparison.Change> changes, PrintWriter out) {
        List<List<String>> lines = new ArrayList<>();
        lines.add(List.of("row", "figure", "before", "after", "difference", "relative_change"));
        for (Comparison.Change change : changes.subList(0, Math.min(MOST_LINES, changes.size()))) {
            lines.add(List.of(
                    change.key(),
                    change.field(),
                    shown(change.before()),
                    shown(change.after()),
                    change.difference() == null ? "" : signed(change.difference()),
                    change.relativeChange() == null ? "" : percent(change.relativeChange())));
        }
        if (changes.isEmpty()) {
            return;
        }
        int[] widths = new int[6];
        lines.forEach(l -> {
            for (int c = 0; c < widths.length; c++) {
                widths[c] = Math.max(widths[c], l.get(c).length());
            }
        });
        for (int i = 0; i < lines.size(); i++) {
            out.println("  " + Texts.printable(line(lines.get(i), widths)));
            if (i == 0) {
                out.println("  " + rule(widths));
            }
        }
        further(changes.size() - MOST_LINES, out);
    }

    private static String rule(int[] widths) {
        List<String> parts = new ArrayList<>();
        for (int width : widths) {
            parts.add("─".repeat(width));
        }
        return String.join("  ", parts);
    }

    private static String line(List<String> cells, int[] widths) {
        StringBuilder line = new StringBuilder();
        for (int c = 0; c < widths.length; c++) {
            String blanks = " ".repeat(widths[c] - cells.get(c).length());
            line.append(c == 0 ? "" : "  ").append(c < 2 ? cells.get(c) + blanks : blanks + cells.get(c));
        }
        return line.toString().stripTrailing();
    }

    private static String shown(String value) {
        if (value.isEmpty()) {
            return CellFormat.MISSING;
        }
        return value.matches("-?\\d+(\\.\\d+)?") ? STYLE.number(few(new BigDecimal(value))) : value;
    }

    /** Digits that nobody reads are left out; data formats have them all. */
    private static String few(BigDecimal value) {
        BigDecimal rounded = value.scale() > MOST_DIGITS ? value.setScale(MOST_DIGITS, RoundingMode.HALF_EVEN) : value;
        return rounded.toPlainString();
    }

    private static String signed(BigDecimal difference) {
        String number = STYLE.number(few(difference));
        return difference.signum() > 0 ? "+" + number : number;
    }

    private static String percent(BigDecimal relativeChange) {
        BigDecimal hundredths = relativeChange.movePointRight(2).setScale(1, RoundingMode.HALF_EVEN);
        return (hundredths.signum() > 0 ? "+" : "") + STYLE.number(hundredths.toPlainString()) + "%";
    }

    /**
     * The changed cells and lonely rows as comma-separated values.
     *
     * @param out where they go
     * @throws java.io.IOException when what takes them fails
     */
    public void writeCsv(Appendable out) throws IOException {
        var csv = new dev.fiesta.output.CsvWriter(out, dev.fiesta.output.TextStyle.CSV);
        csv.header(List.of("table", "kind", "key", "field", "before", "after", "difference", "relative_change"));
        for (Comparison table : tables) {
            for (String row : table.before()) {
                row(csv, table.table(), "only before", row, null, null, null, null, null);
            }
            for (String row : table.after()) {
                row(csv, table.table(), "only after", row, null, null, null, null, null);
            }
            for (Comparison.Change c : table.changes()) {
                row(
                        csv,
                        table.table(),
                        "changed",
                        c.key(),
                        c.field(),
                        value(c.before()),
                        value(c.after()),
                        c.difference(),
                        c.relativeChange());
            }
        }
        csv.flush();
    }

    private static @Nullable String value(String text) {
        return text.isEmpty() ? null : text;
    }

    private static void row(dev.fiesta.output.CsvWriter csv, @Nullable Object... cells) throws IOException {
        csv.row(cells.length, c -> cells[c]);
    }

    /** {@return everything as JSON} */
    public String json() {
        ObjectNode tree = Json.object();
        ArrayNode list = tree.putArray("tables");
        for (Comparison table : tables) {
            ObjectNode one = list.addObject();
            one.put("table", table.table());
            one.put("same", table.same());
            Map.of(
                            "came",
                            table.came(),
                            "gone",
                            table.gone(),
                            "only_before",
                            table.before(),
                            "only_after",
                            table.after())
                    .entrySet()
                    .stream()
                    .sorted(Map.Entry.comparingByKey())
                    .forEach(e -> {
                        ArrayNode texts = one.putArray(e.getKey());
                        e.getValue().forEach(texts::add);
                    });
            ArrayNode changes = one.putArray("changes");
            for (Comparison.Change change : table.changes()) {
                ObjectNode cell = changes.addObject();
                cell.put("key", change.key());
                cell.put("field", change.field());
                Json.put(cell, "before", value(change.before()));
                Json.put(cell, "after", value(change.after()));
                Json.put(cell, "difference", change.difference());
                Json.put(cell, "relative_change", change.relativeChange());
            }
        }
        return Json.pretty(tree);
    }

    /** A table for the page. */
    public record PageTable(String name, String summary, List<PageLine> lines) {}

    /** A line of it; kind is came, gone, before, after or changed. */
    public record PageLine(
            String kind,
            String key,
            String field,
            String before,
            String after,
            String difference,
            String share,
            boolean up) {}

    /**
     * {@return a page that needs nothing else, with the moved figures marked}
     *
     * @param title its title
     */
    public String page(String title) {
        List<PageTable> shown = new ArrayList<>();
        for (Comparison table : tables) {
            List<PageLine> lines = new ArrayList<>();
            table.came().forEach(f -> lines.add(lone("came", f)));
            table.gone().forEach(f -> lines.add(lone("gone", f)));
            for (Comparison.Change c : table.changes()) {
                BigDecimal difference = c.difference();
                lines.add(new PageLine(
                        "changed",
                        c.key(),
                        c.field(),
                        shown(c.before()),
                        shown(c.after()),
                        difference == null ? "" : signed(difference),
                        c.relativeChange() == null ? "" : percent(c.relativeChange()),
                        difference != null && difference.signum() > 0));
            }
            table.before().forEach(r -> lines.add(lone("before", r)));
            table.after().forEach(r -> lines.add(lone("after", r)));
            shown.add(new PageTable(table.table(), summary(table), lines));
        }
        return Pages.fill("compare.html.peb", Map.of("title", title, "tables", shown));
    }

    private static PageLine lone(String kind, String what) {
        return new PageLine(kind, what, "", "", "", "", "", false);
    }
}
