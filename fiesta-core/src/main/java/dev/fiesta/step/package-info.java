/**
 * Tables as they are run: steps over slots, with everything settled. Start at {@link dev.fiesta.step.TablePlan}. Plans are made
 * by {@code dev.fiesta.plan} and worked out by {@code dev.fiesta.engine}; a new step says here what it is.
 * It is large because each clause is a step of its own.
 */
@NullMarked
package dev.fiesta.step;

import org.jspecify.annotations.NullMarked;
