package dev.fiesta.language;

import dev.fiesta.catalogue.ForeignWord;
import dev.fiesta.language.Token.Kind;
import dev.fiesta.problem.Names;
import dev.fiesta.problem.Suggestion;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;

/** What people write by habit where it means nothing here, and how it is said. */
final class Slips {
    /** Words that a clause goes on with; who mistypes one seems to begin another clause. */
    private static final List<String> GO_ON = List.of("desc", "within", "against");
    /** Words inside the brackets of a call. */
    private static final Set<String> IN_CALLS = Set.of("within", "along", "running", "last", "next", "full");

    private Slips() {}

    /** {@code per by site}: no clause but {@code totals} has a {@code by}. */
    static void refuseBy(Cursor words, String clause) {
        if (words.peek().spelt("by")
                && words.ahead(1).isName()
                && !words.ahead(2).sign(",")) {
            String rest = words.restOfLine(words.ahead(1).at());
            throw words.failure(
                    words.peek().at(),
                    "'" + clause + "' takes no 'by'.",
                    Suggestion.between(
                            "It is written: " + clause + " " + rest,
                            words.peek().at().start(),
                            words.ahead(1).at().start(),
                            ""));
        }
    }

    /** {@code first 3 by amount}. */
    static void refuseFirstBy(Cursor words, Span start) {
        if (words.peek().spelt("by")) {
            String so = words.text(start.to(words.last()));
            throw words.failure(
                    words.peek().at(),
                    "What 'first' goes by follows 'along'.",
                    Suggestion.instead(
                            "It is written: " + so + " along "
                                    + words.restOfLine(words.ahead(1).at()),
                            List.of("along")));
        }
    }

    /** {@code per site, give n = count()}: no key is named so. */
    static void refuseCommaBeforeGive(Cursor words, List<Assign> keys) {
        boolean comma = keys.size() > 1 && keys.get(keys.size() - 1).name().equals("give");
        if (comma && words.peek().isName()) {
            Span commaBefore = words.back(2).at();
            throw words.failure(
                    keys.get(keys.size() - 1).at(),
                    "There is a comma before 'give', but no further key.",
                    Suggestion.between("Take the comma away.", commaBefore.start(), commaBefore.end(), ""));
        }
    }

    /** {@code per site total = sum(amount)} and {@code per site give = sum(amount)}. */
    static void refuseMissingGive(Cursor words) {
        if (words.peek().spelt("give") && words.ahead(1).sign("=")) {
            throw words.failure(
                    words.ahead(1).at(),
                    "A name for the figure is expected here, not '='.",
                    "Write for instance 'give total "
                            + words.restOfLine(words.ahead(1).at()) + "'.");
        }
        if (words.peek().isName() && words.ahead(1).sign("=") && !Keywords.isStep(words.peek())) {
            throw words.failure(
                    words.peek().at(),
                    "Between keys stand commas, and before figures stands 'give'.",
                    Suggestion.between(
                            "If this is a figure: give "
                                    + words.restOfLine(words.peek().at()),
                            words.peek().at().start(),
                            words.peek().at().start(),
                            "give "));
        }
    }

    /** What is written instead of the rest of a line. */
    private static Suggestion instead(Cursor words, Span from, String ours) {
        String text = "It is written: " + ours;
        int end = from.start() + words.restOfLine(from).length();
        boolean whole = !ours.contains("…") && Keywords.CLAUSES.contains(ours.split(" ")[0]);
        return whole ? Suggestion.between(text, from.start(), end, ours) : new Suggestion(text, List.of());
    }

    /** A word where a clause should begin. */
    static Cursor.Failure noClause(Cursor words, Token before, Token word) {
        Span at = word.at();
        String message = "A clause is expected here, not " + word.shown() + ".";
        if (word.sign(")")) {
            return words.failure(at, "This ')' closes no bracket.", "Take it away, or open a bracket before.");
        }
        boolean number = before.is(Kind.INTEGER) || before.is(Kind.DECIMAL);
        if (word.sign(",") && number && words.ahead(1).is(Kind.INTEGER)) {
            return words.failure(
                    before.at().to(words.ahead(1).at()),
                    "Numbers are written with a point, and without anything between thousands.",
                    Suggestion.instead(
                            "Write for instance 1234.50.",
                            List.of(before.text() + words.ahead(1).text())));
        }
        if (word.is(Kind.NAME) && IN_CALLS.contains(word.text())) {
            return words.failure(
                    at,
                    "'" + word.text() + "' belongs inside the brackets of a call.",
                    "Put it before the closing bracket: … " + words.restOfLine(at)
                            + "). For the best rows: first 3 within KEY along EXPR");
        }
        if (word.is(Kind.NAME) && GO_ON.contains(word.text())) {
            return words.failure(
                    at,
                    "'" + word.text()
                            + "' goes on from something, and nothing that it could go on from stands before it.",
                    word.text().equals("against")
                            ? "It follows the keys of a grouping: per KEY against KEY"
                            : "It follows what is put in order: sort KEY desc");
        }
        List<String> known = new ArrayList<>(Keywords.CLAUSES);
        known.addAll(GO_ON);
        List<String> near = Names.nearest(word.text(), known).stream()
                .filter(n -> n.charAt(0) == word.text().charAt(0))
                .toList();
        String meant = ForeignWord.clause(word.text(), words.restOfLine(at)).orElse(null);
        if (meant != null) {
            return words.failure(at, message, meant.endsWith(".") ? meant : instead(words, at, meant));
        }
        if (near.isEmpty() && before != word && before.is(Kind.NAME) && word.isName() && !Keywords.isStep(before)) {
            return words.failure(
                    at,
                    message,
                    "If '" + before.text() + "' is meant as a function, its values stand in brackets: " + before.text()
                            + "(" + words.text(at) + ").");
        }
        return words.failure(
                at,
                message,
                near.isEmpty()
                        ? Names.didYouMean(word.text(), Keywords.CLAUSES, "There are")
                        : Names.didYouMean(word.text(), near, ""));
    }
}
