package dev.fiesta.editing;

import dev.fiesta.language.Span;
import java.util.List;

/**
 * What is to be said of a word.
 *
 * @param at where it stands
 * @param head how it is written, or what it is, in the language's own words
 * @param lines sentences below
 */
public record Explanation(Span at, String head, List<String> lines) {}
