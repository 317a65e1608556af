/** Types and columns: how values are held. Start at {@link dev.fiesta.value.Column}. */
@NullMarked
package dev.fiesta.value;

import org.jspecify.annotations.NullMarked;
