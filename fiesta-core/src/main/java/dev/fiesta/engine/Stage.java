package dev.fiesta.engine;

import dev.fiesta.value.Batch;

/** What becomes of batches; one for each worker. */
interface Stage {
    void accept(Batch batch);
}
