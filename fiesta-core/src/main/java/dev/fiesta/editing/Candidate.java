package dev.fiesta.editing;

import dev.fiesta.language.Span;

/**
 * Something that may stand at a place.
 *
 * @param label as it is shown
 * @param replaces what of the text it replaces: what has been typed of it
 * @param words what stands there then; {@code $0} is where one goes on typing
 * @param detail a few words beside the label
 * @param about what it is, or nothing
 */
public record Candidate(Kind kind, String label, Span replaces, String words, String detail, String about) {
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
