/** Expressions over batches, row by row. Start at {@link dev.fiesta.compute.Expression}. It is large because each sort of expression and each family of functions is a class of its own. */
@NullMarked
package dev.fiesta.compute;

import org.jspecify.annotations.NullMarked;
