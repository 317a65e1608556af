package dev.fiesta.engine;

import java.util.BitSet;

/** What a step does that needs all rows of a table at once: in memory where they fit, else over the file of the run. */
interface Operator {
    /**
     * Works on all rows.
     *
     * @param before the slots needed before the step
     * @param after the slots needed behind it
     */
    Stored run(Stored rows, BitSet before, BitSet after);
}
