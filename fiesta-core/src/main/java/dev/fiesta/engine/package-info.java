/** Puts plans to work: what is read together, what is kept, which operator a step has. Start at {@link dev.fiesta.engine.Engine}. */
@NullMarked
package dev.fiesta.engine;

import org.jspecify.annotations.NullMarked;
