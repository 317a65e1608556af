package dev.fiesta.gather;

import dev.fiesta.value.Bits;
import dev.fiesta.value.Column;
import dev.fiesta.value.TruthColumn;
import dev.fiesta.value.Type;
import dev.fiesta.value.Validity;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.List;

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
            return new GatherFunction.Bound(Type.TRUTH, () -> new Truths(all));
        });
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
            if (trues[i] + falses[i] == 0) {
                valid = Validity.without(valid, groups, i);
            } else if (all ? falses[i] == 0 : trues[i] > 0) {
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
