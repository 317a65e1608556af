/** Figures of frames that move: a row comes, a row goes, the figure is looked at. Start at {@link dev.fiesta.gather.frames.Sliding}. */
@NullMarked
package dev.fiesta.gather.frames;

import org.jspecify.annotations.NullMarked;
