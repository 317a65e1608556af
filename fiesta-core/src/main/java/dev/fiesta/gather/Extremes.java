package dev.fiesta.gather;

import dev.fiesta.compute.Types;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import dev.fiesta.value.Validity;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.Arrays;
import java.util.List;
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
            return new GatherFunction.Bound(type, () -> new Extremes(by, type, type))
                    .carryingOn((frames, values, before) -> moving(frames, values, by, (Extremes) before));
        });
    }

    private static GatherFunction beside(String name, String about, String result, By by) {
        String usage = name + "(x, by)";
        return GatherFunction.of(name, usage, about, name + "(site, takings)", result, args -> {
                    args.expectCount(2, 2, usage);
                    Type shown = args.type(0);
                    Type deciding = args.type(1);
                    return new GatherFunction.Bound(shown, () -> new Extremes(by, shown, deciding))
                            .carryingOn((frames, values, before) -> moving(frames, values, by, (Extremes) before));
                })
                .lookingAtOrder();
    }

    /** The winning position of each frame, -1 where there is none: a queue of those that may still win as the frame moves on. */
    private static int[] candidates(Frames frames, Column[] values, By by) {
        Column decides = values[values.length - 1];
        int wanted = by == By.LEAST ? -1 : 1;
        Image image = new Image(decides.type());
        long[] images = image.of(decides);
        int[] queue = new int[frames.size()];
        int[] ends = new int[2];
        int[] pick = new int[frames.size()];
        frames.each(
                (position, away) -> {
                    if (away) {
                        ends[0] += ends[0] < ends[1] && queue[ends[0]] == position ? 1 : 0;
                    } else if (!values[0].isMissing(position) && !decides.isMissing(position)) {
                        while (ends[1] > ends[0]
                                && image.compare(images[queue[ends[1] - 1]], images[position]) * wanted < 0) {
                            ends[1]--;
                        }
                        queue[ends[1]++] = position;
                    }
                },
                i -> pick[i] = ends[0] < ends[1] ? queue[ends[0]] : -1);
        return pick;
    }

    /** What wins in frames that move with the row. */
    static Column moving(Frames frames, Column[] values, By by, @Nullable Extremes before) {
        if (before != null) {
            return before.running(values, frames.size());
        }
        int[] pick = by.ordinal() <= By.GREATEST.ordinal()
                ? candidates(frames, values, by)
                : edges(frames, values[0], by == By.FIRST);
        return values[0].take(pick, pick.length);
    }

    /** What wins from the start of the partition up to each row: the rows before are one row in front. */
    private Column running(Column[] rows, int size) {
        Column last = rows[rows.length - 1];
        Column decides = Column.join(
                deciding.type(), List.of(deciding.column(best, 1, present(1)), Types.widen(last, deciding.type())));
        Column shows = Column.join(shown.type(), List.of(finish(1), Types.widen(rows[0], shown.type())));
        Extremes one = new Extremes(by, shown.type(), deciding.type());
        one.grow(1);
        long[] images = one.deciding.of(decides);
        one.values[0] = -1; // what is shown is the place of a row here, the first of them stands for those before
        int[] pick = new int[size];
        for (int i = 0; i <= size; i++) {
            if (!decides.isMissing(i) && !shows.isMissing(i)) {
                one.offer(0, images[i], i, i);
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

    private long @Nullable [] present(int groups) {
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
}
