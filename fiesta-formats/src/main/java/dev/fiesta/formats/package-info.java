/** Formats of tables besides delimited text. Start at {@link dev.fiesta.formats.JsonLines}. */
@NullMarked
package dev.fiesta.formats;

import org.jspecify.annotations.NullMarked;
