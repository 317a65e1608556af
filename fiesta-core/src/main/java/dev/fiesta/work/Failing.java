package dev.fiesta.work;

import dev.fiesta.problem.DataException;
import dev.fiesta.source.Source;
import dev.fiesta.value.Batch;
import java.util.function.Consumer;

/**
 * The first row of a batch at which something fails, and how. A batch is worked on clause by clause, so that what fails first
 * need not be what stands first.
 *
 * @param sound how many rows before it are sound
 */
public record Failing(int sound, RuntimeException failure) {
    /**
     * Looks for the shortest beginning of a batch that fails.
     *
     * @param found how the whole batch failed
     * @param attempt what was done with it
     */
    public static Failing find(Batch batch, RuntimeException found, Consumer<Batch> attempt) {
        RuntimeException first = found;
        int sound = 0;
        int failing = batch.size();
        while (failing - sound > 1) {
            int middle = (sound + failing) >>> 1;
            try {
                attempt.accept(batch.head(middle));
                sound = middle;
            } catch (DataException | Source.Widened earlier) {
                failing = middle;
                first = earlier;
            }
        }
        if (first instanceof DataException data) {
            data.tell(); // where it stands, while the files that are counted in are there
        }
        return new Failing(sound, first);
    }
}
