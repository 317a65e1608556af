package dev.fiesta.gather;

import dev.fiesta.gather.frames.Far;
import dev.fiesta.gather.frames.Frames;
import dev.fiesta.gather.frames.SlidingColumns;
import dev.fiesta.gather.values.Grow;
import dev.fiesta.value.Bits;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Counts rows, rows that have a value, or rows for which something is true. */
final class Counts implements Accumulator {
    /** What is counted. */
    enum What {
        ROWS,
        VALUES,
        TRUE
    }

    private final What what;
    private long[] counts = new long[0];

    Counts(What what) {
        this.what = what;
    }

    static List<GatherFunction> functions() {
        return List.of(
                GatherFunction.of(
                                "count",
                                "count([x])",
                                "The number of rows, or of rows where x is not missing.",
                                "count(takings)",
                                "4",
                                args -> {
                                    args.expectCount(0, 1, "count([x])");
                                    return bound(args.count() == 0 ? What.ROWS : What.VALUES);
                                })
                        .addingUp()
                        .additive("count"),
                GatherFunction.of(
                                "count_if",
                                "count_if(condition)",
                                "The number of rows for which the condition is true.",
                                "count_if(takings > 15)",
                                "3",
                                args -> {
                                    GatherFunctions.truth(args, "count_if(condition)");
                                    return bound(What.TRUE);
                                })
                        .addingUp()
                        .additive("count_if"));
    }

    private static GatherFunction.Bound bound(What what) {
        return new GatherFunction.Bound(Type.INTEGER, () -> new Counts(what))
                .carryingOn((frames, values, before) -> moving(what, frames, values, before))
                .far(Far.of(() -> new InFrame(what)));
    }

    /** How many there are in a frame that moves. */
    private static final class InFrame extends SlidingColumns {
        private final What what;
        private long @Nullable [] comingBits;
        private long @Nullable [] goingBits;
        private long inside;
        private long[] counts = new long[0];

        InFrame(What what) {
            this.what = what;
        }

        @Override
        public void coming(Column[] values) {
            comingBits = met(what, values);
        }

        @Override
        public void going(Column[] values) {
            goingBits = met(what, values);
        }

        @Override
        public void own(Column[] values, int rows) {
            counts = new long[rows];
        }

        @Override
        public void come(int row) {
            inside += comingBits == null || Bits.get(comingBits, row) ? 1 : 0;
        }

        @Override
        public void go(int row) {
            inside -= goingBits == null || Bits.get(goingBits, row) ? 1 : 0;
        }

        @Override
        public void look(int row) {
            counts[row] = inside;
        }

        @Override
        public Column figures() {
            return new LongColumn(Type.INTEGER, counts, counts.length, null);
        }
    }

    private static Column moving(What what, Frames frames, Column[] values, @Nullable Accumulator before) {
        int size = frames.size();
        long[] bits = met(what, values);
        long earlier = before == null ? 0 : ((Counts) before).counts[0];
        int[] met = new int[size + 1];
        for (int i = 0; i < size; i++) {
            met[i + 1] = met[i] + (bits == null || Bits.get(bits, i) ? 1 : 0);
        }
        int[] from = frames.from();
        int[] to = frames.to();
        long[] out = new long[size];
        for (int i = 0; i < size; i++) {
            out[i] = earlier + met[to[i]] - met[from[i]];
        }
        return new LongColumn(Type.INTEGER, out, size, null);
    }

    /** The rows that count; of {@code count()} a condition leaves a column that is there where it holds. */
    private static long @Nullable [] met(What what, Column[] values) {
        return values.length == 0
                ? null
                : what == What.TRUE ? GatherFunctions.truths(values[0]).bits() : values[0].valid();
    }

    @Override
    public void grow(int groups) {
        counts = Grow.to(counts, groups);
    }

    @Override
    public void add(int[] groups, Column[] args, int rows, long order) {
        long[] bits = met(what, args);
        long[] times = counts;
        for (int i = 0; i < rows; i++) {
            if (bits == null || Bits.get(bits, i)) {
                times[groups[i]]++;
            }
        }
    }

    @Override
    public void merge(Accumulator other, int[] into) {
        long[] theirs = ((Counts) other).counts;
        for (int i = 0; i < into.length; i++) {
            if (into[i] >= 0) {
                counts[into[i]] += theirs[i];
            }
        }
    }

    @Override
    public Column finish(int groups) {
        return new LongColumn(Type.INTEGER, Arrays.copyOf(counts, groups), groups, null);
    }

    @Override
    public long memory() {
        return 8L * counts.length;
    }

    @Override
    public void write(int group, DataOutput out) throws IOException {
        out.writeLong(counts[group]);
    }

    @Override
    public void read(int group, DataInput in) throws IOException {
        counts[group] += in.readLong();
    }
}
