package dev.fiesta.engine;

import dev.fiesta.progress.Timing;
import dev.fiesta.progress.Watch;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.IdentityHashMap;
import java.util.Map;
import java.util.Objects;
import java.util.function.ToLongFunction;

/** The rows that came to the steps of the lanes of one pass, and those that they left. Workers add to it. */
final class LaneCounts {
    private record Rows(long[] in, long[] out) {}

    private final Map<Lane, Rows> all = new IdentityHashMap<>();

    void note(Lane lane) {
        int steps = lane.end() - lane.first() + 1;
        all.put(lane, new Rows(new long[steps], new long[steps]));
    }

    synchronized void add(Lane lane, int step, long in, long out) {
        Rows rows = of(lane);
        rows.in()[step - lane.first()] += in;
        rows.out()[step - lane.first()] += out;
    }

    /** So many rows came to a lane, also those that need not be seen. */
    void came(Lane lane, long rows) {
        of(lane).in()[0] = rows;
    }

    /** Writes what was counted of a lane, for one of the same steps elsewhere. */
    void write(Lane lane, DataOutput out) throws IOException {
        Rows rows = of(lane);
        for (int i = 0; i < rows.in().length; i++) {
            out.writeLong(rows.in()[i]);
            out.writeLong(rows.out()[i]);
        }
    }

    /** Adds what was counted there. */
    synchronized void read(Lane lane, DataInput in) throws IOException {
        Rows rows = of(lane);
        for (int i = 0; i < rows.in().length; i++) {
            rows.in()[i] += in.readLong();
            rows.out()[i] += in.readLong();
        }
    }

    private Rows of(Lane lane) {
        return Objects.requireNonNull(all.get(lane));
    }

    /**
     * Tells what the steps of a lane, and of those behind it, did.
     *
     * @param taken how many rows what takes in those of a lane has made of them
     * @param nanos how long it took, told of the last step
     */
    void tell(Watch watch, Lane lane, ToLongFunction<Sink> taken, long nanos, long held, long spilled) {
        int last = lane.takesIn() ? lane.end() : lane.end() - 1;
        for (int i = lane.first(); i <= last; i++) {
            int number = lane.way().numbers().get(i);
            if (number < 0) {
                continue;
            }
            boolean takesIn = i == lane.end();
            long in = of(lane).in()[i - lane.first()];
            long out =
                    takesIn ? taken.applyAsLong(Objects.requireNonNull(lane.sink())) : of(lane).out()[i - lane.first()];
            boolean ends = i == last;
            lane.way().left(i, out);
            watch.add(new Timing(
                    lane.way().name(),
                    number,
                    lane.step(i).word(),
                    in,
                    out,
                    ends ? nanos : 0,
                    ends ? held : 0,
                    ends ? spilled : 0));
        }
        lane.children().forEach(child -> tell(watch, child, taken, 0, 0, 0));
    }
}
