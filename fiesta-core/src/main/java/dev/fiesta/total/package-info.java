/** Rows worked out from what groups have gathered: totals, rests, cross-tabulations; what must be hidden of them. Start at {@link dev.fiesta.total.Worked}. */
@NullMarked
package dev.fiesta.total;

import org.jspecify.annotations.NullMarked;
