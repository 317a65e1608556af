/** Puts plans to work. Start at {@link dev.fiesta.engine.Engine}. */
@NullMarked
package dev.fiesta.engine;

import org.jspecify.annotations.NullMarked;
