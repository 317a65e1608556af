package dev.fiesta.walk;

import dev.fiesta.gather.frames.Frames;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;

/** A frame seen from each row of a walk. Its bounds are laid out when somebody asks for them. */
final class WalkFrames implements Frames {
    private final Frame frame;
    private final Walk walk;
    private int[] from = new int[0];
    private int[] to = new int[0];
    private boolean[] inside = new boolean[0];

    WalkFrames(Frame frame, Walk walk) {
        this.frame = frame;
        this.walk = walk;
    }

    @Override
    public int size() {
        return walk.length();
    }

    @Override
    public int[] from() {
        layOut();
        return from;
    }

    @Override
    public int[] to() {
        layOut();
        return to;
    }

    /** Whether each frame lies wholly inside its partition. */
    boolean[] inside() {
        layOut();
        return inside;
    }

    @Override
    public boolean arePlain() {
        return frame.isPlain();
    }

    @Override
    public int first(int position, int start, int end) {
        return frame.first(position, start, end);
    }

    @Override
    public int behind(int position, int start, int end) {
        return frame.behind(position, start, end);
    }

    @Override
    public boolean eachPartition(Loop loop) {
        return walk.eachPartition(loop);
    }

    private void layOut() {
        if (from.length < size()) {
            from = new int[size()];
            to = new int[size()];
            inside = new boolean[size()];
            if (frame.span() == null) {
                byRows();
            } else {
                byValue(frame.span());
            }
        }
    }

    private void byRows() {
        for (int i = 0; i < from.length; i++) {
            int start = walk.start(i);
            int end = walk.end(i);
            long first =
                    frame.from() == Frame.START ? start : frame.from() == Frame.END ? end : (long) i + frame.from();
            long behind = frame.to() == Frame.END ? end : frame.to() == Frame.START ? start : (long) i + frame.to() + 1;
            inside[i] = first >= start && behind <= end;
            from[i] = first(i, start, end);
            to[i] = Math.max(from[i], behind(i, start, end));
        }
    }

    private void byValue(Frame.Span span) {
        Column key = walk.key().column().flat();
        long[] values = ((LongColumn) key).values();
        int low = 0;
        int high = 0;
        for (int i = 0; i < from.length; i++) {
            int start = walk.start(i);
            int end = walk.end(i);
            int row = walk.row(i);
            low = Math.max(low, start);
            high = Math.max(high, start);
            if (key.isMissing(row)) {
                from[i] = end;
                to[i] = end;
                continue;
            }
            long value = values[row];
            long limit = span.reach(key.type(), value, span.forward());
            if (span.forward()) {
                low = first(walk, key, values, low, end, value);
                high = first(walk, key, values, Math.max(high, low), end, limit);
                inside[i] = end > start && last(walk, key, values, end) >= limit - 1;
            } else {
                low = first(walk, key, values, low, end, limit + 1);
                high = first(walk, key, values, Math.max(high, i), end, value + 1);
                inside[i] = values[walk.row(start)] <= limit + 1;
            }
            from[i] = low;
            to[i] = high;
        }
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
