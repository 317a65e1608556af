package dev.fiesta.operate.window;

import dev.fiesta.problem.Notices;
import dev.fiesta.step.WalkSpec;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import dev.fiesta.walk.Frame;
import org.jspecify.annotations.Nullable;

/** Where the rows begin and end whose key lies within a span of that of a row, as it goes from row to row. */
final class SpanBounds {
    private final Frame.Span span;
    private final Keys own;
    private final Keys low;
    private final Keys high;
    private long end;
    private long first;
    private long behind;
    private long earliest;

    SpanBounds(Frame.Span span, WalkSpec spec, SpilledRows sorted) {
        this.span = span;
        this.own = new Keys(spec, sorted);
        this.low = new Keys(spec, sorted);
        this.high = new Keys(spec, sorted);
    }

    /** A partition begins, from one position to before another. */
    void begin(long from, long to) {
        end = to;
        own.to(from);
        low.to(from);
        high.to(from);
        earliest = own.isMissing() ? 0 : own.value();
    }

    /** Moves to a row, which sees nothing where it has no key; whether all of the span lies in the partition, where it lies behind the row. */
    boolean to(long position) {
        own.to(position);
        if (own.isMissing()) {
            first = end;
            behind = end;
            return false;
        }
        long value = own.value();
        long limit = span.reach(own.type(), value, span.forward());
        low.toValue(span.forward() ? value : limit + 1, end);
        high.to(Math.max(high.position(), span.forward() ? low.position() : position));
        high.toValue(span.forward() ? limit : value + 1, end);
        first = low.position();
        behind = high.position();
        return earliest <= limit + 1;
    }

    /** The first position of the row's frame. */
    long first() {
        return first;
    }

    /** The position behind it. */
    long behind() {
        return behind;
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
