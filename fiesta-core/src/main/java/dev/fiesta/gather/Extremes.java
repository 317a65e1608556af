package dev.fiesta.gather;

import dev.fiesta.compute.Types;
import dev.fiesta.gather.frames.Far;
import dev.fiesta.gather.frames.Frames;
import dev.fiesta.gather.frames.Sliding;
import dev.fiesta.gather.frames.SlidingFirst;
import dev.fiesta.gather.values.AlongKey;
import dev.fiesta.gather.values.Grow;
import dev.fiesta.gather.values.Image;
import dev.fiesta.gather.values.Positions;
import dev.fiesta.gather.values.Shelf;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import dev.fiesta.value.Validity;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.List;
import java.util.function.Supplier;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * Least and greatest values, and values at the least or greatest of another: {@code min max
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

    private final By by;
    private Image deciding;
    private Image shown;
    private Positions positions;
    private int size;
    private long[] best = new long[0];
    private long[] values = new long[0];

    /**
     * @param by what decides among rows whose arguments are all there: the last argument, or the order of rows
     * @param along what rows are ordered along
     */
    Extremes(By by, Type shown, Type deciding, List<AlongKey> along) {
        this.by = by;
        this.shown = new Image(shown);
        this.deciding = new Image(deciding);
        this.positions = new Positions(along);
    }

    private boolean looksAtValues() {
        return by == By.LEAST || by == By.GREATEST;
    }

    static List<GatherFunction> functions() {
        return List.of(
                single("min", "The least value.", "takings", "10.00", By.LEAST),
                single("max", "The greatest value.", "takings", "50.00", By.GREATEST),
                single("first", "The first value, in the order of the rows or along a field.", "site", "Quay", By.FIRST)
                        .lookingAtOrder(),
                single("last", "The last value, in the order of the rows or along a field.", "site", "Meadow", By.LAST)
                        .lookingAtOrder(),
                beside("at_max", "x in the first row where 'by' is greatest.", "Meadow", By.GREATEST),
                beside("at_min", "x in the first row where 'by' is least.", "Quay", By.LEAST));
    }

    private static GatherFunction single(String name, String about, String field, String result, By by) {
        String usage = name + "(x)";
        return GatherFunction.of(name, usage, about, name + "(" + field + ")", result, args -> {
            Type type = GatherFunctions.one(args, usage);
            return new GatherFunction.Bound(type, () -> new Extremes(by, type, type, List.of()))
                    .ordered(along -> new Extremes(by, type, type, along))
                    .carryingOn((frames, values, before) -> moving(frames, values, by, (Extremes) before))
                    .far(
                            by == By.FIRST
                                    ? Far.ofValues(() -> new SlidingFirst(type))
                                    : Far.holding(drawer -> new SlidingExtremes(by, type, type, drawer)));
        });
    }

    private static GatherFunction beside(String name, String about, String result, By by) {
        String usage = name + "(x, by)";
        return GatherFunction.of(name, usage, about, name + "(site, takings)", result, args -> {
                    args.expectCount(2, 2, usage);
                    Type shown = args.type(0);
                    Type deciding = args.type(1);
                    return new GatherFunction.Bound(shown, () -> new Extremes(by, shown, deciding, List.of()))
                            .ordered(along -> new Extremes(by, shown, deciding, along))
                            .carryingOn((frames, values, before) -> moving(frames, values, by, (Extremes) before))
                            .far(Far.holding(drawer -> new SlidingExtremes(by, shown, deciding, drawer)));
                })
                .lookingAtOrder();
    }

    /** What wins in frames that move with the row. */
    static Column moving(Frames frames, Column[] values, By by, @Nullable Extremes before) {
        if (before != null) {
            return before.running(values, frames.size());
        }
        if (by == By.LEAST || by == By.GREATEST) {
            Type deciding = values[values.length - 1].type();
            return Sliding.over(frames, values, new SlidingExtremes(by, values[0].type(), deciding, null));
        }
        int[] pick = edges(frames, values[0], by == By.FIRST);
        return values[0].take(pick, pick.length);
    }

    /** What wins from the start of the partition up to each row: the rows before are one row in front. */
    private Column running(Column[] rows, int size) {
        Column last = rows[rows.length - 1];
        Column decides = Column.join(
                deciding.type(), List.of(deciding.column(best, 1, present(1)), Types.widen(last, deciding.type())));
        Column shows = Column.join(shown.type(), List.of(finish(1), Types.widen(rows[0], shown.type())));
        Extremes one = new Extremes(by, shown.type(), deciding.type(), List.of());
        one.grow(1);
        long[] images = one.deciding.of(decides);
        one.values[0] = -1; // what is shown is the place of a row here, the first of them stands for those before
        int[] pick = new int[size];
        for (int i = 0; i <= size; i++) {
            if (!decides.isMissing(i) && !shows.isMissing(i)) {
                one.positions.offer(i, i);
                one.offer(0, images[i], i);
            }
            if (i > 0) {
                pick[i - 1] = (int) one.values[0];
            }
        }
        return shows.take(pick, size);
    }

    /** The next value from the start of each frame on, or from its end back. */
    private static int[] edges(Frames frames, Column x, boolean first) {
        int size = frames.size();
        int[] near = new int[size];
        int known = first ? size : -1;
        for (int k = 0; k < size; k++) {
            int i = first ? size - 1 - k : k;
            known = x.isMissing(i) ? known : i;
            near[i] = known;
        }
        int[] pick = new int[size];
        for (int i = 0; i < size; i++) {
            int from = frames.from()[i];
            int to = frames.to()[i];
            int at = from >= to ? -1 : near[first ? from : to - 1];
            pick[i] = at >= from && at < to ? at : -1;
        }
        return pick;
    }

    @Override
    public void grow(int groups) {
        size = Math.max(size, groups);
        best = Grow.to(best, groups);
        values = Grow.to(values, groups);
        positions.grow(groups);
    }

    @Override
    public void add(int[] groups, Column[] args, int rows, long order) {
        Column last = args[args.length - 1 - positions.keys()];
        long[] decides = deciding.of(last);
        boolean single = args.length == 1 && looksAtValues();
        long[] shows = single ? shownAsDeciding(args[0], decides) : shown.of(args[0]);
        positions.rows(args);
        for (int i = 0; i < rows; i++) {
            if (!args[0].isMissing(i) && !last.isMissing(i)) {
                positions.offer(i, order + i);
                offer(groups[i], decides[i], shows[i]);
            }
        }
    }

    /** A single argument decides and is shown: texts then need one dictionary only. */
    private long[] shownAsDeciding(Column column, long[] decides) {
        return shown.type().kind() == dev.fiesta.value.Kind.TEXT ? shown.of(column) : decides;
    }

    /** Offers the row whose position is offered. */
    private void offer(int group, long image, long value) {
        if (!positions.isKept(group) || wins(image, group)) {
            best[group] = image;
            values[group] = value;
            positions.keep(group);
        }
    }

    private boolean wins(long image, int group) {
        int sign = looksAtValues() ? deciding.compare(image, best[group]) : 0;
        if (sign != 0) {
            return sign < 0 == (by == By.LEAST);
        }
        return by == By.LAST ? positions.compare(group) > 0 : positions.compare(group) < 0;
    }

    @Override
    public void merge(Accumulator other, int[] into) {
        Extremes theirs = (Extremes) other;
        int[] images = deciding.translation(theirs.deciding);
        int[] shows = shown.translation(theirs.shown);
        int[] @Nullable [] places = positions.translations(theirs.positions);
        for (int i = 0; i < into.length; i++) {
            if (into[i] >= 0 && theirs.positions.isKept(i)) {
                positions.offer(theirs.positions, i, places);
                offer(into[i], Image.here(images, theirs.best[i]), Image.here(shows, theirs.values[i]));
            }
        }
    }

    @Override
    public Column finish(int groups) {
        return shown.column(values, groups, present(groups));
    }

    private long @Nullable [] present(int groups) {
        long[] valid = null;
        for (int i = 0; i < groups; i++) {
            if (!positions.isKept(i)) {
                valid = Validity.without(valid, groups, i);
            }
        }
        return valid;
    }

    @Override
    public long memory() {
        return 8L * (best.length + values.length) + deciding.memory() + shown.memory() + positions.memory();
    }

    /** Forgets the texts that have not won. */
    @Override
    public void putAway(Supplier<Shelf> shelves) {
        Image decides = new Image(deciding.type());
        Image shows = new Image(shown.type());
        for (int i = 0; i < size; i++) {
            if (positions.isKept(i)) {
                best[i] = decides.take(deciding, best[i]);
                values[i] = shows.take(shown, values[i]);
            }
        }
        deciding = decides;
        shown = shows;
        positions = positions.compact(IntStream.range(0, size).toArray());
    }

    @Override
    public void write(int group, DataOutput out) throws IOException {
        out.writeBoolean(positions.isKept(group));
        if (positions.isKept(group)) {
            positions.write(group, out);
            deciding.write(best[group], out);
            shown.write(values[group], out);
        }
    }

    @Override
    public void read(int group, DataInput in) throws IOException {
        if (in.readBoolean()) {
            positions.offer(in);
            long image = deciding.read(in);
            offer(group, image, shown.read(in));
        }
    }
}
