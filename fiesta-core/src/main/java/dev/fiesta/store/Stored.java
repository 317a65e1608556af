package dev.fiesta.store;

import dev.fiesta.value.Batch;

/** All rows of a table at a step: in memory, or in a file. */
public interface Stored {
    long rows();

    /** The rows in memory. */
    Rows load();

    /** The number of blocks that they stand in. */
    int blocks();

    /** The number of the first row of a block; for the block behind the last, of all rows. */
    long start(int block);

    /** The rows of a block; its columns may be read only when they are asked for. */
    Batch batch(int block);

    /** About the memory that they take, in bytes. */
    default long bytes() {
        return 0;
    }
}
