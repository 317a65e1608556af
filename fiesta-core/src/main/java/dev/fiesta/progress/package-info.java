/** What a run is doing, and what it did. Start at {@link dev.fiesta.progress.Progress}. */
@NullMarked
package dev.fiesta.progress;

import org.jspecify.annotations.NullMarked;
