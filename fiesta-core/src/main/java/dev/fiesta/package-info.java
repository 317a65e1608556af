/**
 * The library: tables of records, asked in the language of briefs. Start at {@link dev.fiesta.Fiesta}.
 * It is large because each thing that a caller holds is a class of its own.
 */
@NullMarked
package dev.fiesta;

import org.jspecify.annotations.NullMarked;
