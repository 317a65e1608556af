package dev.fiesta.walk;

import dev.fiesta.value.Days;
import dev.fiesta.value.Type;

/**
 * Which rows a moving figure looks at from each row.
 *
 * @param from rows from this one, {@link #START} for the start of the partition
 * @param to rows from this one, included, {@link #END} for the end of the partition
 * @param span a span of time instead of rows, or null
 * @param full missing unless the frame lies wholly inside the partition
 * @param atLeast missing unless so many values are in the frame
 */
public record Frame(
        int from, int to, @org.jspecify.annotations.Nullable Span span, boolean full, int atLeast) {
    public static final int START = Integer.MIN_VALUE;
    public static final int END = Integer.MAX_VALUE;
    /** The whole partition, whatever the row. */
    public static final Frame WHOLE = new Frame(START, END, null, false, 0);

    /**
     * A span of time.
     *
     * @param forward whether it lies ahead
     */
    public record Span(long months, long micros, boolean forward) {
        /** The value so far behind another, or ahead of it. */
        public long reach(Type type, long value, boolean ahead) {
            int sign = ahead ? 1 : -1;
            return Days.shift(type, value, sign * months, sign * micros);
        }
    }

    /** Whether it counts rows and shows whatever it holds. */
    boolean isPlain() {
        return span == null && !full && atLeast == 0;
    }

    /** Where the frame of a position begins, in a partition from {@code start} to before {@code end}. */
    int first(int position, int start, int end) {
        long first = from == START ? start : from == END ? end : (long) position + from;
        return (int) Math.max(start, Math.min(first, end));
    }

    /** The position behind the frame of a position. */
    int behind(int position, int start, int end) {
        long behind = to == END ? end : to == START ? start : (long) position + to + 1;
        return (int) Math.max(start, Math.min(behind, end));
    }

    /** Which rows it holds, seen from each row of a walk. */
    WalkFrames over(Walk walk) {
        return new WalkFrames(this, walk);
    }
}
