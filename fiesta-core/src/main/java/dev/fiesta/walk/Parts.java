package dev.fiesta.walk;

import java.util.function.IntConsumer;

/** Work on parts of something, side by side where there are several. */
public interface Parts {
    /** One part, worked on by whoever asks. */
    Parts ONE = new Parts() {
        @Override
        public int count() {
            return 1;
        }

        @Override
        public void each(IntConsumer job) {
            job.accept(0);
        }
    };

    /** The number of parts. */
    int count();

    /** Does a job for each part and waits for all of them. */
    void each(IntConsumer job);

    /** Where a part of {@code size} things begins; the part behind the last begins at the end. */
    default int start(int part, int size) {
        return (int) ((long) size * part / count());
    }
}
