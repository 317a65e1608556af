package dev.fiesta.step;

import dev.fiesta.value.Texts;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** What the columns of a cross-tabulation are called. */
public final class CrossNames {
    private static final String TOTAL = "Total";

    private CrossNames() {}

    /** A cell: the values of its keys, and behind them, where there are several, the figure. */
    public static String cell(List<? extends @Nullable Object> values, List<String> figures, int figure) {
        List<String> parts = new ArrayList<>();
        for (Object value : values) {
            parts.add(Texts.key(value));
        }
        if (figures.size() > 1) {
            parts.add(figures.get(figure));
        }
        return String.join(" ", parts);
    }

    /** The total of a row. */
    public static String total(List<String> figures, int figure) {
        return figures.size() == 1 ? TOTAL : TOTAL + " " + figures.get(figure);
    }
}
