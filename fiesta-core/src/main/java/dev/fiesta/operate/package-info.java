/** What steps do with rows: batch by batch, or all of them at once. Start at {@link dev.fiesta.operate.Operator}; a new one is named in {@code dev.fiesta.engine.Operators}. */
@NullMarked
package dev.fiesta.operate;

import org.jspecify.annotations.NullMarked;
