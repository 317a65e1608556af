package dev.fiesta.walk;

import dev.fiesta.gather.GatherFunction;
import org.jspecify.annotations.Nullable;

/**
 * Which rows of its partition a value depends on, so that partitions beyond the memory can be walked piece by piece.
 *
 * @param back rows before, where {@code kind} is {@link Kind#NEAR}; the place of the row, where it is {@link Kind#NTH}
 * @param ahead rows behind
 * @param span how far by the key walked along, where {@code kind} is {@link Kind#SPAN}; else null
 */
public record FrameReach(Kind kind, int back, int ahead, Frame.@Nullable Span span) {
    /** The sorts of dependence. */
    public enum Kind {
        /** A few rows around. */
        NEAR,
        /** The rows within a span of time, on one side. */
        SPAN,
        /** How many rows stand before. */
        ROWS_BEFORE,
        /** How many rows stand before, and how many there are. */
        ROWS_OF_ALL,
        /** The value of one row of the partition, {@code back} counted from its first as 1. */
        NTH,
        /** How many different rows stand before. */
        DIFFERENT_BEFORE,
        /** All rows up to this one: what they have gathered is carried on. */
        GATHERED,
        /** Any row. */
        ALL
    }

    public static final FrameReach ALL = of(Kind.ALL);
    /** Rows around that are held beside a piece; farther ones are as good as all. */
    public static final int FAR = 1 << 16;

    static FrameReach of(Kind kind) {
        return new FrameReach(kind, 0, 0, null);
    }

    static FrameReach nth(int place) {
        return new FrameReach(Kind.NTH, place, 0, null);
    }

    /** Some rows around; too many are as good as all. */
    static FrameReach near(long back, long ahead) {
        return back > FAR || ahead > FAR
                ? ALL
                : new FrameReach(Kind.NEAR, (int) Math.max(0, back), (int) Math.max(0, ahead), null);
    }

    static FrameReach within(Frame.Span span) {
        return new FrameReach(Kind.SPAN, 0, 0, span);
    }

    /** That of a figure over a moving frame. */
    public static FrameReach of(GatherFunction.Bound figure, Frame frame) {
        if (frame.span() != null) {
            return frame.full() ? ALL : within(frame.span()); // whether it is full is told by the ends of the partition
        }
        if (frame.from() != Frame.START && frame.from() != Frame.END && Math.abs(frame.to()) <= FAR) {
            return near(-(long) frame.from(), frame.to());
        }
        boolean running = frame.from() == Frame.START && frame.to() == 0 && !frame.full() && frame.atLeast() == 0;
        return running && figure.carriesOn() ? of(Kind.GATHERED) : ALL;
    }

    /**
     * Whether a partition can be walked piece by piece.
     *
     * @param leavesOut whether a condition leaves rows out, so that those near may stand far away
     */
    public boolean isPiecewise(boolean leavesOut) {
        return kind != Kind.ALL && !(kind == Kind.NEAR && leavesOut);
    }
}
