/** Orders, and what is chosen along them: the first of each, distinct ones, samples. Start at {@link dev.fiesta.operate.sort.SortOperator}. */
@NullMarked
package dev.fiesta.operate.sort;

import org.jspecify.annotations.NullMarked;
