package dev.fiesta.survey;

import dev.fiesta.compute.Arguments;
import dev.fiesta.compute.CalendarSettings;
import dev.fiesta.compute.FieldRef;
import dev.fiesta.gather.Accumulator;
import dev.fiesta.gather.GatherFunctions;
import dev.fiesta.gather.values.Image;
import dev.fiesta.gather.values.QuantilePosition;
import dev.fiesta.survey.FieldSurvey.Frequent;
import dev.fiesta.survey.FieldSurvey.Histogram;
import dev.fiesta.value.Bits;
import dev.fiesta.value.Column;
import dev.fiesta.value.Exact;
import dev.fiesta.value.Kind;
import dev.fiesta.value.Type;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.math.BigInteger;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** Numbers, times and truths, as longs of the same order. */
final class ValueTally implements Tally {
    private static final int BINS = 24;
    private static final int SPARSE = 8;

    private final Type type;
    private final Image image;
    private final LongCounts counts = new LongCounts();
    private final @Nullable Accumulator mean;
    private int[] oneGroup = new int[0];
    private long present;
    private long least = Long.MAX_VALUE;
    private long greatest = Long.MIN_VALUE;
    private long[] sample = new long[16];
    private boolean[] sampled = new boolean[16];
    private int drawn;

    ValueTally(Type type) {
        this.type = type;
        this.image = new Image(type);
        this.mean = type.isNumeric() ? mean(type) : null;
        if (mean != null) {
            mean.grow(1);
        }
    }

    private static Accumulator mean(Type type) {
        Arguments args = new Arguments(List.of(new FieldRef(0, type)), CalendarSettings.NORMAL);
        return Objects.requireNonNull(GatherFunctions.find("mean"))
                .rule()
                .bind(args)
                .maker()
                .get();
    }

    @Override
    public void add(Column column, int[] picked, int count) {
        Column flat = column.flat();
        int there = flat.present();
        present += there;
        count(there * SPARSE < flat.size() ? thinned(flat, there) : flat);
        long[] images = there == 0 ? null : image.of(flat);
        for (int i = 0; i < count; i++) {
            boolean isThere = images != null && !flat.isMissing(picked[i]);
            draw(images != null && isThere ? images[picked[i]] : 0, isThere);
        }
    }

    /** Only the values that are there, where nearly none is. */
    private static Column thinned(Column flat, int there) {
        int[] rows = new int[there];
        long[] valid = flat.valid();
        int next = 0;
        for (int word = 0; valid != null && next < there; word++) {
            for (long bits = valid[word]; bits != 0; bits &= bits - 1) {
                rows[next++] = (word << 6) + Long.numberOfTrailingZeros(bits);
            }
        }
        return flat.take(rows, there);
    }

    private void count(Column values) {
        int rows = values.size();
        long[] images = image.of(values);
        long[] valid = values.valid();
        long low = least;
        long high = greatest;
        for (int i = 0; i < rows; i++) {
            if (valid == null || Bits.get(valid, i)) {
                low = Math.min(low, images[i]);
                high = Math.max(high, images[i]);
                counts.add(images[i], 1);
            }
        }
        least = low;
        greatest = high;
        if (mean != null) {
            oneGroup = oneGroup.length < rows ? new int[rows] : oneGroup;
            mean.add(oneGroup, new Column[] {values}, rows, 0);
        }
    }

    private void draw(long value, boolean there) {
        if (drawn == sample.length) {
            sample = Arrays.copyOf(sample, drawn * 2);
            sampled = Arrays.copyOf(sampled, drawn * 2);
        }
        sample[drawn] = value;
        sampled[drawn++] = there;
    }

    @Override
    public void thin(int[] stay) {
        for (int i = 0; i < stay.length; i++) {
            sample[i] = sample[stay[i]];
            sampled[i] = sampled[stay[i]];
        }
        drawn = stay.length;
    }

    @Override
    public void merge(Tally from) {
        ValueTally other = (ValueTally) from;
        counts.merge(other.counts);
        present += other.present;
        least = Math.min(least, other.least);
        greatest = Math.max(greatest, other.greatest);
        if (mean != null) {
            mean.merge(Objects.requireNonNull(other.mean), new int[] {0});
        }
        for (int i = 0; i < other.drawn; i++) {
            draw(other.sample[i], other.sampled[i]);
        }
    }

    @Override
    public Tally empty() {
        return new ValueTally(type);
    }

    @Override
    public void write(DataOutput out) throws IOException {
        counts.write(out);
        out.writeLong(present);
        out.writeLong(least);
        out.writeLong(greatest);
        if (mean != null) {
            mean.write(0, out);
        }
        out.writeInt(drawn);
        for (int i = 0; i < drawn; i++) {
            out.writeLong(sample[i]);
            out.writeBoolean(sampled[i]);
        }
    }

    @Override
    public void read(DataInput in) throws IOException {
        counts.read(in);
        present = in.readLong();
        least = in.readLong();
        greatest = in.readLong();
        if (mean != null) {
            mean.read(0, in);
        }
        for (int left = in.readInt(); left > 0; left--) {
            draw(in.readLong(), in.readBoolean());
        }
    }

    /** Values, ascending, with how often each comes: all, or those of the sample. */
    private record Spread(long[] values, long[] times, long total) {}

    private Spread spread() {
        LongCounts from = counts;
        if (!counts.isExact()) {
            from = new LongCounts();
            for (int i = 0; i < drawn; i++) {
                if (sampled[i]) {
                    from.add(sample[i], 1);
                }
            }
        }
        long[] values = from.sorted();
        long[] times = new long[values.length];
        for (int i = 0; i < times.length; i++) {
            times[i] = from.times(values[i]);
        }
        return new Spread(values, times, Arrays.stream(times).sum());
    }

    @Override
    public FieldSurvey finish(String name, long records, long bad) {
        Spread spread = spread();
        boolean any = present > 0;
        boolean ordered = any && type.kind() != Kind.TRUTH && type.kind() != Kind.EMPTY;
        return new FieldSurvey(
                name,
                type,
                records - present,
                Math.min(counts.distinct(), present),
                counts.isExact(),
                any ? value(least) : null,
                any ? value(greatest) : null,
                mean == null || !any ? null : (Double) mean.finish(1).get(0),
                ordered && spread.total() > 0
                        ? List.of(quartile(spread, 1), quartile(spread, 2), quartile(spread, 3))
                        : List.of(),
                frequent(spread),
                ordered && spread.total() > 0 ? histogram(spread) : null,
                Oddities.of(name, type, records, present, counts.distinct(), counts.isExact(), spread.times(), bad));
    }

    private Object value(long held) {
        return Objects.requireNonNull(image.column(new long[] {held}, 1, null).get(0));
    }

    /** Between two numbers by linear interpolation; of times the earlier one. */
    private Object quartile(Spread spread, int quarter) {
        long last = spread.total() - 1;
        long below = last / 4 * quarter + last % 4 * quarter / 4;
        long rest = last % 4 * quarter % 4;
        long low = at(spread, below);
        if (!type.isNumeric()) {
            return value(low);
        }
        long high = rest == 0 ? low : at(spread, below + 1);
        return new QuantilePosition(0, BigInteger.valueOf(rest), BigInteger.valueOf(4)).between(type, low, high);
    }

    private static long at(Spread spread, long place) {
        long before = 0;
        int i = 0;
        while (before + spread.times()[i] <= place) {
            before += spread.times()[i++];
        }
        return spread.values()[i];
    }

    private List<Frequent> frequent(Spread spread) {
        List<Frequent> frequent = new ArrayList<>();
        for (int i : Oddities.mostFrequent(spread.times(), spread.total(), counts.isExact())) {
            frequent.add(new Frequent(value(spread.values()[i]), scaled(spread.times()[i], spread.total())));
        }
        return frequent;
    }

    /** A count of the sample as one of all records. */
    private long scaled(long times, long total) {
        return counts.isExact() ? times : Math.round((double) times / total * present);
    }

    private Histogram histogram(Spread spread) {
        double from = number(least);
        double width = number(greatest) - from;
        boolean whole = type.kind() == Kind.INTEGER || type.kind() == Kind.DATE;
        int bins = whole && width < BINS ? (int) width + 1 : width == 0 ? 1 : BINS;
        double step = whole && width < BINS ? 1 : width / bins;
        long[] found = new long[bins];
        for (int i = 0; i < spread.values().length; i++) {
            int bin = step == 0 ? 0 : (int) ((number(spread.values()[i]) - from) / step);
            found[Math.min(bins - 1, bin)] += spread.times()[i];
        }
        List<Long> scaled =
                Arrays.stream(found).mapToObj(n -> scaled(n, spread.total())).toList();
        return new Histogram(value(least), value(greatest), scaled);
    }

    private double number(long held) {
        return type.kind() == Kind.REAL ? Image.number(held) : Exact.ofDecimal(held, type.isExact() ? type.scale() : 0);
    }
}
