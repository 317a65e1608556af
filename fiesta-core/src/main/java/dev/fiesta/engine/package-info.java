/** Puts plans to work: what is read together, what is kept, which operator a step has. Start at {@link dev.fiesta.engine.Engine}. It is large because what a table reads alone, together with others and with the members of a crew is one machine. */
@NullMarked
package dev.fiesta.engine;

import org.jspecify.annotations.NullMarked;
