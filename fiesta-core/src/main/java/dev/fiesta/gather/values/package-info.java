/** What figures keep of values: exact sums, places, ranks, images of values by which they are compared. Start at {@link dev.fiesta.gather.values.Image}. */
@NullMarked
package dev.fiesta.gather.values;

import org.jspecify.annotations.NullMarked;
