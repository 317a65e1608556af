/** Copies of inputs in columns, kept from one run to the next. {@link dev.fiesta.copy.Copies} is the door. */
@NullMarked
package dev.fiesta.copy;

import org.jspecify.annotations.NullMarked;
