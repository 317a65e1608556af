package dev.fiesta.language;

import dev.fiesta.language.BriefTree.Piece;
import dev.fiesta.language.Token.Kind;
import dev.fiesta.problem.Names;
import dev.fiesta.problem.Problem;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** The pieces of a report. */
final class ReportParser {
    private final Cursor words;
    private final List<Problem> problems;
    private final ExprParser exprs;

    ReportParser(Cursor words, ExprParser exprs, List<Problem> problems) {
        this.words = words;
        this.exprs = exprs;
        this.problems = problems;
    }

    List<Piece> pieces() {
        List<Piece> pieces = new ArrayList<>();
        while (!words.atEnd() && !endsReport()) {
            Token start = words.peek();
            try {
                pieces.add(piece());
            } catch (Cursor.Failure failure) {
                problems.add(failure.problem);
                words.skipTo(
                        t -> t.startsLine()
                                && t.is(Kind.NAME)
                                && (Keywords.PIECES.contains(t.text()) || Keywords.isStep(t)),
                        words.peek() == start);
            }
        }
        words.mayStand(Keywords.PIECES);
        return pieces;
    }

    /** A table behind the report would be read as a piece; {@code table NAME from} tells them apart. */
    private boolean endsReport() {
        Token token = words.peek();
        return token.is(Kind.NAME)
                && (List.of("brief", "settings", "use", "parameter", "input", "report")
                                .contains(token.text())
                        || (token.text().equals("table") && words.ahead(2).word("from")));
    }

    private Piece piece() {
        Token keyword = words.peek();
        Span start = keyword.at();
        if (!keyword.is(Kind.NAME) || !Keywords.PIECES.contains(keyword.text())) {
            throw words.failure(
                    start,
                    "A piece of the report is expected here, not " + keyword.shown() + ".",
                    Names.didYouMean(keyword.text(), Keywords.PIECES, "The pieces are"));
        }
        words.starts(Cursor.Start.PIECE);
        words.next();
        return switch (keyword.text()) {
            case "heading" -> new BriefTree.Heading(words.expectText("the heading"), start.to(words.last()));
            case "say" -> new BriefTree.Say(words.expectText("what to say"), start.to(words.last()));
            case "table" -> table(start);
            case "figures" -> figures(start);
            case "chart" -> chart(start);
            default -> {
                words.expectWord("page", "after 'new'");
                yield new BriefTree.NewPage(start.to(words.last()));
            }
        };
    }

    private Piece table(Span start) {
        Ref table = words.expectName("a table", Expected.Sought.TABLE);
        String title = words.findText();
        int rows = words.takeWord("rows") ? words.expectInteger("the most rows to show") : 0;
        return new BriefTree.ShowTable(table, title, rows, note(), start.to(words.last()));
    }

    private Piece figures(Span start) {
        Ref table = words.expectName("a table", Expected.Sought.TABLE);
        List<Ref> fields = words.list(() -> words.expectName("a figure", Expected.Sought.FIELD_OF_TABLE));
        return new BriefTree.Figures(table, fields, words.findText(), start.to(words.last()));
    }

    private Piece chart(Span start) {
        Ref kind = words.expectName("the kind of chart", Expected.Sought.CHART);
        if (!Keywords.CHARTS.contains(kind.name())) {
            throw words.failure(
                    kind.at(),
                    "There is no chart '" + kind.name() + "'.",
                    Names.didYouMean(kind.name(), Keywords.CHARTS, "The kinds are"));
        }
        Ref table = words.expectName("a table", Expected.Sought.TABLE);
        words.expectWord("x", "and a field");
        Ref x = words.expectName("a field for x", Expected.Sought.FIELD_OF_TABLE);
        List<Ref> y = words.takeWord("y")
                ? words.list(() -> words.expectName("a field for y", Expected.Sought.FIELD_OF_TABLE))
                : List.of();
        if (y.isEmpty() && !kind.name().equals("histogram")) {
            throw words.expected("'y' and a field");
        }
        Ref by = words.takeWord("by")
                ? words.expectName("a field that parts the series", Expected.Sought.FIELD_OF_TABLE)
                : null;
        Ref apart = words.takeWord("apart")
                ? words.expectName("a field that parts the charts", Expected.Sought.FIELD_OF_TABLE)
                : null;
        int bins = bins(0);
        String title = words.findText();
        return new BriefTree.Chart(kind.name(), table, x, y, by, apart, title, options(bins), start.to(words.last()));
    }

    private int bins(int known) {
        return words.takeWord("bins") ? words.expectInteger("the number of bins") : known;
    }

    private @Nullable String note() {
        return words.takeWord("note") ? words.expectText("the note") : null;
    }

    /** {@code {"log" | "stacked" | "values" | "bins" N | "line" line {"," line} | "note" TEXT}} */
    private BriefTree.ChartOptions options(int binsBefore) {
        Set<String> told = new HashSet<>();
        List<BriefTree.Marker> lines = new ArrayList<>();
        int bins = binsBefore;
        String note = null;
        while (true) {
            Token word = words.peek();
            if (words.takeWord("log") || words.takeWord("stacked") || words.takeWord("values")) {
                told.add(word.text());
            } else if (words.peek().word("bins")) {
                bins = bins(bins);
            } else if (words.takeWord("line")) {
                lines.addAll(words.list(this::line));
            } else if (words.peek().word("note")) {
                note = note();
            } else {
                return new BriefTree.ChartOptions(
                        told.contains("log"),
                        told.contains("stacked"),
                        told.contains("values"),
                        bins,
                        List.copyOf(lines),
                        note);
            }
        }
    }

    /** {@code TEXT "at" (literal | ":" NAME | TABLE "." FIELD)} */
    private BriefTree.Marker line() {
        String text = words.expectText("what the line stands for");
        words.expectWord("at", "and a value");
        Token token = words.peek();
        words.mayStand(Expected.Sought.TABLE);
        words.mayStand(Expected.Sought.PARAMETER);
        if (token.is(Kind.PARAMETER)) {
            words.next();
            return new BriefTree.Marker(text, null, new Ref(token.text(), token.at()), null, null);
        }
        if (token.isName()) {
            Ref table = words.expectName("a table", Expected.Sought.TABLE);
            words.expectSign(".", "and a field of the table");
            return new BriefTree.Marker(
                    text, null, null, table, words.expectName("a field of the table", Expected.Sought.FIELD_OF_TABLE));
        }
        boolean negative = words.takeSign("-");
        Expr.Literal literal = exprs.literal();
        Object value = literal.value();
        if (!(value instanceof Number) && !(value instanceof java.time.temporal.Temporal)) {
            throw words.failure(
                    literal.at(),
                    "A line stands at a number, a date, a parameter or a field of a table's first row.",
                    null);
        }
        return new BriefTree.Marker(text, negative ? Literals.opposite(value) : value, null, null, null);
    }
}
