/** Where records come from. Start at {@link dev.fiesta.source.Source}. */
@NullMarked
package dev.fiesta.source;

import org.jspecify.annotations.NullMarked;
