package dev.fiesta.report;

import dev.fiesta.Result;
import dev.fiesta.StepLook;
import dev.fiesta.language.BriefTree;
import dev.fiesta.report.content.Courses;
import dev.fiesta.report.terminal.StepsView;
import dev.fiesta.report.terminal.TextChart;
import dev.fiesta.report.terminal.TextTable;
import dev.fiesta.value.LocaleStyle;
import java.io.IOException;
import java.io.PrintStream;
import java.io.PrintWriter;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Locale;
import org.jspecify.annotations.Nullable;

/**
 * Tables for a terminal.
 *
 * <pre>{@code
 * Terminal.print(result, System.out);
 * }</pre>
 */
public final class Terminal {
    /** The width of lines that are not cut. */
    public static final int UNCUT = TextTable.UNCUT;

    private static final int USUAL_WIDTH = 100;

    private final LocaleStyle locale;
    private final TextTable tables;
    private final StepsView steps;
    private final boolean colour;
    private final int width;

    /**
     * @param locale locale of the numbers, such as {@code en-IE}
     * @param width characters of a line
     * @param height most rows of a table, 0 for all
     * @param colour whether it has colours
     */
    public Terminal(String locale, int width, int height, boolean colour) {
        LocaleStyle style = LocaleStyle.of(locale);
        this.locale = style;
        this.tables = new TextTable(style, width, height, colour);
        this.steps = new StepsView(new TextTable(style, width - 6, height, false), style, colour);
        this.colour = colour;
        this.width = width;
    }

    /**
     * Prints all rows of a result, 100 characters wide.
     *
     * @param result the table
     * @param out where they go
     */
    public static void print(Result result, PrintStream out) {
        PrintWriter writer = new PrintWriter(out, false, StandardCharsets.UTF_8);
        new Terminal(BriefTree.Settings.NORMAL.locale(), USUAL_WIDTH, 0, false).table(result, "", 0, writer);
        writer.flush();
    }

    /**
     * Prints a table with its title.
     *
     * @param result the table
     * @param title its title
     * @param rows how many
     * @param out where they go
     */
    public void table(Result result, String title, int rows, PrintWriter out) {
        table(result, List.of(), title, rows, out);
    }

    void table(Result result, List<Courses.Column> courses, String title, int rows, PrintWriter out) {
        if (!title.isEmpty()) {
            out.println(TextTable.bold(title, colour));
            out.println();
        }
        try {
            tables.print(result, rows, courses, out);
        } catch (IOException e) {
            throw new UncheckedIOException(e); // a print writer notes what it cannot write
        }
    }

    /**
     * Prints a table as each of its clauses leaves it.
     *
     * @param looks the table behind each clause
     * @param out where they go
     */
    public void steps(List<StepLook> looks, PrintWriter out) {
        steps.print(looks, out);
    }

    /**
     * Prints what one clause left.
     *
     * @param look the table behind it
     * @param before the table before it, or null for what stands at the beginning
     * @param out where it goes
     */
    public void step(StepLook look, @Nullable StepLook before, PrintWriter out) {
        steps.print(look, before, out);
    }

    /**
     * Draws a chart in letters: bars, columns, lines, areas or points.
     *
     * @param chart what is drawn
     * @param result the table that it shows
     * @param out where it goes
     * @throws dev.fiesta.problem.RequestException when its kind needs more than letters, or a field does not suit it
     */
    public void chart(BriefTree.Chart chart, Result result, PrintWriter out) {
        out.print(TextChart.of(chart, result, locale, width));
    }

    /**
     * Prints a text, its lines broken at blanks to fit the window.
     *
     * @param text what is written
     * @param indent how many blanks stand before each line but the first
     * @param out where they go
     */
    public void text(String text, int indent, PrintWriter out) {
        int end = text.length();
        int from = 0;
        int room = width;
        while (end - from > room) {
            int blank = text.lastIndexOf(' ', from + room);
            if (blank <= from || text.substring(from, blank).isBlank()) {
                blank = text.indexOf(' ', from + room);
                if (blank < 0) {
                    break;
                }
            }
            out.println(text.substring(from, blank));
            out.print(" ".repeat(indent));
            from = blank + 1;
            room = Math.max(1, width - indent);
        }
        out.println(text.substring(from));
    }

    /**
     * Prints a heading.
     *
     * @param text what is written
     * @param out where they go
     */
    public void heading(String text, PrintWriter out) {
        out.println(TextTable.bold(text.toUpperCase(Locale.ROOT), colour));
    }
}
