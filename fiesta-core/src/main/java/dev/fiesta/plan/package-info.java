/** What to do: names, levels and types settled. Start at {@link dev.fiesta.plan.Planner}. It is large because each clause has a binder of its own. */
@NullMarked
package dev.fiesta.plan;

import org.jspecify.annotations.NullMarked;
