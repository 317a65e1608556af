package dev.fiesta.gather.frames;

import java.util.function.IntConsumer;

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

    /** What a figure does when a position enters its frame, or leaves it. */
    @FunctionalInterface
    interface Move {
        void move(int position, boolean away);
    }

    /**
     * Goes from frame to frame.
     *
     * @param move takes in what enters a frame, and takes away what leaves it
     * @param look is told each position when its frame is complete
     */
    default void each(Move move, IntConsumer look) {
        int[] firsts = from();
        int[] behind = to();
        int from = 0;
        int to = 0;
        for (int i = 0; i < firsts.length; i++) {
            if (firsts[i] >= to || firsts[i] < from || behind[i] < to) {
                for (; from < to; from++) {
                    move.move(from, true);
                }
                from = firsts[i];
                to = from;
            }
            for (; to < behind[i]; to++) {
                move.move(to, false);
            }
            for (; from < firsts[i]; from++) {
                move.move(from, true);
            }
            look.accept(i);
        }
    }
}
