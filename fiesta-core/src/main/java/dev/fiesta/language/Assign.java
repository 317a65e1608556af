package dev.fiesta.language;

/**
 * A name and the expression it stands for.
 *
 * @param name the name given
 * @param value what it stands for
 * @param at where the name stands
 * @param named whether the name was written, rather than made from the expression
 */
public record Assign(String name, Expr value, Span at, boolean named) {}
