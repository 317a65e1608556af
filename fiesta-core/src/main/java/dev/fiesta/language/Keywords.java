package dev.fiesta.language;

import java.util.List;
import java.util.Set;

/** The words that start parts and clauses, and those that no name may be. */
public final class Keywords {
    /** Reserved everywhere. */
    public static final Set<String> RESERVED =
            Set.of("and", "or", "not", "if", "then", "else", "true", "false", "missing", "between", "in", "is");

    /** The names of types. */
    public static final List<String> TYPES =
            List.of("integer", "decimal", "real", "text", "date", "datetime", "instant", "truth");

    /** The days a week may start with. */
    public static final List<String> WEEK =
            List.of("monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday");

    /** What the pieces of a report begin with. */
    public static final List<String> PIECES = List.of("heading", "say", "table", "figures", "chart", "new");

    /** The kinds of charts. */
    public static final List<String> CHARTS =
            List.of("lines", "areas", "columns", "bars", "points", "histogram", "boxes", "heat");

    /** Words that start a part of a brief. */
    public static final List<String> PARTS =
            List.of("brief", "settings", "use", "parameter", "input", "table", "report");

    /** Words that start a clause. */
    public static final List<String> CLAUSES = List.of(
            "only",
            "add",
            "per",
            "totals",
            "sort",
            "first",
            "distinct",
            "match",
            "append",
            "gapless",
            "fill",
            "turn",
            "rename",
            "drop",
            "sample",
            "shuffle",
            "columns",
            "check",
            "hide");

    /** Words that mean something where a name may stand too; a name like them is printed in quotes. */
    private static final Set<String> CONTEXTUAL = Set.of(
            "all",
            "only",
            "within",
            "along",
            "running",
            "last",
            "next",
            "from",
            "to",
            "full",
            "at",
            "least",
            "as",
            "desc",
            "asc",
            "each",
            "contains",
            "starts",
            "ends",
            "matches",
            "give",
            "against",
            "with",
            "rest",
            "rows",
            "unique",
            "where");

    private Keywords() {}

    /** Whether a name like this word is printed in quotes. */
    static boolean needsQuotes(String word) {
        return RESERVED.contains(word) || CONTEXTUAL.contains(word) || isStep(word);
    }

    /** Whether a word starts a clause or a part. */
    static boolean isStep(Token token) {
        return token.is(Token.Kind.NAME) && isStep(token.text());
    }

    private static boolean isStep(String word) {
        return CLAUSES.contains(word) || PARTS.contains(word);
    }

    /** Whether a clause or part starts here, where a name might stand as well. */
    static boolean startsStep(Cursor cursor) {
        Token after = cursor.ahead(1);
        return isStep(cursor.peek()) && !after.sign("=") && !after.sign("(");
    }
}
