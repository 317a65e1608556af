package dev.fiesta.walk;

import dev.fiesta.value.Column;
import dev.fiesta.value.Days;
import dev.fiesta.value.LongColumn;
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
        long reach(Type type, long value, boolean ahead) {
            int sign = ahead ? 1 : -1;
            return Days.shift(type, value, sign * months, sign * micros);
        }
    }

    /**
     * The frames of all positions.
     *
     * @param from first position of each frame
     * @param to the position behind each frame
     * @param inside whether it lies wholly inside its partition
     */
    record Bounds(int[] from, int[] to, boolean[] inside) {}

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

    Bounds bounds(Walk walk) {
        int n = walk.length();
        Bounds bounds = new Bounds(new int[n], new int[n], new boolean[n]);
        return span == null ? byRows(walk, bounds) : byValue(walk, bounds, span);
    }

    private Bounds byRows(Walk walk, Bounds bounds) {
        for (int i = 0; i < bounds.from.length; i++) {
            int start = walk.start(i);
            int end = walk.end(i);
            long first = from == START ? start : from == END ? end : (long) i + from;
            long behind = to == END ? end : to == START ? start : (long) i + to + 1;
            bounds.inside[i] = first >= start && behind <= end;
            bounds.from[i] = first(i, start, end);
            bounds.to[i] = Math.max(bounds.from[i], behind(i, start, end));
        }
        return bounds;
    }

    private static Bounds byValue(Walk walk, Bounds bounds, Span span) {
        Column key = walk.key().column().flat();
        long[] values = ((LongColumn) key).values();
        int low = 0;
        int high = 0;
        for (int i = 0; i < bounds.from.length; i++) {
            int start = walk.start(i);
            int end = walk.end(i);
            int row = walk.row(i);
            low = Math.max(low, start);
            high = Math.max(high, start);
            if (key.isMissing(row)) {
                bounds.from[i] = end;
                bounds.to[i] = end;
                continue;
            }
            long value = values[row];
            long limit = span.reach(key.type(), value, span.forward);
            if (span.forward) {
                low = first(walk, key, values, low, end, value);
                high = first(walk, key, values, Math.max(high, low), end, limit);
                bounds.inside[i] = end > start && last(walk, key, values, end) >= limit - 1;
            } else {
                low = first(walk, key, values, low, end, limit + 1);
                high = first(walk, key, values, Math.max(high, i), end, value + 1);
                bounds.inside[i] = values[walk.row(start)] <= limit + 1;
            }
            bounds.from[i] = low;
            bounds.to[i] = high;
        }
        return bounds;
    }

    /** The first position from {@code at} on whose value is at or above a limit; missing values stand behind all others. */
    private static int first(Walk walk, Column key, long[] values, int at, int end, long limit) {
        int position = at;
        while (position < end && !key.isMissing(walk.row(position)) && values[walk.row(position)] < limit) {
            position++;
        }
        return position;
    }

    private static long last(Walk walk, Column key, long[] values, int end) {
        int position = end - 1;
        while (key.isMissing(walk.row(position))) {
            position--;
        }
        return values[walk.row(position)];
    }
}
