/**
 * What each step is to an engine: what it does with a batch, or with all rows at once, and which rows it must see together. A new step is
 * one line here. Start at {@link dev.fiesta.operate.steps.Operators}.
 */
@NullMarked
package dev.fiesta.operate.steps;

import org.jspecify.annotations.NullMarked;
