package dev.fiesta.language;

import java.util.List;
import java.util.Set;

/** The formats that {@code columns} knows. */
public final class Formats {
    public static final List<String> NAMES = List.of(
            "money",
            "number",
            "integer",
            "percent",
            "thousands",
            "date",
            "text",
            "bands",
            "bar",
            "shade",
            "left",
            "right",
            "mark",
            "note");
    /** A note at cells. */
    static final String NOTE = "note";

    /** How {@code mark few 5} is kept. */
    public static final String MARK_FEW = "mark few";

    static final Set<String> TAKES_DIGITS = Set.of("money", "number", "percent", "thousands");
    static final Set<String> TAKES_TEXT = Set.of("money", "date");

    private Formats() {}
}
