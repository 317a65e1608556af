/** The {@code fiesta} command. Start at {@link dev.fiesta.cli.Main}. */
@NullMarked
package dev.fiesta.cli;

import org.jspecify.annotations.NullMarked;
