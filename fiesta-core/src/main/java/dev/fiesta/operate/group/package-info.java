/** Groups: each worker has its own, they are merged, and spilled with what they have gathered. Start at {@link dev.fiesta.operate.group.Grouping}. */
@NullMarked
package dev.fiesta.operate.group;

import org.jspecify.annotations.NullMarked;
