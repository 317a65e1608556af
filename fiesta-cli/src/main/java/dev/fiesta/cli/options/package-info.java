/** What commands have in common: options they share, what they tell, where they print. Start at {@link dev.fiesta.cli.options.Common}. */
@NullMarked
package dev.fiesta.cli.options;

import org.jspecify.annotations.NullMarked;
