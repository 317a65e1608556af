package dev.fiesta.gather;

import dev.fiesta.gather.frames.Far;
import dev.fiesta.gather.frames.Sliding;
import dev.fiesta.gather.frames.SlidingColumns;
import dev.fiesta.gather.values.Grow;
import dev.fiesta.value.Bits;
import dev.fiesta.value.Column;
import dev.fiesta.value.TruthColumn;
import dev.fiesta.value.Type;
import dev.fiesta.value.Validity;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** {@code any} and {@code all}; missing over nothing. */
final class Truths implements Accumulator {
    private final boolean all;
    private long[] trues = new long[0];
    private long[] falses = new long[0];

    Truths(boolean all) {
        this.all = all;
    }

    static List<GatherFunction> functions() {
        return List.of(
                function("any", "Whether the condition is true for a row.", "true", false),
                function("all", "Whether the condition is true for every row that has it.", "false", true));
    }

    private static GatherFunction function(String name, String about, String result, boolean all) {
        String usage = name + "(condition)";
        return GatherFunction.of(name, usage, about, name + "(takings > 40)", result, args -> {
            GatherFunctions.truth(args, usage);
            return new GatherFunction.Bound(Type.TRUTH, () -> new Truths(all))
                    .carryingOn(
                            (frames, values, before) -> Sliding.over(frames, values, new InFrame(all, (Truths) before)))
                    .far(Far.of(() -> new InFrame(all, null)));
        });
    }

    /** What holds in a frame that moves. */
    private static final class InFrame extends SlidingColumns {
        private final Truths inside;
        private long[] bits = new long[0];

        InFrame(boolean all, @Nullable Truths before) {
            inside = new Truths(all);
            inside.grow(1);
            if (before != null) {
                inside.merge(before, new int[1]);
            }
        }

        @Override
        public void coming(Column[] values) {
            super.coming(new Column[] {GatherFunctions.truths(values[0])});
        }

        @Override
        public void going(Column[] values) {
            super.going(new Column[] {GatherFunctions.truths(values[0])});
        }

        @Override
        public void own(Column[] values, int rows) {
            super.own(values, rows);
            bits = Bits.none(rows);
        }

        @Override
        public void come(int row) {
            move((TruthColumn) coming[0], row, 1);
        }

        @Override
        public void go(int row) {
            move((TruthColumn) going[0], row, -1);
        }

        private void move(TruthColumn truths, int row, int by) {
            if (!truths.isMissing(row)) {
                (truths.isTrue(row) ? inside.trues : inside.falses)[0] += by;
            }
        }

        @Override
        public void look(int row) {
            if (inside.isEmpty(0)) {
                none(row);
            } else if (inside.holds(0)) {
                Bits.set(bits, row);
            }
        }

        @Override
        public Column figures() {
            return new TruthColumn(bits, numbers.length, valid);
        }
    }

    private boolean isEmpty(int group) {
        return trues[group] + falses[group] == 0;
    }

    private boolean holds(int group) {
        return all ? falses[group] == 0 : trues[group] > 0;
    }

    @Override
    public void grow(int groups) {
        trues = Grow.to(trues, groups);
        falses = Grow.to(falses, groups);
    }

    @Override
    public void add(int[] groups, Column[] args, int rows, long order) {
        TruthColumn truths = GatherFunctions.truths(args[0]);
        for (int i = 0; i < rows; i++) {
            if (!truths.isMissing(i)) {
                (truths.isTrue(i) ? trues : falses)[groups[i]]++;
            }
        }
    }

    @Override
    public void merge(Accumulator other, int[] into) {
        Truths theirs = (Truths) other;
        for (int i = 0; i < into.length; i++) {
            if (into[i] < 0) {
                continue;
            }
            trues[into[i]] += theirs.trues[i];
            falses[into[i]] += theirs.falses[i];
        }
    }

    @Override
    public Column finish(int groups) {
        long[] bits = Bits.none(groups);
        long[] valid = null;
        for (int i = 0; i < groups; i++) {
            if (isEmpty(i)) {
                valid = Validity.without(valid, groups, i);
            } else if (holds(i)) {
                Bits.set(bits, i);
            }
        }
        return new TruthColumn(bits, groups, valid);
    }

    @Override
    public long memory() {
        return 8L * (trues.length + falses.length);
    }

    @Override
    public void write(int group, DataOutput out) throws IOException {
        out.writeLong(trues[group]);
        out.writeLong(falses[group]);
    }

    @Override
    public void read(int group, DataInput in) throws IOException {
        trues[group] += in.readLong();
        falses[group] += in.readLong();
    }
}
