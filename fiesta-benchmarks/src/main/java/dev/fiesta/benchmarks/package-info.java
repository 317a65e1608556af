/** Benchmarks, and the hand-written programs that they are measured against. */
@NullMarked
package dev.fiesta.benchmarks;

import org.jspecify.annotations.NullMarked;
