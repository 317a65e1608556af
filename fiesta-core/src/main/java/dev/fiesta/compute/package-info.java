/** Expressions over batches, row by row. Start at {@link dev.fiesta.compute.Expression}. */
@NullMarked
package dev.fiesta.compute;

import org.jspecify.annotations.NullMarked;
