package dev.fiesta.gather;

import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import dev.fiesta.value.Validity;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.Arrays;

/**
 * Least and greatest values, the distance between them, and values at the least or greatest of another: {@code min max range
 * at_min at_max first last}. For each group the image that decides is kept, with the place of its row among all rows, and the
 * image of what is shown.
 */
final class Extremes implements Accumulator {
    /** What decides. */
    enum By {
        LEAST,
        GREATEST,
        FIRST,
        LAST
    }

    private static final long NOTHING = Long.MIN_VALUE;

    private final By by;
    private final Image deciding;
    private final Image shown;
    private long[] best = new long[0];
    private long[] orders = new long[0];
    private long[] values = new long[0];

    /** @param by what decides among rows whose arguments are all there: the last argument, or the order of rows */
    Extremes(By by, Type shown, Type deciding) {
        this.by = by;
        this.shown = new Image(shown);
        this.deciding = new Image(deciding);
    }

    @Override
    public void grow(int groups) {
        if (groups > best.length) {
            int old = best.length;
            best = Grow.to(best, groups);
            orders = Grow.to(orders, groups);
            values = Grow.to(values, groups);
            Arrays.fill(orders, old, orders.length, NOTHING);
        }
    }

    @Override
    public void add(int[] groups, Column[] args, int rows, long order) {
        Column last = args[args.length - 1];
        long[] decides = deciding.of(last);
        long[] shows = args.length == 1 && by.ordinal() <= By.GREATEST.ordinal()
                ? shownAsDeciding(args[0], decides)
                : shown.of(args[0]);
        for (int i = 0; i < rows; i++) {
            if (!args[0].isMissing(i) && !last.isMissing(i)) {
                offer(groups[i], decides[i], order + i, shows[i]);
            }
        }
    }

    /** A single argument decides and is shown: texts then need one dictionary only. */
    private long[] shownAsDeciding(Column column, long[] decides) {
        return shown.type().kind() == dev.fiesta.value.Kind.TEXT ? shown.of(column) : decides;
    }

    private void offer(int group, long image, long order, long value) {
        if (orders[group] == NOTHING || wins(image, order, group)) {
            best[group] = image;
            orders[group] = order;
            values[group] = value;
        }
    }

    private boolean wins(long image, long order, int group) {
        int sign = by == By.FIRST || by == By.LAST ? 0 : deciding.compare(image, best[group]);
        if (sign != 0) {
            return sign < 0 == (by == By.LEAST);
        }
        return by == By.LAST ? order > orders[group] : order < orders[group];
    }

    @Override
    public void merge(Accumulator other, int[] into) {
        Extremes theirs = (Extremes) other;
        int[] images = deciding.translation(theirs.deciding);
        int[] shows = shown.translation(theirs.shown);
        for (int i = 0; i < into.length; i++) {
            if (into[i] >= 0 && theirs.orders[i] != NOTHING) {
                offer(
                        into[i],
                        Image.here(images, theirs.best[i]),
                        theirs.orders[i],
                        Image.here(shows, theirs.values[i]));
            }
        }
    }

    @Override
    public Column finish(int groups) {
        return shown.column(values, groups, present(groups));
    }

    private long @org.jspecify.annotations.Nullable [] present(int groups) {
        long[] valid = null;
        for (int i = 0; i < groups; i++) {
            if (orders[i] == NOTHING) {
                valid = Validity.without(valid, groups, i);
            }
        }
        return valid;
    }

    @Override
    public long memory() {
        return 8L * (best.length + orders.length + values.length) + deciding.memory() + shown.memory();
    }

    @Override
    public void write(int group, DataOutput out) throws IOException {
        out.writeLong(orders[group]);
        if (orders[group] != NOTHING) {
            deciding.write(best[group], out);
            shown.write(values[group], out);
        }
    }

    @Override
    public void read(int group, DataInput in) throws IOException {
        long order = in.readLong();
        if (order != NOTHING) {
            long image = deciding.read(in);
            offer(group, image, order, shown.read(in));
        }
    }

    /** {@code range}: the greatest less the least. */
    static final class Range implements Accumulator {
        private final Type type;
        private final Extremes least;
        private final Extremes greatest;

        Range(Type type) {
            this.type = type;
            this.least = new Extremes(By.LEAST, type, type);
            this.greatest = new Extremes(By.GREATEST, type, type);
        }

        @Override
        public void grow(int groups) {
            least.grow(groups);
            greatest.grow(groups);
        }

        @Override
        public void add(int[] groups, Column[] args, int rows, long order) {
            least.add(groups, args, rows, order);
            greatest.add(groups, args, rows, order);
        }

        @Override
        public void merge(Accumulator other, int[] into) {
            least.merge(((Range) other).least, into);
            greatest.merge(((Range) other).greatest, into);
        }

        @Override
        public Column finish(int groups) {
            Column low = least.finish(groups);
            Column high = greatest.finish(groups);
            if (high instanceof LongColumn a && low instanceof LongColumn b) {
                long[] out = new long[groups];
                for (int i = 0; i < groups; i++) {
                    out[i] = a.values()[i] - b.values()[i];
                }
                return new LongColumn(type.isTime() ? Type.INTEGER : type, out, groups, low.valid());
            }
            double[] out = new double[groups];
            for (int i = 0; i < groups; i++) {
                out[i] = low.isMissing(i) ? 0 : (Double) high.get(i) - (Double) low.get(i);
            }
            return dev.fiesta.value.DoubleColumn.cleaned(out, groups, low.valid());
        }

        @Override
        public long memory() {
            return least.memory() + greatest.memory();
        }

        @Override
        public void write(int group, DataOutput out) throws IOException {
            least.write(group, out);
            greatest.write(group, out);
        }

        @Override
        public void read(int group, DataInput in) throws IOException {
            least.read(group, in);
            greatest.read(group, in);
        }
    }
}
