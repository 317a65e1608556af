package dev.fiesta.editing;

import dev.fiesta.catalogue.Entry;
import dev.fiesta.gather.GatherFunctions;
import dev.fiesta.language.Token;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A call whose bracket is open at a place.
 *
 * @param function what is called
 * @param argument which of its arguments the place stands in, from 0
 */
public record OpenCall(Entry function, int argument) {
    /** A bracket that is open: the word before it, and how many commas stand in it so far. */
    private record Bracket(@Nullable Token before, int commas) {
        boolean gathers() {
            return before != null && (before.text().equals("each") || GatherFunctions.find(before.text()) != null);
        }
    }

    static @Nullable OpenCall at(UnfinishedBrief brief, int offset) {
        for (Bracket bracket : open(brief.words(), 0, offset)) {
            if (bracket.before != null) {
                Entry function = WordLookup.function(bracket.before.text());
                return function == null ? null : new OpenCall(function, bracket.commas);
            }
        }
        return null;
    }

    /** Whether a place stands in the brackets of a call that gathers records. */
    static boolean gathers(List<Token> words, int from, int offset) {
        return open(words, from, offset).stream().anyMatch(Bracket::gathers);
    }

    /** The brackets open at a place, the innermost first. */
    private static Deque<Bracket> open(List<Token> words, int from, int offset) {
        Deque<Bracket> open = new ArrayDeque<>();
        Token before = null;
        for (Token word : words) {
            if (word.at().start() < from) {
                continue;
            }
            if (word.at().end() > offset || word.is(Token.Kind.END)) {
                break;
            }
            if (word.is(Token.Kind.SIGN)) {
                if (word.text().equals("(")) {
                    open.push(new Bracket(before != null && before.is(Token.Kind.NAME) ? before : null, 0));
                } else if (word.text().equals(")") && !open.isEmpty()) {
                    open.pop();
                } else if (word.text().equals(",") && !open.isEmpty()) {
                    Bracket inner = open.pop();
                    open.push(new Bracket(inner.before, inner.commas + 1));
                }
            }
            before = word;
        }
        return open;
    }
}
