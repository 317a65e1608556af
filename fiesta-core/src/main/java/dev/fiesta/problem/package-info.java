/** What can go wrong, told so that it can be put right. Start at {@link dev.fiesta.problem.Problem}. */
@NullMarked
package dev.fiesta.problem;

import org.jspecify.annotations.NullMarked;
