package dev.fiesta.formats;

import dev.fiesta.problem.Names;
import dev.fiesta.problem.RequestException;
import dev.fiesta.source.Databases.Parameter;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * Goes through a query as the server does, so that nothing which is code to the server looks like a text here: a query is asked as the
 * inside of a select, and must not get out of it. The rules are those of PostgreSQL: quotes, also with escapes behind an {@code E}, quoted names,
 * texts between dollars, comments in comments, line comments that end at either sign of a line end.
 */
final class QueryScanner {
    private static final Set<String> READING = Set.of("select", "with", "values", "table");

    private final String sql;
    private final Map<String, Parameter> parameters;
    private final boolean doubled;
    private final StringBuilder text = new StringBuilder();
    private final List<@Nullable Object> values = new ArrayList<>();
    private int at;
    private int depth;
    private boolean ordered;
    private @Nullable String first;
    private String last = "";

    QueryScanner(String sql, Map<String, Parameter> parameters, boolean doubled) {
        this.sql = sql;
        this.parameters = parameters;
        this.doubled = doubled;
    }

    QueryText scan() {
        while (at < sql.length()) {
            int start = at;
            boolean kept = part(sql.charAt(at));
            if (kept) {
                text.append(sql, start, at);
            }
        }
        if (first == null) {
            throw new RequestException("There is no query.");
        }
        if (depth > 0) {
            throw new RequestException("The query opens a bracket that it does not close.");
        }
        return new QueryText(text.toString(), values, ordered);
    }

    /** Goes behind what stands here; false where something else was put into the text for it. */
    private boolean part(char c) {
        switch (c) {
            case '\'', '"' -> quoted(c, false);
            case '$' -> dollars();
            case '(', ')' -> bracket(c);
            case ';' -> throw new RequestException("A query is one statement: nothing stands behind its ';'.");
            case '-' -> {
                at++;
                if (stands('-')) {
                    lineComment();
                }
            }
            case '/' -> {
                at++;
                if (stands('*')) {
                    comment();
                    text.append(' ');
                    return false;
                }
            }
            case ':' -> {
                return colon();
            }
            case '?' -> {
                at++;
                text.append(doubled ? "??" : "?");
                return false;
            }
            default -> {
                if (isNameStart(c)) {
                    word();
                } else {
                    at++;
                }
            }
        }
        return true;
    }

    private boolean stands(char c) {
        return at < sql.length() && sql.charAt(at) == c;
    }

    private static boolean isNameStart(char c) {
        return c == '_' || c >= 0x80 || c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z';
    }

    private static boolean isNamePart(char c) {
        return isNameStart(c) || c >= '0' && c <= '9' || c == '$';
    }

    /** A name or a word of the language; {@code E} before a quote lets backslashes escape in it. */
    private void word() {
        int start = at;
        while (at < sql.length() && isNamePart(sql.charAt(at))) {
            at++;
        }
        String word = sql.substring(start, at).toLowerCase(Locale.ROOT);
        if (first == null) {
            first = word;
            if (!READING.contains(word)) {
                throw new RequestException(
                        "A query reads: it begins with 'select' or 'with', not with '" + word + "'.");
            }
        }
        ordered |= depth == 0 && word.equals("by") && last.equals("order");
        last = word;
        if (word.equals("e") && stands('\'')) {
            quoted('\'', true);
        }
    }

    private void quoted(char mark, boolean escapes) {
        for (at++; at < sql.length(); at++) {
            char c = sql.charAt(at);
            if (escapes && c == '\\') {
                at++;
            } else if (c == mark) {
                at++;
                if (!stands(mark)) {
                    return;
                }
            }
        }
        throw new RequestException("The query opens a quote (" + mark + ") that never closes.");
    }

    /** {@code $$ … $$} or {@code $tag$ … $tag$}; a dollar that begins neither stands for itself. */
    private void dollars() {
        int end = at + 1;
        while (end < sql.length() && isNamePart(sql.charAt(end)) && sql.charAt(end) != '$') {
            end++;
        }
        boolean begins =
                end < sql.length() && sql.charAt(end) == '$' && (end == at + 1 || isNameStart(sql.charAt(at + 1)));
        if (!begins) {
            at++;
            return;
        }
        String tag = sql.substring(at, end + 1);
        int close = sql.indexOf(tag, end + 1);
        if (close < 0) {
            throw new RequestException("The query opens a quote (" + tag + ") that never closes.");
        }
        at = close + tag.length();
    }

    private void bracket(char c) {
        at++;
        depth += c == '(' ? 1 : -1;
        if (depth < 0) {
            throw new RequestException("The query closes a bracket that it does not open.");
        }
    }

    private void lineComment() {
        while (at < sql.length() && sql.charAt(at) != '\n' && sql.charAt(at) != '\r') {
            at++;
        }
    }

    /** Comments may stand in comments. */
    private void comment() {
        int open = 1;
        for (at++; at < sql.length() && open > 0; at++) {
            if (sql.startsWith("/*", at)) {
                open++;
                at++;
            } else if (sql.startsWith("*/", at)) {
                open--;
                at++;
            }
        }
        if (open > 0) {
            throw new RequestException("The query opens a comment (/*) that never closes.");
        }
    }

    /** A cast ({@code ::}), a parameter, or a sign for itself. */
    private boolean colon() {
        at++;
        if (stands(':')) {
            at++;
            return true;
        }
        int start = at;
        while (at < sql.length()
                && (Character.isLetterOrDigit(sql.charAt(at)) || sql.charAt(at) == '_')
                && (at > start || !Character.isDigit(sql.charAt(at)))) {
            at++;
        }
        if (at == start) {
            return true;
        }
        bind(sql.substring(start, at));
        return false;
    }

    /** An empty list fits nothing; a parameter without a value is missing. */
    private void bind(String name) {
        Parameter parameter = parameters.get(name);
        if (parameter == null) {
            throw new RequestException("The query asks for :" + name + ", which is no parameter. "
                    + (parameters.isEmpty()
                            ? "The brief has none."
                            : Names.didYouMean(name, parameters.keySet(), "There are")));
        }
        List<Object> items = parameter.items();
        text.append(items.isEmpty() ? "NULL" : "?" + ", ?".repeat(items.size() - 1));
        values.addAll(items);
    }
}
