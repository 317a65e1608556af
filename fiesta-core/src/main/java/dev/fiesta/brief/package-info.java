/**
 * A brief as a whole: its text with those that it uses, and its inputs, opened. The door is {@link dev.fiesta.brief.Inputs}; what may be
 * read is told by {@link dev.fiesta.brief.Access}. A format to read is not added here, but by
 * {@link dev.fiesta.source.InputFormat}.
 */
@NullMarked
package dev.fiesta.brief;

import org.jspecify.annotations.NullMarked;
