package dev.fiesta.engine;

import dev.fiesta.value.Batch;

/** All rows of a table at a step: in memory, or in a file. */
interface Stored {
    long rows();

    /** The rows in memory. */
    Rows load();

    /** The number of blocks that they stand in. */
    int blocks();

    /** The rows of a block; its columns may be read only when they are asked for. */
    Batch batch(int block);
}
