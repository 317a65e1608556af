package dev.fiesta.gather;

import dev.fiesta.value.Column;

/** Takes values that do not fit into memory away and counts the different ones of each group at the end. */
public interface Shelf {
    /**
     * Takes values away.
     *
     * @param groups the group of each
     */
    void put(Column values, int[] groups);

    /**
     * Takes in what another has taken.
     *
     * @param into for each group of the other, the group here; negative for groups that are left out
     */
    void adopt(Shelf other, int[] into);

    /** An empty one of the same kind. */
    Shelf another();

    /** For groups 0 to {@code groups - 1} the number of different values. */
    long[] distinct(int groups);
}
