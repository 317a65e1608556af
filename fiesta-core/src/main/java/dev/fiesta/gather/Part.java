package dev.fiesta.gather;

import dev.fiesta.value.Column;

/** A figure that sets what it has gathered in proportion to a wider whole. */
public interface Part extends Accumulator {
    /**
     * The parts that groups have in wider groups.
     *
     * @param from the first of the groups
     * @param into the wider group of each, in {@code whole}
     */
    Column ofWider(Accumulator whole, int from, int[] into);

    /** The part that each row's value has in its group. */
    Column ofRows(Column values, int[] group);
}
