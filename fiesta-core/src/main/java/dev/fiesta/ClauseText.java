package dev.fiesta;

import dev.fiesta.language.BriefText;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Parser;
import dev.fiesta.language.Span;
import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.RequestException;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * The text of one clause from what a program hands over. Every text handed over is one item of it: one that holds several, goes on into
 * another clause or comments the rest away is refused, so that texts which come from outside cannot ask for more than they stand for.
 */
final class ClauseText {
    private ClauseText() {}

    /** A clause of items that are parted by commas; none may be there where the clause is one without. */
    static String of(String keyword, @Nullable String @Nullable ... items) {
        return keyword + (items != null && items.length == 0 ? "" : " " + items(keyword, items));
    }

    /** Items parted by commas, each looked at by itself behind what stands before them. */
    static String items(String before, @Nullable String @Nullable ... items) {
        List<String> all = new ArrayList<>();
        for (String item : given(before, items)) {
            String text = before + " " + item;
            Clause clause = one(before, text);
            if (clause instanceof Clause.Per per && goesOn(before, per)) {
                throw problem(
                        before,
                        text,
                        new Span(before.length() + 1, text.length()),
                        "What is told here goes on into another part of 'per'.",
                        "Keys, what is laid out as columns, and figures each have their method.");
            }
            int count = count(clause);
            if (count > 1) {
                throw problem(
                        before,
                        text,
                        new Span(before.length() + 1, text.length()),
                        "This is one text, and it holds " + count + " items.",
                        "Each item is a text of its own.");
            }
            all.add(item);
        }
        return String.join(", ", all);
    }

    /** Whether more of a grouping is told than the part that an item belongs to. */
    private static boolean goesOn(String before, Clause.Per per) {
        return before.endsWith("give")
                ? !per.against().isEmpty()
                : per.gives() || !before.endsWith("against") && !per.against().isEmpty();
    }

    /** Names of fields, parted by commas. */
    static String fields(@Nullable String @Nullable ... names) {
        return items("drop", names);
    }

    /** A clause that is told as one text behind its keyword. */
    static String whole(String keyword, @Nullable String rest) {
        String text = keyword + " " + given(keyword, rest)[0];
        one(keyword, text);
        return text;
    }

    /** A name in double quotes. */
    static String quoted(String name) {
        if (name.isEmpty() || name.chars().anyMatch(Character::isISOControl)) {
            throw new RequestException("'" + name + "' can be no name: "
                    + (name.isEmpty() ? "it is empty" : "it holds a sign that is no character"));
        }
        return "\"" + name.replace("\"", "\"\"") + "\"";
    }

    private static @Nullable String[] given(String before, @Nullable String @Nullable ... items) {
        if (items == null) {
            throw new RequestException(before + ": a text is needed, not null");
        }
        for (String item : items) {
            if (item == null) {
                throw new RequestException(before + ": a text is needed, not null");
            }
        }
        return items;
    }

    private static Clause one(String keyword, String text) {
        BriefText source = new BriefText(keyword, text);
        List<Clause> clauses = Parser.clauses(source);
        if (clauses.size() != 1) {
            throw problem(
                    keyword,
                    text,
                    clauses.get(1).at(),
                    "What is told here goes on into another clause.",
                    "Call the method of that clause, or then(…), which takes any clauses.");
        }
        Span comment = Parser.comment(source);
        if (comment != null) {
            throw problem(keyword, text, comment, "There is a comment here, which would hide what follows.", null);
        }
        return clauses.get(0);
    }

    private static BriefException problem(
            String keyword, String text, Span at, String message, @Nullable String suggestion) {
        return new BriefException(List.of(new BriefText(keyword, text).problem(at, message, suggestion)));
    }

    private static int count(Clause clause) {
        if (clause instanceof Clause.Add add) {
            return add.fields().size();
        }
        if (clause instanceof Clause.Per per) {
            return Math.max(
                    per.keys().size(),
                    Math.max(per.against().size(), per.figures().size()));
        }
        if (clause instanceof Clause.Totals totals) {
            return totals.by().size();
        }
        if (clause instanceof Clause.Sort sort) {
            return sort.keys().size();
        }
        if (clause instanceof Clause.Distinct distinct) {
            return distinct.fields().size();
        }
        if (clause instanceof Clause.Rename rename) {
            return rename.names().size();
        }
        if (clause instanceof Clause.Drop drop) {
            return drop.fields().size();
        }
        if (clause instanceof Clause.Columns columns) {
            return columns.columns().size() + columns.courses().size();
        }
        return 1;
    }
}
