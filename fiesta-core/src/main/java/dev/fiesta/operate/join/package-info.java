/** Look-ups: a build, a probe, and what is parted where it does not fit. Start at {@link dev.fiesta.operate.join.JoinOperator}. */
@NullMarked
package dev.fiesta.operate.join;

import org.jspecify.annotations.NullMarked;
