package dev.fiesta.editing;

import dev.fiesta.language.Span;

/**
 * A name in a brief.
 *
 * @param at where it stands, as it is written
 * @param meaning what it stands for
 * @param defines whether it is made here
 */
public record Occurrence(Span at, Meaning meaning, boolean defines) {}
