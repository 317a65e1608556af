/**
 * Tables that tell how another table came about, made of its own clauses: the records behind a row, the rows in a frame, what a figure
 * is made of. They are plans like any other; who asks runs them.
 */
@NullMarked
package dev.fiesta.trace;

import org.jspecify.annotations.NullMarked;
