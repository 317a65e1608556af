/** The text of a brief and its syntax trees. Start at {@link dev.fiesta.language.Parser}. */
@NullMarked
package dev.fiesta.language;

import org.jspecify.annotations.NullMarked;
