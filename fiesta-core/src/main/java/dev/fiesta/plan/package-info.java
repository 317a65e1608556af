/** What to do: names, levels and types settled. Start at {@link dev.fiesta.plan.Planner}. */
@NullMarked
package dev.fiesta.plan;

import org.jspecify.annotations.NullMarked;
