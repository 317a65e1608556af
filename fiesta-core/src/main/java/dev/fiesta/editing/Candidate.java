package dev.fiesta.editing;

import dev.fiesta.language.Span;

/**
 * Something that may stand at a place.
 *
 * @param label as it is shown
 * @param replaces what of the text it replaces: what has been typed of it
 * @param words what stands there then
 * @param cursor where in the words one goes on typing, in UTF-16 units; mostly behind them
 * @param detail a few words beside the label
 * @param about what it is, or nothing
 */
public record Candidate(Kind kind, String label, Span replaces, String words, int cursor, String detail, String about) {
    /** {@return the words up to where one goes on typing} */
    public String begun() {
        return words.substring(0, cursor);
    }

    /** Sorts of candidates, those first that are meant most often. */
    public enum Kind {
        VALUE,
        FIELD,
        TABLE,
        PARAMETER,
        FILE,
        TYPE,
        FORMAT,
        WORD,
        CLAUSE,
        FUNCTION
    }
}
