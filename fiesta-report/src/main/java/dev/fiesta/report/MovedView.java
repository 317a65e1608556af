package dev.fiesta.report;

import dev.fiesta.Moved;
import dev.fiesta.report.page.Blocks;
import dev.fiesta.report.page.HtmlPage;
import dev.fiesta.value.LocaleStyle;
import java.io.PrintWriter;
import java.util.List;

/** Shows what moved a figure, group by group: for a terminal and as a page. */
public final class MovedView {
    private static final String LOCALE = "en-IE";

    private final Moved moved;
    private final String title;

    /**
     * @param moved what moved
     * @param figure the figure's name
     * @param between what the two sides are, such as {@code month 2026-05-01 to 2026-06-01}, or nothing
     */
    public MovedView(Moved moved, String figure, String between) {
        this.moved = moved;
        this.title = figure + " by " + String.join(", ", moved.keys()) + (between.isEmpty() ? "" : ", " + between);
    }

    private String legend() {
        return moved.isRatio()
                ? "mix: a larger or smaller share of the records; level: higher or lower values of its own."
                : "records: more or fewer of them; values: higher or lower ones.";
    }

    /**
     * Prints the parts with what they mean.
     *
     * @param terminal how wide and coloured
     * @param out where they go
     */
    public void print(Terminal terminal, PrintWriter out) {
        terminal.table(moved.parts(moved.digits()), title, 0, out);
        out.println();
        terminal.text(legend(), 0, out);
    }

    /** {@return the parts as a page that needs nothing else; each part has its bar, to the left where it lowered the figure} */
    public String page() {
        Blocks.Table parts = Blocks.table(
                "parts",
                "What each group has added to the move",
                moved.parts(moved.digits()),
                List.of(legend()),
                LocaleStyle.of(LOCALE));
        return HtmlPage.of(title, LOCALE, List.of(parts));
    }
}
