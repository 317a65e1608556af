/**
 * Stretches of an input that a crew reads: which is given to whom, and what comes of them taken in, in the order of the pieces. Start at
 * {@link dev.fiesta.stretch.Together}; what is found in stretches is for {@link dev.fiesta.stretch.Findings} to say.
 */
@NullMarked
package dev.fiesta.stretch;

import org.jspecify.annotations.NullMarked;
