/** Calculations over partitions. Start at {@link dev.fiesta.operate.window.WindowOperator}. */
@NullMarked
package dev.fiesta.operate.window;

import org.jspecify.annotations.NullMarked;
