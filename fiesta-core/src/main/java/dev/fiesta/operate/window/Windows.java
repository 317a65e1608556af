package dev.fiesta.operate.window;

import dev.fiesta.compute.Expression;
import dev.fiesta.compute.Fault;
import dev.fiesta.compute.Types;
import dev.fiesta.gather.Accumulator;
import dev.fiesta.gather.GatherFunction;
import dev.fiesta.gather.Part;
import dev.fiesta.gather.keys.GroupTable;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.OrderKey;
import dev.fiesta.step.WalkSpec;
import dev.fiesta.step.WalksStep;
import dev.fiesta.store.Rows;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.TruthColumn;
import dev.fiesta.value.Type;
import dev.fiesta.value.Unit;
import dev.fiesta.walk.MovingFigure;
import dev.fiesta.walk.Order;
import dev.fiesta.walk.Walk;
import dev.fiesta.work.Workers;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.concurrent.ConcurrentHashMap;
import org.jspecify.annotations.Nullable;

/** Works out calculations over partitions; those that share partition and order share one layout of the rows. */
final class Windows {
    private record Partitions(int[] numbers, int count) {}

    /** Where a piece stands in its partition, of which only the rows count that take part. */
    static final class Amidst {
        private final int all;
        private final @Nullable Accumulator gathered;
        private int before;

        /**
         * @param all how many rows there are
         * @param before how many stand before it
         * @param gathered takes what the rows up to here gather, for figures that carry it on
         */
        Amidst(long all, long before, @Nullable Accumulator gathered) {
            this.all = Math.toIntExact(all);
            this.before = Math.toIntExact(before);
            this.gathered = gathered;
        }
    }

    private final Rows rows;
    private final Batch batch;
    private final Notices notices;
    private final int threads;
    private final int from;
    private final int to;
    private final Map<WalkSpec, Amidst> amidst;
    private final Map<List<Object>, Walk> walks = new ConcurrentHashMap<>();

    Windows(Rows rows, Notices notices, int threads) {
        this(rows, notices, threads, 0, Integer.MAX_VALUE, Map.of());
    }

    /**
     * A piece of one partition, in its order.
     *
     * @param from the first row whose ties are counted
     * @param to the row behind the last of them
     * @param amidst for calculations that ask for it, where in its partition the piece stands; they then stand behind it
     */
    Windows(Rows rows, Notices notices, int threads, int from, int to, Map<WalkSpec, Amidst> amidst) {
        this.amidst = amidst;
        this.threads = threads;
        this.from = from;
        this.to = to;
        this.rows = rows;
        this.batch = rows.batch();
        this.notices = notices;
    }

    /** Calculations side by side; those over the same order wait for the first of them to lay it out. */
    Rows run(WalksStep step) {
        List<WalkSpec> specs = step.specs();
        Column[] columns = new Column[specs.size()];
        Workers.each(threads, columns.length, rows.size(), i -> {
            try {
                columns[i] = column(specs.get(i));
            } catch (Fault fault) {
                throw specs.get(i).place().failure(fault);
            }
        });
        Rows result = rows;
        for (int i = 0; i < columns.length; i++) {
            result = result.with(specs.get(i).slot(), columns[i]);
        }
        return result;
    }

    private Column column(WalkSpec spec) {
        Column[] args = new Column[spec.args().size()];
        for (int i = 0; i < args.length; i++) {
            args[i] = spec.args().get(i).kernel(notices).eval(batch).flat();
        }
        Amidst piece = amidst.get(spec);
        long[] met = spec.only() == null ? null : condition(spec.only()).bits();
        if (spec.calculation().walkBound() != null) {
            int[] taking = met == null
                    ? Order.asTheyStand(rows.size())
                    : dev.fiesta.compute.RowNumbers.where(met, rows.size());
            Walk walk = met == null && piece == null ? layout(spec) : layOut(spec, taking);
            if (piece != null) {
                walk.amidst(piece.before, piece.all);
                piece.before += walk.length();
            }
            boolean tied = Objects.requireNonNull(spec.calculation().walk()).looksAtRows();
            notices.count(
                    Notices.Kind.TIES,
                    spec.place().text(),
                    tied ? walk.ties(position(from, taking), position(to, taking)) : 0);
            if (spec.period() != null) {
                uneven(spec, spec.period(), walk, taking);
            }
            Column values = spec.calculation().walkBound().walker().walk(walk, args);
            countLost(spec, values, position(from, taking), position(to, taking));
            return walk.byRow(values);
        }
        GatherFunction.Bound bound = Objects.requireNonNull(spec.calculation().gatherBound());
        if (met != null) {
            args = masked(args, met);
        }
        if (spec.calculation().frame() == null) {
            return whole(spec, bound, args, met);
        }
        Walk walk = layout(spec);
        MovingFigure figure = new MovingFigure(bound, spec.calculation().frame());
        Column values;
        if (piece == null) {
            values = figure.walk(walk, args, null, 0);
        } else {
            values = figure.walk(walk, args, piece.gathered, piece.before);
            piece.before += walk.length();
        }
        countLost(spec, values, from, Math.min(to, walk.length()));
        return walk.byRow(values);
    }

    /** The position of a row among those that take part: a piece stands in its order already. */
    private int position(int row, int[] taking) {
        int found = Arrays.binarySearch(taking, row);
        return found < 0 ? -found - 1 : found;
    }

    /** Counts the results, of the rows that count here, that a number could not hold. */
    private void countLost(WalkSpec spec, Column values, int first, int behind) {
        long lost = values instanceof DoubleColumn numbers ? numbers.lost(first, behind) : 0;
        notices.count(Notices.Kind.NO_NUMBER, spec.place().text(), lost);
    }

    /** Counts steps from row to row that are not one period long. */
    private void uneven(WalkSpec spec, Unit period, Walk walk, int[] taking) {
        Column key = walk.keyColumn();
        long count = 0;
        long of = 0;
        for (int i = Math.max(1, position(from, taking)); i < position(to, taking); i++) {
            int row = walk.row(i);
            int last = walk.row(i - 1);
            if (walk.startsAt(i) || key.isMissing(row) || key.isMissing(last)) {
                continue;
            }
            of++;
            if (!PeriodSteps.isOne(
                            period,
                            (LongColumn) key,
                            last,
                            row,
                            spec.along().get(0).descending())
                    && count++ == 0) {
                Object before = key.get(last);
                Object now = key.get(row);
                String unit = period.name().toLowerCase(Locale.ROOT);
                notices.example(
                        Notices.Kind.UNEVEN_STEPS,
                        spec.place().text(),
                        0,
                        i,
                        () -> before + " to " + now
                                + "; add the rows that are not there with 'gapless', or look back by value: lag(…, 1 "
                                + unit + " …)");
            }
        }
        notices.count(Notices.Kind.UNEVEN_STEPS, spec.place().text(), count, of);
    }

    private TruthColumn condition(Expression only) {
        return (TruthColumn)
                Types.widen(only.kernel(notices).eval(batch), Type.TRUTH).flat();
    }

    /** Arguments that are missing where the condition does not hold; {@code count()} then counts where it holds. */
    private Column[] masked(Column[] args, long[] met) {
        if (args.length == 0) {
            long[] valid = met.clone();
            return new Column[] {new TruthColumn(met, rows.size(), valid)};
        }
        int[] pick = new int[rows.size()];
        for (int i = 0; i < pick.length; i++) {
            pick[i] = dev.fiesta.value.Bits.get(met, i) ? i : -1;
        }
        Column[] masked = new Column[args.length];
        for (int i = 0; i < args.length; i++) {
            masked[i] = args[i].take(pick, pick.length);
        }
        return masked;
    }

    /** A figure of a whole partition, on each of its rows. */
    private Column whole(WalkSpec spec, GatherFunction.Bound bound, Column[] args, long @Nullable [] met) {
        Partitions partitions = partitions(spec.within());
        Accumulator accumulator = bound.empty(partitions.count());
        Column[] values = args;
        int[] groups = partitions.numbers();
        int size = rows.size();
        if (met != null || !spec.along().isEmpty()) {
            int[] order = met == null ? Order.asTheyStand(size) : dev.fiesta.compute.RowNumbers.where(met, size);
            order = Order.sort(order, OrderKey.of(spec.along(), batch, notices));
            values = new Column[args.length];
            groups = new int[order.length];
            for (int i = 0; i < args.length; i++) {
                values[i] = args[i].take(order, order.length);
            }
            for (int i = 0; i < order.length; i++) {
                groups[i] = partitions.numbers()[order[i]];
            }
            size = order.length;
        }
        accumulator.add(groups, spec.args().isEmpty() ? new Column[0] : values, size, 0);
        if (accumulator instanceof Part part && spec.calculation().isPart()) {
            return part.ofRows(args[0], partitions.numbers());
        }
        Column figures = accumulator.finish(Math.max(1, partitions.count()));
        countLost(spec, figures, 0, figures.size());
        return figures.take(partitions.numbers(), rows.size());
    }

    private Partitions partitions(List<Expression> within) {
        Column[] keys = Expression.columns(within, batch, notices);
        GroupTable table = GroupTable.of(keys);
        int[] numbers = new int[rows.size()];
        table.number(keys, rows.size(), numbers);
        return new Partitions(numbers, Math.max(1, table.size()));
    }

    /** Calculations of the same signature share partition and order. */
    static List<Object> signature(WalkSpec spec) {
        List<Object> signature = new ArrayList<>();
        spec.within().forEach(k -> signature.add(identity(k)));
        signature.add("along");
        spec.along().forEach(k -> {
            signature.add(identity(k.key()));
            signature.add(k.descending());
        });
        return signature;
    }

    private Walk layout(WalkSpec spec) {
        return walks.computeIfAbsent(signature(spec), s -> layOut(spec, Order.asTheyStand(rows.size())));
    }

    private static Object identity(Expression key) {
        return key instanceof dev.fiesta.compute.FieldRef field ? (Object) field.index() : key;
    }

    private Walk layOut(WalkSpec spec, int[] taking) {
        Partitions partitions = partitions(spec.within());
        return Walk.of(
                rows.size(),
                taking,
                partitions.numbers(),
                partitions.count(),
                OrderKey.of(spec.along(), batch, notices),
                Workers.parts(threads, rows.size()));
    }
}
