package dev.fiesta.gather.values;

import dev.fiesta.value.Column;

/** Takes rows that do not fit into memory, some of them at a time, and gives them back. */
public interface Drawer {
    /** How many rows are worth putting away together. */
    int rows();

    /**
     * Takes rows away.
     *
     * @return the number by which they are asked for
     */
    int put(Column[] columns, int rows);

    Column[] get(int number);
}
