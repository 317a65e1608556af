package dev.fiesta.language;

import dev.fiesta.problem.BriefException;
import java.util.ArrayList;
import java.util.List;

/**
 * Clauses of one table, with the text in which each of them stands.
 *
 * @param text all of it
 * @param clauses in their order
 */
public record ClausesText(BriefText text, List<Clause> clauses) {
    /** No clause yet. */
    public static final ClausesText NONE = new ClausesText(new BriefText("clauses", ""), List.of());

    /**
     * With the clauses of a further text below it. Only those are read, but where they begin in the middle of a clause.
     *
     * @throws BriefException when they cannot be read
     */
    public ClausesText plus(String written) {
        String before = text.text();
        BriefText all = new BriefText(text.name(), before.isEmpty() ? written : before + "\n" + written);
        try {
            List<Clause> more = new ArrayList<>(clauses);
            more.addAll(Parser.clauses(all, all.text().length() - written.length()));
            return new ClausesText(all, List.copyOf(more));
        } catch (BriefException e) {
            return new ClausesText(all, Parser.clauses(all));
        }
    }

    /** The clauses behind those before, where the text below them began with a new clause; else none. */
    public List<Clause> behind(ClausesText before) {
        int count = before.clauses.size();
        boolean whole = count == 0 || clauses.get(count - 1) == before.clauses.get(count - 1);
        return whole ? clauses.subList(count, clauses.size()) : List.of();
    }
}
