package dev.fiesta.operate;

import dev.fiesta.store.Stored;
import java.util.BitSet;

/** What a step does that needs all rows of a table at once: in memory where they fit, else over the file of the run. */
public interface Operator {
    /**
     * Works on all rows.
     *
     * @param before the slots needed before the step
     * @param after the slots needed behind it
     */
    Stored run(Stored rows, BitSet before, BitSet after);
}
