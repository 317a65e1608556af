/** Where records come from. Start at {@link dev.fiesta.source.Source}. It is large because delimited text, lines and records of other formats are each found, read and guessed, and share how. */
@NullMarked
package dev.fiesta.source;

import org.jspecify.annotations.NullMarked;
