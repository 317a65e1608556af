/** Types and columns: how values are held. Start at {@link dev.fiesta.value.Column}. It is large because each sort of value has a column, and each way to write one a class. */
@NullMarked
package dev.fiesta.value;

import org.jspecify.annotations.NullMarked;
