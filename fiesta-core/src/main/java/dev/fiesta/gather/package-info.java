/** Figures of groups: accumulators held in arrays by group number, a function in the file of its accumulator. Start at {@link dev.fiesta.gather.Accumulator}. */
@NullMarked
package dev.fiesta.gather;

import org.jspecify.annotations.NullMarked;
