/** Words and options explained. Start at {@link dev.fiesta.cli.help.HelpCommand}. */
@NullMarked
package dev.fiesta.cli.help;

import org.jspecify.annotations.NullMarked;
