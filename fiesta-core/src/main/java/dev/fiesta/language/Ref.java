package dev.fiesta.language;

/**
 * A name that is pointed at.
 *
 * @param name the name
 * @param at where it stands
 */
public record Ref(String name, Span at) {}
