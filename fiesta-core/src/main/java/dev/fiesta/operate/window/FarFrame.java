package dev.fiesta.operate.window;

import dev.fiesta.gather.frames.Sliding;
import dev.fiesta.step.WalkSpec;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.value.Column;
import dev.fiesta.walk.Frame;
import org.jspecify.annotations.Nullable;

/** A frame on its way through rows in a file: tells a figure what comes into it and what goes out of it as it moves from row to row. */
final class FarFrame {
    private final Frame frame;
    private final FarRows.Reader coming;
    private final FarRows.Reader going;
    private final Sliding figure;
    private final @Nullable SpanBounds span;
    private Column[] comingColumns = new Column[0];
    private Column[] goingColumns = new Column[0];
    private long start;
    private long end;
    private long first;
    private long behind;
    private boolean whole;
    /** How many rows inside have a value. */
    private long present;

    FarFrame(
            Frame frame,
            WalkSpec spec,
            SpilledRows sorted,
            FarRows.Reader coming,
            FarRows.Reader going,
            Sliding figure) {
        this.frame = frame;
        this.coming = coming;
        this.going = going;
        this.figure = figure;
        this.span = frame.span() == null ? null : new SpanBounds(frame.span(), spec, sorted);
        come();
        go();
    }

    /** A partition begins, from one position to before another: nothing of the one before is inside. */
    void begin(long from, long to) {
        while (going.position() < from) {
            leave();
        }
        while (coming.position() < from) {
            come();
        }
        start = from;
        end = to;
        if (span != null) {
            span.begin(from, to);
        }
    }

    /** Moves to a row; whether its figure is shown. */
    boolean to(long position) {
        if (span != null) {
            whole = span.to(position);
            first = span.first();
            behind = span.behind();
        } else {
            long from = frame.from() == Frame.START ? start : position + frame.from();
            long to = frame.to() == Frame.END ? end : position + frame.to() + 1;
            whole = from >= start && to <= end;
            first = Math.max(start, Math.min(from, end));
            behind = Math.max(start, Math.min(to, end));
        }
        while (coming.position() < behind) {
            figure.come(coming.row());
            present += isPresent(comingColumns, coming.row());
            come();
        }
        while (going.position() < first) {
            leave();
        }
        figure.goesNext(going.position() < coming.position() ? going.row() : -1);
        return (whole || !frame.full()) && present >= frame.atLeast();
    }

    /** A row that was inside goes, one that never came is passed. */
    private void leave() {
        if (going.position() < coming.position()) {
            figure.go(going.row());
            present -= isPresent(goingColumns, going.row());
        }
        go();
    }

    private static int isPresent(Column[] columns, int row) {
        return columns.length == 0 || !columns[0].isMissing(row) ? 1 : 0;
    }

    private void come() {
        Column[] begun = coming.next();
        if (begun != null) {
            comingColumns = begun;
            figure.coming(begun);
        }
    }

    private void go() {
        Column[] begun = going.next();
        if (begun != null) {
            goingColumns = begun;
            figure.going(begun);
        }
    }
}
