package dev.fiesta.engine;

import dev.fiesta.operate.steps.Meeting;
import org.jspecify.annotations.Nullable;

/**
 * Steps for which rows may be put into parts, each of which is worked on by itself.
 *
 * @param meeting which rows are in one part
 * @param first the first of the steps
 * @param end the first step behind them
 */
record Exchange(Meeting meeting, int first, int end) {
    /** Those from a step on; null where that one must see all rows, or more must be read for it. */
    static @Nullable Exchange of(Way way, int first, Carried carried) {
        Meeting meeting =
                first < way.steps().size() && isRead(way, first, carried) ? Meeting.of(way.step(first)) : null;
        if (meeting == null) {
            return null;
        }
        int end = first + 1;
        while (end < way.steps().size() && meeting.goesOn(way.step(end)) && isRead(way, end, carried)) {
            end++;
        }
        return new Exchange(meeting, first, end);
    }

    private static boolean isRead(Way way, int step, Carried carried) {
        return carried.pending(Carried.named(way, step)).isEmpty();
    }
}
