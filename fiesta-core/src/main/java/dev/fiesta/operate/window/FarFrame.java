package dev.fiesta.operate.window;

import dev.fiesta.gather.Sliding;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.WalkSpec;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import dev.fiesta.walk.Frame;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** A frame on its way through rows in a file: tells a figure what comes into it and what goes out of it as it moves from row to row. */
final class FarFrame {
    private final Frame frame;
    private final FarRows.Reader coming;
    private final FarRows.Reader going;
    private final Sliding figure;
    private final @Nullable Keys own;
    private final @Nullable Keys low;
    private final @Nullable Keys high;
    private Column[] comingColumns = new Column[0];
    private Column[] goingColumns = new Column[0];
    private long start;
    private long end;
    private long first;
    private long behind;
    private boolean whole;
    private long earliest;
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
        this.own = frame.span() == null ? null : new Keys(spec, sorted);
        this.low = frame.span() == null ? null : new Keys(spec, sorted);
        this.high = frame.span() == null ? null : new Keys(spec, sorted);
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
        if (own != null && low != null && high != null) {
            own.to(from);
            low.to(from);
            high.to(from);
            earliest = own.isMissing() ? 0 : own.value();
        }
    }

    /** Moves to a row; whether its figure is shown. */
    boolean to(long position) {
        if (own != null) {
            bySpan(position);
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
        return (whole || !frame.full()) && present >= frame.atLeast();
    }

    /** Rows whose key lies within a span of that of a row; one without a key sees nothing. */
    private void bySpan(long position) {
        Keys here = Objects.requireNonNull(own);
        Keys from = Objects.requireNonNull(low);
        Keys to = Objects.requireNonNull(high);
        Frame.Span span = Objects.requireNonNull(frame.span());
        here.to(position);
        if (here.isMissing()) {
            first = end;
            behind = end;
            whole = false;
            return;
        }
        long value = here.value();
        long limit = span.reach(here.type(), value, span.forward());
        from.toValue(span.forward() ? value : limit + 1, end);
        to.to(Math.max(to.position(), span.forward() ? from.position() : position));
        to.toValue(span.forward() ? limit : value + 1, end);
        first = from.position();
        behind = to.position();
        whole = earliest <= limit + 1;
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

    /** The keys that rows are walked along, in their order; missing ones stand behind all others of their partition. */
    private static final class Keys {
        private final WalkSpec spec;
        private final SpilledRows sorted;
        private @Nullable LongColumn keys;
        private int block = -1;
        private long position = -1;

        Keys(WalkSpec spec, SpilledRows sorted) {
            this.spec = spec;
            this.sorted = sorted;
        }

        long position() {
            return position;
        }

        /** Goes on to a position that is not before this one. */
        void to(long wanted) {
            position = wanted;
            while (block < 0 || (position >= sorted.start(block + 1) && block < sorted.blocks() - 1)) {
                block++;
                keys = null;
            }
        }

        /** Goes on to the first key at or above a limit, or without a value, or to the end. */
        void toValue(long limit, long end) {
            while (position < end && !isMissing() && value() < limit) {
                to(position + 1);
            }
        }

        private LongColumn keys() {
            LongColumn known = keys;
            if (known == null) {
                known = (LongColumn) spec.along()
                        .get(0)
                        .key()
                        .kernel(new Notices())
                        .eval(sorted.batch(block))
                        .flat();
                keys = known;
            }
            return known;
        }

        private int row() {
            return (int) (position - sorted.start(block));
        }

        boolean isMissing() {
            return keys().isMissing(row());
        }

        long value() {
            return keys().values()[row()];
        }

        Type type() {
            return keys().type();
        }
    }
}
