package dev.fiesta.gather.frames;

import dev.fiesta.value.Bits;
import dev.fiesta.value.Column;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.Exact;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import dev.fiesta.value.Values;
import org.jspecify.annotations.Nullable;

/** Sums or means of longs over frames of rows that move through partitions, as long as the sums fit a long. */
public final class SlidingSums {
    private final LongColumn values;
    private final Frames frames;
    private final boolean mean;
    private final long unit;
    private final long most;
    private final long[] sums;
    private final double[] means;
    private final boolean[] empty;

    /**
     * @param values the values by position
     * @param frames plain ones
     */
    public SlidingSums(LongColumn values, Frames frames, boolean mean) {
        this.values = values;
        this.frames = frames;
        this.mean = mean;
        this.unit = Values.power(values.type().scale());
        this.most = values.type().equals(Type.INTEGER) ? Long.MAX_VALUE : Values.power(18) - 1;
        this.sums = new long[mean ? 0 : values.size()];
        this.means = new double[mean ? values.size() : 0];
        this.empty = new boolean[values.size()];
    }

    /** Works out the positions of one partition; false when a sum does not fit. */
    public boolean add(int start, int end) {
        long[] all = values.values();
        long[] valid = values.valid();
        long sum = 0;
        int count = 0;
        int from = start;
        int to = start;
        for (int i = start; i < end; i++) {
            int first = frames.first(i, start, end);
            int behind = frames.behind(i, start, end);
            if (first >= behind) {
                empty[i] = true;
                continue;
            }
            for (; to < behind; to++) {
                if (valid == null || Bits.get(valid, to)) {
                    long more = sum + all[to];
                    if (((sum ^ more) & (all[to] ^ more)) < 0) {
                        return false;
                    }
                    sum = more;
                    count++;
                }
            }
            for (; from < first; from++) {
                if (valid == null || Bits.get(valid, from)) {
                    long less = sum - all[from];
                    if (((sum ^ all[from]) & (sum ^ less)) < 0) {
                        return false;
                    }
                    sum = less;
                    count--;
                }
            }
            empty[i] = count == 0;
            if (mean && count > 0) {
                means[i] = Exact.quotient(sum, Math.multiplyExact(unit, (long) count));
            } else if (!mean) {
                if (sum > most || sum < -most) {
                    return false;
                }
                sums[i] = sum;
            }
        }
        return true;
    }

    /** The figures by position. */
    public Column column() {
        int size = empty.length;
        long @Nullable [] valid = null;
        for (int i = 0; i < size; i++) {
            if (empty[i]) {
                valid = valid == null ? Bits.all(size) : valid;
                Bits.clear(valid, i);
            }
        }
        return mean ? DoubleColumn.cleaned(means, size, valid) : new LongColumn(values.type(), sums, size, valid);
    }
}
