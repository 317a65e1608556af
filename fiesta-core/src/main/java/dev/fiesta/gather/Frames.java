package dev.fiesta.gather;

/** Which rows a moving figure looks at from each row, by the position of the row in its walk. */
public interface Frames {
    /** Works out the positions of one partition. */
    @FunctionalInterface
    interface Loop {
        /** @return whether the other partitions are still wanted */
        boolean run(int start, int end);
    }

    /** The number of positions. */
    int size();

    /** The first position of each frame. */
    int[] from();

    /** The position behind each frame; at or before {@link #from()} where it holds nothing. */
    int[] to();

    /** Whether the frames count rows and show whatever they hold, so that partitions can be worked out one by one. */
    boolean arePlain();

    /** Where the frame of a position begins, in a partition from {@code start} to before {@code end}. */
    int first(int position, int start, int end);

    /** The position behind the frame of a position. */
    int behind(int position, int start, int end);

    /** Goes through the partitions, by several threads; whether all of them were wanted. */
    boolean eachPartition(Loop loop);
}
