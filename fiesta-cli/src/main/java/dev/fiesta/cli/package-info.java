/** The {@code fiesta} command, a class for each of its commands. Start at {@link dev.fiesta.cli.Main}. */
@NullMarked
package dev.fiesta.cli;

import org.jspecify.annotations.NullMarked;
