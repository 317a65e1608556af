package dev.fiesta.gather;

import dev.fiesta.value.Column;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.TextColumn;
import dev.fiesta.value.Texts;
import dev.fiesta.value.Type;
import dev.fiesta.value.Validity;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** Figures that need all values of a group: quantiles, different values, the most frequent, lists. */
abstract class Collected implements Accumulator {
    private Image image;
    private int[] groups = new int[0];
    private long[] values = new long[0];
    private long[] orders = new long[0];
    private int[] byGroup = new int[0];
    private final boolean ordered;
    private int size;

    /** @param ordered whether the places of the rows are kept too */
    Collected(Type type, boolean ordered) {
        this.image = new Image(type);
        this.ordered = ordered;
    }

    @Override
    public void grow(int count) {}

    @Override
    public void add(int[] group, Column[] args, int rows, long order) {
        long[] images = image.of(args[0]);
        for (int i = 0; i < rows; i++) {
            if (!args[0].isMissing(i)) {
                keep(group[i], images[i], order + i);
            }
        }
    }

    Image image() {
        return image;
    }

    /** Keeps a value. */
    void keep(int group, long value, long order) {
        groups = Grow.to(groups, size + 1);
        values = Grow.to(values, size + 1);
        if (ordered) {
            orders = Grow.to(orders, size + 1);
            orders[size] = order;
        }
        groups[size] = group;
        values[size++] = value;
    }

    @Override
    public void merge(Accumulator other, int[] into) {
        Collected theirs = (Collected) other;
        int[] images = image.translation(theirs.image);
        for (int i = 0; i < theirs.size; i++) {
            int group = into[theirs.groups[i]];
            if (group >= 0) {
                keep(group, Image.here(images, theirs.values[i]), ordered ? theirs.orders[i] : 0);
            }
        }
    }

    @Override
    public Column finish(int count) {
        int[] starts = new int[count + 1];
        for (int i = 0; i < size; i++) {
            starts[groups[i] + 1]++;
        }
        for (int g = 0; g < count; g++) {
            starts[g + 1] += starts[g];
        }
        int[] next = starts.clone();
        long[] sorted = new long[size];
        long[] places = new long[ordered ? size : 0];
        for (int i = 0; i < size; i++) {
            int at = next[groups[i]]++;
            sorted[at] = values[i];
            if (ordered) {
                places[at] = orders[i];
            }
        }
        return figures(sorted, places, starts, count);
    }

    /**
     * @param sorted the values, those of group g from {@code starts[g]} to before {@code starts[g + 1]}
     * @param places where their rows stood, when kept
     */
    abstract Column figures(long[] sorted, long[] places, int[] starts, int count);

    @Override
    public long memory() {
        return 4L * (groups.length + byGroup.length) + 8L * (values.length + orders.length) + image.memory();
    }

    @Override
    public void write(int group, DataOutput out) throws IOException {
        int[] order = byGroup();
        int start = firstOf(order, group);
        int end = firstOf(order, group + 1);
        out.writeInt(end - start);
        for (int i = start; i < end; i++) {
            image.write(values[order[i]], out);
            out.writeLong(ordered ? orders[order[i]] : 0);
        }
    }

    /** The places of the values, those of each group together and in the order in which they came. */
    private int[] byGroup() {
        if (byGroup.length != size) {
            int most = Arrays.stream(groups, 0, size).max().orElse(0);
            int[] next = new int[most + 2];
            for (int i = 0; i < size; i++) {
                next[groups[i] + 1]++;
            }
            for (int g = 0; g <= most; g++) {
                next[g + 1] += next[g];
            }
            byGroup = new int[size];
            for (int i = 0; i < size; i++) {
                byGroup[next[groups[i]]++] = i;
            }
        }
        return byGroup;
    }

    private int firstOf(int[] order, int group) {
        int low = 0;
        int high = order.length;
        while (low < high) {
            int middle = (low + high) >>> 1;
            if (groups[order[middle]] < group) {
                low = middle + 1;
            } else {
                high = middle;
            }
        }
        return low;
    }

    @Override
    public void read(int group, DataInput in) throws IOException {
        for (int left = in.readInt(); left > 0; left--) {
            long value = image.read(in);
            keep(group, value, in.readLong());
        }
    }

    /** Linear interpolation between order statistics, rounded once. */
    static final class Quantile extends Collected {
        private final Type type;
        private final BigDecimal part;

        Quantile(Type type, BigDecimal part) {
            super(type, false);
            this.type = type;
            this.part = part;
        }

        @Override
        Column figures(long[] sorted, long[] places, int[] starts, int count) {
            double[] out = new double[count];
            long[] valid = null;
            for (int g = 0; g < count; g++) {
                int n = starts[g + 1] - starts[g];
                if (n == 0) {
                    valid = Validity.without(valid, count, g);
                    continue;
                }
                Arrays.sort(sorted, starts[g], starts[g + 1]);
                QuantilePosition at = QuantilePosition.of(part, n);
                int low = starts[g] + at.below();
                out[g] = at.between(type, sorted[low], sorted[Math.min(low + 1, starts[g + 1] - 1)]);
            }
            return DoubleColumn.cleaned(out, count, valid);
        }
    }

    /** Whether nothing is kept. */
    final boolean isEmpty() {
        return size == 0;
    }

    /** Puts all values away and forgets them. */
    final void empty(Shelf shelf) {
        shelf.put(image.column(values, size, null), groups);
        image = new Image(image.type());
        groups = new int[0];
        values = new long[0];
        byGroup = new int[0];
        size = 0;
    }

    /** The place of a value of a group, kept or to be kept at {@code slot}. */
    final boolean isAt(int place, int group, long value) {
        return groups[place] == group && values[place] == value;
    }

    final int size() {
        return size;
    }

    final int group(int place) {
        return groups[place];
    }

    final long value(int place) {
        return values[place];
    }

    /** The number of different values: each is kept once. */
    static final class Distinct extends Collected {
        private int[] slots = new int[64];
        private @Nullable Shelf shelf;

        Distinct(Type type) {
            super(type, false);
        }

        @Override
        void keep(int group, long value, long order) {
            int mask = slots.length - 1;
            int slot = hash(group, value) & mask;
            while (slots[slot] != 0) {
                if (isAt(slots[slot] - 1, group, value)) {
                    return;
                }
                slot = (slot + 1) & mask;
            }
            super.keep(group, value, order);
            slots[slot] = size();
            if (size() * 2 > slots.length) {
                rehash();
            }
        }

        private static int hash(int group, long value) {
            long h = (value * 31 + group) * 0x9E3779B97F4A7C15L;
            return (int) (h >>> 32);
        }

        private void rehash() {
            slots = new int[slots.length * 2];
            int mask = slots.length - 1;
            for (int place = 0; place < size(); place++) {
                int slot = hash(group(place), value(place)) & mask;
                while (slots[slot] != 0) {
                    slot = (slot + 1) & mask;
                }
                slots[slot] = place + 1;
            }
        }

        @Override
        public long memory() {
            return super.memory() + 4L * slots.length;
        }

        @Override
        public boolean mayPutAway() {
            return true;
        }

        @Override
        public void putAway(Supplier<Shelf> shelves) {
            if (!isEmpty()) {
                shelf = shelf == null ? shelves.get() : shelf;
                empty(shelf);
                slots = new int[64];
            }
        }

        @Override
        public void merge(Accumulator other, int[] into) {
            Distinct theirs = (Distinct) other;
            if (theirs.shelf != null) {
                if (shelf == null) {
                    shelf = theirs.shelf.another();
                }
                shelf.adopt(theirs.shelf, into);
            }
            super.merge(other, into);
        }

        @Override
        public Column finish(int count) {
            if (shelf == null) {
                return super.finish(count);
            }
            putAway(() -> java.util.Objects.requireNonNull(shelf));
            return new LongColumn(Type.INTEGER, shelf.distinct(count), count, null);
        }

        @Override
        Column figures(long[] sorted, long[] places, int[] starts, int count) {
            long[] out = new long[count];
            for (int g = 0; g < count; g++) {
                out[g] = starts[g + 1] - starts[g];
            }
            return new LongColumn(Type.INTEGER, out, count, null);
        }
    }

    /** The most frequent value, the least of them on a tie. */
    static final class Mode extends Collected {
        Mode(Type type) {
            super(type, false);
        }

        @Override
        Column figures(long[] sorted, long[] places, int[] starts, int count) {
            long[] out = new long[count];
            long[] valid = null;
            for (int g = 0; g < count; g++) {
                if (starts[g] == starts[g + 1]) {
                    valid = Validity.without(valid, count, g);
                    continue;
                }
                Arrays.sort(sorted, starts[g], starts[g + 1]);
                out[g] = mode(sorted, starts[g], starts[g + 1]);
            }
            return image().column(out, count, valid);
        }

        private long mode(long[] sorted, int start, int end) {
            long best = sorted[start];
            int most = 0;
            int run = 0;
            for (int i = start; i < end; i++) {
                run = i > start && sorted[i] == sorted[i - 1] ? run + 1 : 1;
                if (run > most || (run == most && image().compare(sorted[i], best) < 0)) {
                    most = run;
                    best = sorted[i];
                }
            }
            return best;
        }
    }

    /** The values as one text, in the order of the rows. */
    static final class Listed extends Collected {
        static final int MOST = 1000;

        private final String separator;

        Listed(Type type, String separator) {
            super(type, true);
            this.separator = separator;
        }

        @Override
        Column figures(long[] sorted, long[] places, int[] starts, int count) {
            List<String> out = new ArrayList<>();
            for (int g = 0; g < count; g++) {
                int start = starts[g];
                Integer[] rows = new Integer[starts[g + 1] - start];
                Arrays.setAll(rows, i -> start + i);
                Arrays.sort(rows, (a, b) -> Long.compare(places[a], places[b]));
                out.add(rows.length == 0 ? null : text(sorted, rows));
            }
            return (TextColumn) Column.of(Type.TEXT, out);
        }

        private String text(long[] sorted, Integer[] rows) {
            StringBuilder text = new StringBuilder();
            for (int i = 0; i < Math.min(MOST, rows.length); i++) {
                text.append(i == 0 ? "" : separator).append(Texts.of(image().value(sorted[rows[i]])));
            }
            return rows.length > MOST ? text.append(separator).append('…').toString() : text.toString();
        }
    }
}
