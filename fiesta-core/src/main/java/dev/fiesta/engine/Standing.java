package dev.fiesta.engine;

/**
 * Rows between two steps.
 *
 * @param count how many there are as it is written; those that the next step drops in any case may be left out
 */
record Standing(Stored rows, long count) {
    /** None is left out. */
    static Standing all(Stored rows) {
        return new Standing(rows, rows.rows());
    }
}
