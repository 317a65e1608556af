/** The demo data and runnable examples. Start at {@link dev.fiesta.examples.Ribera}. */
@NullMarked
package dev.fiesta.examples;

import org.jspecify.annotations.NullMarked;
