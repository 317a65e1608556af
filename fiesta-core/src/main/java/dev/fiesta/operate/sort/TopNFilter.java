package dev.fiesta.operate.sort;

import dev.fiesta.compute.Expression;
import dev.fiesta.compute.FieldRef;
import dev.fiesta.gather.keys.GroupTable;
import dev.fiesta.gather.values.Image;
import dev.fiesta.step.ComputeStep;
import dev.fiesta.step.DistinctStep;
import dev.fiesta.step.FilterStep;
import dev.fiesta.step.FirstsStep;
import dev.fiesta.step.LimitStep;
import dev.fiesta.step.MatchStep;
import dev.fiesta.step.OrderKey;
import dev.fiesta.step.SampleStep;
import dev.fiesta.step.SortStep;
import dev.fiesta.step.Step;
import dev.fiesta.step.WalkSpec;
import dev.fiesta.step.WalksStep;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Bounds;
import dev.fiesta.value.Column;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import dev.fiesta.walk.WalkFunction;
import java.math.BigDecimal;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Leaves out rows that the next step will drop in any case, as they come: of rows of which the first of each partition are wanted
 * those that stand behind as many others already. For one worker, whose batches come in their order. What it remembers is little:
 * where there are too many partitions, it lets all rows pass.
 */
public final class TopNFilter {
    private static final long MOST_BYTES = 4L << 20;
    private static final int MOST_PARTITIONS = 1 << 16;
    private static final int MOST_REMEMBERED = 1 << 18;
    /** A row that is better than others moves them: of more rows that would take long. */
    private static final int MOST_WANTED = 1 << 9;

    private final List<Integer> within;
    private final int along;
    private final boolean descending;
    private final int count;
    /** Whose hashes are the keys; null where a slot has them. */
    private final @Nullable SampleStep sample;

    private @Nullable GroupTable partitions;
    private int[] numbers = new int[0];
    private int[] taken = new int[16];
    /** For each partition the least keys met, ascending. */
    private long[] best = new long[16];

    private boolean off;

    /** @param along the slot of the order's first key; -1 for rows as they come */
    private TopNFilter(List<Integer> within, int along, boolean descending, int count) {
        this(within, along, descending, count, null);
    }

    private TopNFilter(List<Integer> within, int along, boolean descending, int count, @Nullable SampleStep sample) {
        this.sample = sample;
        this.within = within;
        this.along = along;
        this.descending = descending;
        this.count = count;
    }

    /**
     * For the rows that the next steps keep; null where they must see them all.
     *
     * @param there the slots that are there: what it looks at may be read later only
     */
    public static @Nullable TopNFilter of(List<Step> next, BitSet there) {
        TopNFilter thinning = of(next);
        boolean sees = thinning != null
                && (thinning.along < 0 || there.get(thinning.along))
                && (thinning.sample == null
                        || thinning.sample.identity().stream().allMatch(there::get))
                && thinning.within.stream().allMatch(there::get);
        return sees ? thinning : null;
    }

    private static @Nullable TopNFilter of(List<Step> steps) {
        Step next = steps.isEmpty() ? null : steps.get(0);
        if (next instanceof WalksStep walks && steps.size() > 1 && steps.get(1) instanceof FilterStep filter) {
            return isCountedBehind(steps) ? null : ranked(walks.specs(), filter);
        }
        if (next instanceof DistinctStep distinct) {
            return new TopNFilter(distinct.slots(), -1, false, 1);
        }
        if (next instanceof SortStep sort && sort.most() <= MOST_WANTED) {
            return along(List.of(), sort.keys(), sort.most());
        }
        if (next instanceof FirstsStep firsts
                && firsts.rest() == null
                && firsts.count() <= MOST_WANTED
                && firsts.within().stream().allMatch(FieldRef.class::isInstance)) {
            List<Integer> within =
                    firsts.within().stream().map(TopNFilter::slot).toList();
            return firsts.along().isEmpty()
                    ? new TopNFilter(within, -1, false, (int) firsts.count())
                    : along(within, firsts.along(), firsts.count());
        }
        return next instanceof SampleStep sample ? of(sample) : null;
    }

    /** Of a part of the rows nobody knows how many they are before all have come; a place among all rows nobody knows who sees some. */
    private static @Nullable TopNFilter of(SampleStep sample) {
        boolean fits = !sample.percent()
                && !sample.identity().isEmpty()
                && sample.count().compareTo(BigDecimal.valueOf(MOST_WANTED)) <= 0
                && sample.within().stream().allMatch(FieldRef.class::isInstance);
        return fits
                ? new TopNFilter(
                        sample.within().stream().map(TopNFilter::slot).toList(),
                        -1,
                        false,
                        sample.count().intValueExact(),
                        sample)
                : null;
    }

    /** Whether rows are counted to the last one wanted where they are seen, so that none may be left out. */
    private static boolean isCountedBehind(List<Step> steps) {
        return steps.stream()
                .skip(1)
                .dropWhile(s -> s instanceof FilterStep || s instanceof ComputeStep || s instanceof MatchStep)
                .findFirst()
                .filter(LimitStep.class::isInstance)
                .isPresent();
    }

    /** For a condition on a rank: rows behind so many others that it cannot hold. */
    private static @Nullable TopNFilter ranked(List<WalkSpec> specs, FilterStep filter) {
        WalkSpec spec = specs.get(0);
        WalkFunction function = spec.calculation().walk();
        boolean ranks = specs.size() == 1 && function != null && function.countsBefore() && spec.only() == null;
        if (!ranks || !spec.within().stream().allMatch(FieldRef.class::isInstance)) {
            return null;
        }
        int most = 0;
        while (most <= MOST_WANTED && !neverHoldsBeyond(most, spec.slot(), filter)) {
            most++;
        }
        return most > MOST_WANTED
                ? null
                : along(spec.within().stream().map(TopNFilter::slot).toList(), spec.along(), most);
    }

    /** Whether rows of higher ranks are dropped for their rank, before anything is asked that may fail or counts. */
    private static boolean neverHoldsBeyond(int rank, int slot, FilterStep filter) {
        Bounds beyond = new Bounds(Column.of(Type.INTEGER, List.of(rank + 1L, Long.MAX_VALUE)));
        for (Expression condition : filter.conjuncts()) {
            if (condition.neverHolds(field -> field == slot ? beyond : null)) {
                return true;
            }
            if (condition.mayFail()) {
                return false;
            }
        }
        return false;
    }

    private static @Nullable TopNFilter along(List<Integer> within, List<OrderKey> keys, long count) {
        OrderKey first = keys.get(0);
        Type type = first.key().type();
        boolean comparable = first.key() instanceof FieldRef && (type.isNumeric() || type.isTime());
        return comparable ? new TopNFilter(within, slot(first.key()), first.descending(), (int) count) : null;
    }

    private static int slot(Expression field) {
        return ((FieldRef) field).index();
    }

    /** The rows that may be kept. */
    public Batch thinned(Batch rows) {
        if (off || rows.size() == 0) {
            return rows;
        }
        number(rows);
        int groups = within.isEmpty() ? 1 : table(rows).size();
        off = groups > MOST_PARTITIONS
                || (long) groups * count > MOST_REMEMBERED
                || (partitions != null && partitions.memory() > MOST_BYTES);
        if (off) {
            partitions = null;
            taken = new int[0];
            best = new long[0];
            return rows;
        }
        if (taken.length < groups) {
            taken = Arrays.copyOf(taken, Math.max(groups, taken.length * 2));
        }
        if ((along >= 0 || sample != null) && best.length < taken.length * count) {
            best = Arrays.copyOf(best, taken.length * count);
        }
        int[] picked = new int[rows.size()];
        int size = 0;
        long[] keys = keys(rows);
        for (int i = 0; i < picked.length; i++) {
            boolean wanted = keys == null ? taken[numbers[i]]++ < count : isBest(numbers[i], keys[i]);
            picked[size] = i;
            size += wanted ? 1 : 0;
        }
        return rows.select(Arrays.copyOf(picked, size), size);
    }

    private GroupTable table(Batch rows) {
        GroupTable known = partitions;
        if (known == null) {
            known = new GroupTable(
                    within.stream().map(s -> new Image(rows.column(s).type())).toArray(Image[]::new));
            partitions = known;
        }
        return known;
    }

    private void number(Batch rows) {
        if (numbers.length < rows.size()) {
            numbers = new int[rows.size()];
        }
        if (!within.isEmpty()) {
            Column[] keys = within.stream().map(rows::column).toArray(Column[]::new);
            table(rows).number(keys, rows.size(), numbers);
        }
    }

    /** Null for rows as they come. */
    private long @Nullable [] keys(Batch rows) {
        if (sample != null) {
            return Sampling.hashes(sample, rows.size(), rows::column, 0).values();
        }
        return along < 0 ? null : keys(rows.column(along).flat());
    }

    /** Keys as longs of which the least comes first; missing ones come last. */
    private long[] keys(Column column) {
        long[] keys = column instanceof LongColumn longs
                ? Arrays.copyOf(longs.values(), column.size())
                : Arrays.stream(((DoubleColumn) column).values(), 0, column.size())
                        .mapToLong(Image::ordered)
                        .toArray();
        for (int i = 0; i < keys.length; i++) {
            keys[i] = column.isMissing(i) ? Long.MAX_VALUE : descending ? ~keys[i] : keys[i];
        }
        return keys;
    }

    /** Whether a key is none of those that stand behind as many others as are wanted; level ones pass. */
    private boolean isBest(int partition, long key) {
        int start = partition * count;
        int met = taken[partition];
        if (met == count && (count == 0 || key > best[start + count - 1])) {
            return false;
        }
        int at = met < count ? met : count - 1;
        while (at > 0 && best[start + at - 1] > key) {
            best[start + at] = best[start + at - 1];
            at--;
        }
        best[start + at] = key;
        taken[partition] = Math.min(count, met + 1);
        return true;
    }
}
