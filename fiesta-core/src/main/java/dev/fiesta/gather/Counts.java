package dev.fiesta.gather;

import dev.fiesta.value.Bits;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.TruthColumn;
import dev.fiesta.value.Type;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;

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

    @Override
    public void grow(int groups) {
        counts = Grow.to(counts, groups);
    }

    @Override
    public void add(int[] groups, Column[] args, int rows, long order) {
        long[] bits = what == What.ROWS ? null : what == What.VALUES ? args[0].valid() : ((TruthColumn) args[0]).bits();
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
        return new LongColumn(Type.INTEGER, java.util.Arrays.copyOf(counts, groups), groups, null);
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
