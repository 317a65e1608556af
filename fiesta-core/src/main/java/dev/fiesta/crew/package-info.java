/** Others who read parts of the inputs of a run; start at {@link dev.fiesta.crew.Crew}. */
@NullMarked
package dev.fiesta.crew;

import org.jspecify.annotations.NullMarked;
