/** Figures of groups: accumulators held in arrays by group number. Start at {@link dev.fiesta.gather.Accumulator}. */
@NullMarked
package dev.fiesta.gather;

import org.jspecify.annotations.NullMarked;
