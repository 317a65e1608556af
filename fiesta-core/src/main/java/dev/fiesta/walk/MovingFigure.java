package dev.fiesta.walk;

import dev.fiesta.gather.Accumulator;
import dev.fiesta.gather.GatherFunction;
import dev.fiesta.gather.GatherFunctions;
import dev.fiesta.gather.Image;
import dev.fiesta.gather.Moments;
import dev.fiesta.value.Bits;
import dev.fiesta.value.Column;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import dev.fiesta.value.Validity;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A gathering function over a frame that moves with the row. Counts, sums, means and deviations take in what enters the frame
 * and take away what leaves it, exactly; least and greatest keep the rows that may still win; first and last look the next
 * value up; quantiles keep counts by rank. Other functions gather each frame anew, at a cost of its length for each row.
 */
public final class MovingFigure {
    private final GatherFunction function;
    private final GatherFunction.Bound bound;
    private final Frame frame;
    private final BigDecimal part;

    /** @param part the part of a quantile; not used by others */
    public MovingFigure(GatherFunction function, GatherFunction.Bound bound, Frame frame, BigDecimal part) {
        this.function = function;
        this.bound = bound;
        this.frame = frame;
        this.part = part;
    }

    /**
     * The figures by position.
     *
     * @param args the arguments by row; missing where {@code only} does not hold; for {@code count()} none or the condition
     */
    public Column walk(Walk walk, Column[] args) {
        return walk(walk, args, null);
    }

    /** Whether what rows before have gathered can be carried on into a further piece of their partition. */
    static boolean carriesOn(String function) {
        return switch (function) {
            case "count", "count_if", "sum", "mean", "stddev", "variance", "stddev_pop", "variance_pop" -> true;
            default -> false;
        };
    }

    /**
     * As {@link #walk(Walk, Column[])}, for a piece of one partition and a frame from its start.
     *
     * @param before what the rows before the piece have gathered, or null; gets what those of the piece gather
     */
    public Column walk(Walk walk, Column[] args, @Nullable Accumulator before) {
        Column[] laid = new Column[args.length];
        for (int i = 0; i < laid.length; i++) {
            laid[i] = args[i].take(walk.rows(), walk.length());
        }
        if (before == null && frame.isPlain() && laid.length == 1 && laid[0] instanceof LongColumn longs) {
            Column sums = slidingSums(walk, longs);
            if (sums != null) {
                return sums;
            }
        }
        Frame.Bounds bounds = frame.bounds(walk);
        Column figures = switch (function.name()) {
            case "count", "count_if" -> counts(bounds, laid, before);
            case "sum", "mean", "stddev", "variance", "stddev_pop", "variance_pop" -> moments(bounds, laid[0], before);
            case "min", "max" -> extremes(bounds, laid[0], function.name().equals("min") ? -1 : 1);
            case "first", "last" -> edges(bounds, laid[0], function.name().equals("first"));
            case "median", "quantile" -> quantiles(bounds, laid[0]);
            default -> anew(bounds, laid);
        };
        if (before != null) {
            int[] one = new int[walk.length()];
            before.add(one, laid, one.length, 0);
        }
        return guarded(figures, bounds, laid);
    }

    private Column guarded(Column figures, Frame.Bounds bounds, Column[] laid) {
        if (!frame.full() && frame.atLeast() == 0) {
            return figures;
        }
        int size = figures.size();
        int[] present = laid.length == 0 ? null : presentBefore(laid[0]);
        int[] pick = new int[size];
        for (int i = 0; i < size; i++) {
            int values = present == null
                    ? bounds.to()[i] - bounds.from()[i]
                    : present[bounds.to()[i]] - present[bounds.from()[i]];
            boolean shown = (!frame.full() || bounds.inside()[i]) && values >= frame.atLeast();
            pick[i] = shown ? i : -1;
        }
        return figures.take(pick, size);
    }

    private static int[] presentBefore(Column column) {
        int[] before = new int[column.size() + 1];
        for (int i = 0; i < column.size(); i++) {
            before[i + 1] = before[i] + (column.isMissing(i) ? 0 : 1);
        }
        return before;
    }

    private Column counts(Frame.Bounds bounds, Column[] laid, @Nullable Accumulator carried) {
        int size = bounds.from().length;
        long[] bits = laid.length == 0
                ? null
                : laid[0] instanceof dev.fiesta.value.TruthColumn truth
                                && function.name().equals("count_if")
                        ? truth.bits()
                        : laid[0].valid();
        long earlier = carried == null
                ? 0
                : (Long) java.util.Objects.requireNonNull(carried.finish(1).get(0));
        int[] before = new int[size + 1];
        for (int i = 0; i < size; i++) {
            before[i + 1] = before[i] + (bits == null || Bits.get(bits, i) ? 1 : 0);
        }
        long[] out = new long[size];
        for (int i = 0; i < size; i++) {
            out[i] = earlier + before[bounds.to()[i]] - before[bounds.from()[i]];
        }
        return new LongColumn(Type.INTEGER, out, size, null);
    }

    /** Sums and means of longs over frames of rows, in a plain loop; null where that does not hold them. */
    private @Nullable Column slidingSums(Walk walk, LongColumn x) {
        boolean mean = function.name().equals("mean");
        if (!x.type().isExact() || !(mean || function.name().equals("sum"))) {
            return null;
        }
        SlidingSums sums = new SlidingSums(x, frame, mean);
        return walk.eachPartition(sums::add) ? sums.column(bound.type()) : null;
    }

    private Column moments(Frame.Bounds bounds, Column x, @Nullable Accumulator before) {
        int size = bounds.from().length;
        boolean exactSum = bound.type().isExact();
        long[] sums = new long[exactSum ? size : 0];
        double[] numbers = new double[exactSum ? 0 : size];
        long[] valid = null;
        Moments moments = fresh();
        if (before != null) {
            moments.merge(before, new int[] {0});
        }
        int from = 0;
        int to = 0;
        for (int i = 0; i < size; i++) {
            if (before == null && (bounds.from()[i] >= to || bounds.from()[i] < from || bounds.to()[i] < to)) {
                moments = fresh();
                from = bounds.from()[i];
                to = from;
            }
            for (; to < bounds.to()[i]; to++) {
                move(moments, x, to, false);
            }
            for (; from < bounds.from()[i]; from++) {
                move(moments, x, from, true);
            }
            boolean empty = moments.count(0) == 0;
            if (exactSum && !empty) {
                sums[i] = moments.exactSum(0);
            } else if (!exactSum) {
                numbers[i] = moments.number(0);
                empty = Double.isNaN(numbers[i]);
            }
            if (empty) {
                valid = Validity.without(valid, size, i);
            }
        }
        return exactSum ? new LongColumn(bound.type(), sums, size, valid) : DoubleColumn.cleaned(numbers, size, valid);
    }

    private Moments fresh() {
        Moments moments = (Moments) bound.maker().get();
        moments.grow(1);
        return moments;
    }

    private static void move(Moments moments, Column x, int position, boolean away) {
        if (!x.isMissing(position)) {
            moments.move(0, x, position, away);
        }
    }

    /** A queue of the positions that may still be least (or greatest) as the frame moves on. */
    private Column extremes(Frame.Bounds bounds, Column x, int wanted) {
        int size = bounds.from().length;
        Image image = new Image(x.type());
        long[] images = image.of(x);
        int[] queue = new int[size];
        int head = 0;
        int tail = 0;
        int to = 0;
        int[] pick = new int[size];
        for (int i = 0; i < size; i++) {
            if (bounds.from()[i] > to || bounds.to()[i] < to) {
                head = tail = 0;
                to = bounds.from()[i];
            }
            for (; to < bounds.to()[i]; to++) {
                if (!x.isMissing(to)) {
                    while (tail > head && image.compare(images[queue[tail - 1]], images[to]) * wanted < 0) {
                        tail--;
                    }
                    queue[tail++] = to;
                }
            }
            while (head < tail && queue[head] < bounds.from()[i]) {
                head++;
            }
            pick[i] = head < tail ? queue[head] : -1;
        }
        return x.take(pick, size);
    }

    private static Column edges(Frame.Bounds bounds, Column x, boolean first) {
        int size = bounds.from().length;
        int[] near = new int[size + 1];
        near[size] = size;
        int known = first ? size : -1;
        for (int k = 0; k < size; k++) {
            int i = first ? size - 1 - k : k;
            known = x.isMissing(i) ? known : i;
            near[i] = known;
        }
        int[] pick = new int[size];
        for (int i = 0; i < size; i++) {
            int from = bounds.from()[i];
            int to = bounds.to()[i];
            int at = from >= to ? -1 : near[first ? from : to - 1];
            pick[i] = at >= from && at < to ? at : -1;
        }
        return x.take(pick, size);
    }

    private Column quantiles(Frame.Bounds bounds, Column x) {
        int size = bounds.from().length;
        MovingQuantile moving = new MovingQuantile(x, part);
        double[] out = new double[size];
        long[] valid = null;
        int from = 0;
        int to = 0;
        for (int i = 0; i < size; i++) {
            if (bounds.from()[i] >= to || bounds.from()[i] < from || bounds.to()[i] < to) {
                for (; from < to; from++) {
                    moving.move(from, -1);
                }
                from = bounds.from()[i];
                to = from;
            }
            for (; to < bounds.to()[i]; to++) {
                moving.move(to, 1);
            }
            for (; from < bounds.from()[i]; from++) {
                moving.move(from, -1);
            }
            if (moving.count() == 0) {
                valid = Validity.without(valid, size, i);
            } else {
                out[i] = moving.quantile();
            }
        }
        return DoubleColumn.cleaned(out, size, valid);
    }

    /** Each frame is a group of its own; some frames at a time, so that memory stays small. */
    private Column anew(Frame.Bounds bounds, Column[] laid) {
        int size = bounds.from().length;
        List<Column> parts = new ArrayList<>();
        int next = 0;
        while (next < size) {
            int first = next;
            long rows = 0;
            while (next < size && (next == first || rows < 100_000)) {
                rows += bounds.to()[next] - bounds.from()[next];
                next++;
            }
            parts.add(gather(bounds, laid, first, next, Math.toIntExact(rows)));
        }
        return Column.join(bound.type(), parts);
    }

    private Column gather(Frame.Bounds bounds, Column[] laid, int first, int behind, int rows) {
        int[] groups = new int[rows];
        int[] positions = new int[rows];
        int count = 0;
        for (int i = first; i < behind; i++) {
            for (int p = bounds.from()[i]; p < bounds.to()[i]; p++) {
                groups[count] = i - first;
                positions[count++] = p;
            }
        }
        Accumulator accumulator = bound.maker().get();
        accumulator.grow(behind - first);
        Column[] taken = new Column[laid.length];
        for (int a = 0; a < taken.length; a++) {
            taken[a] = laid[a].take(positions, rows);
        }
        accumulator.add(groups, taken, rows, 0);
        return accumulator.finish(behind - first);
    }

    /** The part that a moving median or quantile asks for; a half for all others. */
    public static BigDecimal part(GatherFunction function, dev.fiesta.compute.Arguments args) {
        return function.name().equals("quantile") ? GatherFunctions.part(args) : new BigDecimal("0.5");
    }
}
