package dev.fiesta.formats;

import dev.fiesta.problem.Names;
import dev.fiesta.problem.RequestException;
import dev.fiesta.source.Databases.Parameter;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/**
 * A query whose parameters are bound, never pasted: {@code :name} outside quotes and comments becomes a question mark, for a list one each.
 *
 * @param text one statement, without a semicolon at its end
 * @param values in the order of the question marks; null for a missing one
 * @param ordered whether it says in which order its rows come
 */
record QueryText(String text, List<@Nullable Object> values, boolean ordered) {
    /** What is no code: quoted texts and names, comments; casts, so that they are no parameters; and what is looked for. */
    private static final Pattern PARTS = Pattern.compile(
            "(?<quoted>\\b[eE]'(?:[^'\\\\]|\\\\.|'')*'|'(?:[^']|'')*'|\"(?:[^\"]|\"\")*\""
                    + "|\\$(?<tag>[A-Za-z_]?\\w*)\\$[\\s\\S]*?\\$\\k<tag>\\$|--[^\\n]*|::)"
                    + "|(?<comment>/\\*)|(?<open>['\"])|:(?<name>[A-Za-z_]\\w*)|(?<sign>[?;()])"
                    + "|(?<order>\\border\\s+by\\b)",
            Pattern.CASE_INSENSITIVE);

    private static final Pattern FIRST_WORD =
            Pattern.compile("(?:\\s+|--[^\\n]*(?:\\n|$)|/\\*[\\s\\S]*?\\*/|\\()*([^\\s(/-]+)");
    private static final Set<String> READING = Set.of("select", "with", "values", "table");

    /** @param doubled whether the driver takes a question mark of the query only when it is doubled */
    static QueryText of(String query, Map<String, Parameter> parameters, boolean doubled) {
        StringBuilder text = new StringBuilder();
        List<@Nullable Object> values = new ArrayList<>();
        String whole = query.strip().replaceFirst("(\\s*;)+$", "");
        refuseWriting(whole);
        Matcher part = PARTS.matcher(whole);
        int depth = 0;
        boolean ordered = false;
        int at = 0;
        while (part.find(at)) {
            text.append(whole, at, part.start());
            at = part.end();
            if (part.group("comment") != null) {
                at = endOfComment(whole, part.start());
                text.append(' ');
            } else if (part.group("open") != null) {
                throw new RequestException("The query opens a quote (" + part.group() + ") that never closes.");
            } else if (part.group("name") != null) {
                bind(part.group("name"), parameters, text, values);
            } else if (part.group("sign") != null) {
                char sign = part.group().charAt(0);
                depth += sign == '(' ? 1 : sign == ')' ? -1 : 0;
                if (sign == ';' || depth < 0) {
                    throw new RequestException(
                            sign == ';'
                                    ? "A query is one statement: nothing stands behind its ';'."
                                    : "The query closes a bracket that it does not open.");
                }
                text.append(sign == '?' && doubled ? "??" : sign);
            } else {
                ordered |= part.group("order") != null && depth == 0;
                text.append(part.group());
            }
        }
        if (depth > 0) {
            throw new RequestException("The query opens a bracket that it does not close.");
        }
        return new QueryText(text.append(whole.substring(at)).toString(), values, ordered);
    }

    private static void refuseWriting(String query) {
        Matcher first = FIRST_WORD.matcher(query);
        if (!first.lookingAt()) {
            throw new RequestException("There is no query.");
        }
        if (!READING.contains(first.group(1).toLowerCase(Locale.ROOT))) {
            throw new RequestException(
                    "A query reads: it begins with 'select' or 'with', not with '" + first.group(1) + "'.");
        }
    }

    /** Comments may stand in comments. */
    private static int endOfComment(String text, int start) {
        int depth = 0;
        for (int i = start; i + 1 < text.length(); i++) {
            if (text.startsWith("/*", i)) {
                depth++;
                i++;
            } else if (text.startsWith("*/", i)) {
                depth--;
                i++;
                if (depth == 0) {
                    return i + 1;
                }
            }
        }
        throw new RequestException("The query opens a comment (/*) that never closes.");
    }

    /** An empty list fits nothing; a parameter without a value is missing. */
    private static void bind(
            String name, Map<String, Parameter> parameters, StringBuilder text, List<@Nullable Object> values) {
        Parameter parameter = parameters.get(name);
        if (parameter == null) {
            throw new RequestException("The query asks for :" + name + ", which is no parameter. "
                    + (parameters.isEmpty()
                            ? "The brief has none."
                            : Names.didYouMean(name, parameters.keySet(), "There are")));
        }
        List<Object> items = parameter.items();
        if (items.isEmpty()) {
            text.append("NULL");
            return;
        }
        for (int i = 0; i < items.size(); i++) {
            text.append(i == 0 ? "?" : ", ?");
            values.add(items.get(i));
        }
    }
}
