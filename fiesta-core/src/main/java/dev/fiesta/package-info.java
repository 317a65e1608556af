/**
 * The library: tables of records, asked in the language of briefs. Start at {@link dev.fiesta.Fiesta}.
 */
@NullMarked
package dev.fiesta;

import org.jspecify.annotations.NullMarked;
