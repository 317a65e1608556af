/** Partitions, orders, frames and ranks. Start at {@link dev.fiesta.walk.WalkFunction}. */
@NullMarked
package dev.fiesta.walk;

import org.jspecify.annotations.NullMarked;
