package dev.fiesta.engine;

/** All rows of a table at a step: in memory, or in a file. */
interface Stored {
    long rows();

    /** The rows in memory. */
    Rows load();
}
