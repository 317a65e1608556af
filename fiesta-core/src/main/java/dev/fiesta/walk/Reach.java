package dev.fiesta.walk;

import dev.fiesta.gather.GatherFunction;

/**
 * Which rows of its partition a value depends on, so that partitions beyond the memory can be walked piece by piece.
 *
 * @param back rows before, where {@code kind} is {@link Kind#NEAR}
 * @param ahead rows behind
 */
public record Reach(Kind kind, int back, int ahead) {
    /** The sorts of dependence. */
    public enum Kind {
        /** A few rows around. */
        NEAR,
        /** How many rows stand before: what a piece gives is too small by their number. */
        ROWS_BEFORE,
        /** How many different rows stand before. */
        DIFFERENT_BEFORE,
        /** All rows up to this one: what they have gathered is carried on. */
        GATHERED,
        /** Any row. */
        ALL
    }

    static final Reach ALL = new Reach(Kind.ALL, 0, 0);
    private static final int FAR = 1 << 12;

    /** Some rows around; too many are as good as all. */
    static Reach near(long back, long ahead) {
        return back > FAR || ahead > FAR
                ? ALL
                : new Reach(Kind.NEAR, (int) Math.max(0, back), (int) Math.max(0, ahead));
    }

    /** That of a figure over a moving frame. */
    public static Reach of(GatherFunction.Bound figure, Frame frame) {
        boolean rows = frame.span() == null;
        if (rows && frame.from() != Frame.START && frame.from() != Frame.END && Math.abs(frame.to()) <= FAR) {
            return near(-(long) frame.from(), frame.to());
        }
        boolean running =
                rows && frame.from() == Frame.START && frame.to() == 0 && !frame.full() && frame.atLeast() == 0;
        return running && figure.carriesOn() ? new Reach(Kind.GATHERED, 0, 0) : ALL;
    }
}
