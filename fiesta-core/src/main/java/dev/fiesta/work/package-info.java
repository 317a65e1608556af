/** Several threads at one job: who failed first, who comes next, who was asked to stop. Start at {@link dev.fiesta.work.Workers}. */
@NullMarked
package dev.fiesta.work;

import org.jspecify.annotations.NullMarked;
