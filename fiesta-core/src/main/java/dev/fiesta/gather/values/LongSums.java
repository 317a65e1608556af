package dev.fiesta.gather.values;

import dev.fiesta.value.Bits;
import dev.fiesta.value.LongColumn;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.math.BigInteger;

/** Exact sums and counts of longs, by group: 64 bits, and 64 more once a sum has ever left them. */
public final class LongSums {
    private long[] low = new long[0];
    private long[] high = new long[0];
    private boolean wide;
    private long[] counts = new long[0];

    public void grow(int groups) {
        low = Grow.to(low, groups);
        counts = Grow.to(counts, groups);
        if (wide) {
            high = Grow.to(high, low.length);
        }
    }

    public void add(int[] groups, LongColumn column, int rows) {
        long[] values = column.values();
        long[] sums = low;
        long[] times = counts;
        long[] valid = column.valid();
        if (valid == null) {
            for (int i = 0; i < rows; i++) {
                int group = groups[i];
                long old = sums[group];
                long value = values[i];
                long sum = old + value;
                sums[group] = sum;
                times[group]++;
                if (((old ^ sum) & (value ^ sum)) < 0) {
                    carry(group, value);
                }
            }
            return;
        }
        for (int i = 0; i < rows; i++) {
            if (Bits.get(valid, i)) {
                addOne(groups[i], values[i]);
            }
        }
    }

    public void addOne(int group, long value) {
        long old = low[group];
        long sum = old + value;
        low[group] = sum;
        counts[group]++;
        if (((old ^ sum) & (value ^ sum)) < 0) {
            carry(group, value);
        }
    }

    /** Undoes the counting of a value just taken away by adding its opposite, and of the value itself. */
    public void uncount(int group) {
        counts[group] -= 2;
    }

    /** The sum wrapped round: its true value differs from the low half by one time 2^64. */
    private void carry(int group, long value) {
        if (!wide) {
            wide = true;
            high = Grow.to(high, low.length);
        }
        high[group] += value < 0 ? -1 : 1;
    }

    public void merge(LongSums other, int[] into) {
        for (int i = 0; i < into.length; i++) {
            if (into[i] >= 0) {
                addSum(into[i], other.low[i], other.wide ? other.high[i] : 0, other.counts[i]);
            }
        }
    }

    private void addSum(int group, long value, long above, long count) {
        long times = counts[group];
        addOne(group, value);
        counts[group] = times + count;
        if (above != 0) {
            carry(group, 1);
            high[group] += above - 1;
        }
    }

    public long count(int group) {
        return counts[group];
    }

    /** Whether the sum of a group fits a long. */
    public boolean fits(int group) {
        return !wide || high[group] == 0;
    }

    /** The sum, when it fits a long. */
    public long sum(int group) {
        return low[group];
    }

    public BigInteger exact(int group) {
        BigInteger sum = BigInteger.valueOf(low[group]);
        return fits(group) ? sum : sum.add(BigInteger.valueOf(high[group]).shiftLeft(64));
    }

    public long memory() {
        return 8L * (low.length + high.length + counts.length);
    }

    public void write(int group, DataOutput out) throws IOException {
        out.writeLong(low[group]);
        out.writeLong(wide ? high[group] : 0);
        out.writeLong(counts[group]);
    }

    public void read(int group, DataInput in) throws IOException {
        long value = in.readLong();
        long above = in.readLong();
        addSum(group, value, above, in.readLong());
    }
}
