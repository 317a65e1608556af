/** What moved a sum or a ratio between two sides, part by part. Start at {@link dev.fiesta.moved.Decomposition}. */
@NullMarked
package dev.fiesta.moved;

import org.jspecify.annotations.NullMarked;
