package dev.fiesta.gather;

import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.Arrays;
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
    private @Nullable Shelf shelf;

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
        if (theirs.shelf != null) {
            shelf = shelf == null ? theirs.shelf.another() : shelf;
            shelf.adopt(theirs.shelf, into);
        }
        int[] images = image.translation(theirs.image);
        for (int i = 0; i < theirs.size; i++) {
            int group = into[theirs.groups[i]];
            if (group >= 0) {
                keep(group, Image.here(images, theirs.values[i]), ordered ? theirs.orders[i] : 0);
            }
        }
    }

    @Override
    public void putAway(Supplier<Shelf> shelves) {
        if (size > 0) {
            shelf = shelf == null ? shelves.get() : shelf;
            shelf.put(image.column(values, size, null), groups);
            forget();
        }
    }

    /** Forgets the values that it holds. */
    void forget() {
        image = new Image(image.type());
        groups = new int[0];
        values = new long[0];
        orders = new long[0];
        byGroup = new int[0];
        size = 0;
    }

    /** Keeps so many values of each group, those that stand first. */
    void keepFirst(int most) {
        int[] places = byGroup();
        Image known = image;
        int[] group = groups;
        long[] value = values;
        long[] order = orders;
        int all = size;
        forget();
        for (int from = 0, to; from < all; from = to) {
            to = from + 1;
            while (to < all && group[places[to]] == group[places[from]]) {
                to++;
            }
            Arrays.stream(places, from, to)
                    .boxed()
                    .sorted((a, b) -> Long.compare(order[a], order[b]))
                    .limit(most)
                    .forEach(p -> keep(group[p], image.take(known, value[p]), order[p]));
        }
    }

    @Override
    public Column finish(int count) {
        Shelf away = shelf;
        if (away != null) {
            putAway(() -> away);
            return figures(away, count);
        }
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

    /** The figures of values that were put away. */
    abstract Column figures(Shelf all, int count);

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
            if (ordered) {
                out.writeLong(orders[order[i]]);
            }
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
            keep(group, value, ordered ? in.readLong() : 0);
        }
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
}
