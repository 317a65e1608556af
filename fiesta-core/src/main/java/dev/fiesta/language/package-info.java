/** The text of a brief and its syntax trees. Start at {@link dev.fiesta.language.Parser}. It is large because each part of a brief has a parser of its own. */
@NullMarked
package dev.fiesta.language;

import org.jspecify.annotations.NullMarked;
