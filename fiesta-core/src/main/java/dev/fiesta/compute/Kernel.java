package dev.fiesta.compute;

import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;

/** Works out one column of a batch. Belongs to one worker: it may keep what it learnt from earlier batches. */
@FunctionalInterface
public interface Kernel {
    /** One value for each row of the batch; may be constant. */
    Column eval(Batch batch);
}
