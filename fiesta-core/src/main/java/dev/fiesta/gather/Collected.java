package dev.fiesta.gather;

import dev.fiesta.gather.values.Grow;
import dev.fiesta.gather.values.Image;
import dev.fiesta.gather.values.Positions;
import dev.fiesta.gather.values.Shelf;
import dev.fiesta.value.Column;
import dev.fiesta.value.Halving;
import dev.fiesta.value.Type;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.Arrays;
import java.util.Objects;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** Figures that need all values of a group: quantiles, different values, the most frequent, lists. */
abstract class Collected implements Accumulator {
    private Image image;
    private int[] groups = new int[0];
    private long[] values = new long[0];
    private @Nullable Positions positions;
    private int[] byGroup = new int[0];
    private int size;
    private @Nullable Shelf shelf;

    /** @param positions what keeps the positions of the rows; null where they mean nothing */
    Collected(Type type, @Nullable Positions positions) {
        this.image = new Image(type);
        this.positions = positions;
    }

    @Override
    public void grow(int count) {}

    @Override
    public void add(int[] group, Column[] args, int rows, long order) {
        long[] images = image.of(args[0]);
        if (positions != null) {
            positions.rows(args);
        }
        for (int i = 0; i < rows; i++) {
            if (!args[0].isMissing(i)) {
                if (positions != null) {
                    positions.offer(i, order + i);
                }
                keep(group[i], images[i]);
            }
        }
    }

    Image image() {
        return image;
    }

    /** Keeps a value, with the position that is offered where positions are kept. */
    void keep(int group, long value) {
        if (positions != null) {
            positions.grow(size + 1);
            positions.keep(size);
        }
        append(group, value);
    }

    final void append(int group, long value) {
        groups = Grow.to(groups, size + 1);
        values = Grow.to(values, size + 1);
        groups[size] = group;
        values[size++] = value;
    }

    @Override
    public void merge(Accumulator other, int[] into) {
        Collected theirs = (Collected) other.gathering();
        theirs.settle();
        if (theirs.shelf != null) {
            shelf = shelf == null ? theirs.shelf.another() : shelf;
            shelf.adopt(theirs.shelf, into);
        }
        int[] images = image.translation(theirs.image);
        int[] @Nullable [] places = positions == null ? null : positions.translations(theirs.positions());
        for (int i = 0; i < theirs.size; i++) {
            int group = into[theirs.groups[i]];
            if (group >= 0) {
                if (positions != null) {
                    positions.offer(theirs.positions(), i, Objects.requireNonNull(places));
                }
                keep(group, Image.here(images, theirs.values[i]));
            }
        }
    }

    @Override
    public void putAway(Supplier<Shelf> shelves) {
        settle();
        if (size > 0) {
            shelf = shelf == null ? shelves.get() : shelf;
            shelf.put(image.column(values, size, null), groups);
            forget();
        }
    }

    @Override
    public boolean putsAway() {
        return true;
    }

    /** The positions of the rows of the values kept. */
    final Positions positions() {
        return Objects.requireNonNull(positions);
    }

    /** Puts values that are kept elsewhere to the others. */
    void settle() {}

    /** Forgets the values that it holds. */
    void forget() {
        image = new Image(image.type());
        positions = positions == null ? null : positions.compact(new int[0]);
        forgetValues();
    }

    final void forgetValues() {
        groups = new int[0];
        values = new long[0];
        byGroup = new int[0];
        size = 0;
    }

    /** Keeps some values only, at these places, in that order. */
    void keepOnly(int[] places) {
        Image before = image;
        int[] group = groups;
        long[] value = values;
        Positions compact = positions == null ? null : positions.compact(places);
        forget();
        positions = compact;
        for (int place : places) {
            append(group[place], image.take(before, value[place]));
        }
    }

    /** Others may look at the same values at the same time. */
    @Override
    public synchronized Column finish(int count) {
        Shelf away = away();
        return away == null ? figures(count) : figures(away, count);
    }

    /** All values where they are put away, the last of them too; null where none is. */
    final @Nullable Shelf away() {
        Shelf away = shelf;
        if (away != null) {
            putAway(() -> away);
        }
        return away;
    }

    /** The values, those of a group together; where they begin, and behind the last where they end, is told. */
    final long[] sideBySide(int[] starts) {
        settle();
        for (int i = 0; i < size; i++) {
            starts[groups[i] + 1]++;
        }
        for (int g = 1; g < starts.length; g++) {
            starts[g] += starts[g - 1];
        }
        int[] next = starts.clone();
        long[] together = new long[size];
        for (int i = 0; i < size; i++) {
            together[next[groups[i]]++] = values[i];
        }
        return together;
    }

    /** The figures of the values that are held. */
    abstract Column figures(int count);

    /** The figures of values that were put away. */
    abstract Column figures(Shelf all, int count);

    @Override
    public long memory() {
        return 4L * (groups.length + byGroup.length)
                + 8L * values.length
                + image.memory()
                + (positions == null ? 0 : positions.memory());
    }

    @Override
    public void write(int group, DataOutput out) throws IOException {
        int[] order = byGroup();
        int start = firstOf(order, group);
        int end = firstOf(order, group + 1);
        out.writeInt(end - start);
        for (int i = start; i < end; i++) {
            image.write(values[order[i]], out);
            if (positions != null) {
                positions.write(order[i], out);
            }
        }
    }

    /** The places of the values, those of each group together and in the order in which they came. */
    final int[] byGroup() {
        settle();
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
        return Halving.behind(0, order.length, i -> groups[order[i]] < group);
    }

    @Override
    public void read(int group, DataInput in) throws IOException {
        for (int left = in.readInt(); left > 0; left--) {
            long value = image.read(in);
            if (positions != null) {
                positions.offer(in);
            }
            keep(group, value);
        }
    }

    int size() {
        return size;
    }

    /** What the values stand in, which is another once some were forgotten. */
    final long[] held() {
        return values;
    }

    final int group(int place) {
        return groups[place];
    }

    final long value(int place) {
        return values[place];
    }
}
