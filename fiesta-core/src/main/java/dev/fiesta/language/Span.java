package dev.fiesta.language;

/**
 * A place in a text, as offsets of its UTF-16 units.
 *
 * @param start the first unit
 * @param end the unit after the last
 */
public record Span(int start, int end) {
    /** From the start of this place to the end of another. */
    public Span to(Span last) {
        return new Span(start, Math.max(end, last.end));
    }
}
