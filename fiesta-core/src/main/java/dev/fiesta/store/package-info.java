/** Rows of a table at a step, in memory or in the file of a run, what a run may hold, and how what does not fit is sorted. Start at {@link dev.fiesta.store.Stored}. */
@NullMarked
package dev.fiesta.store;

import org.jspecify.annotations.NullMarked;
