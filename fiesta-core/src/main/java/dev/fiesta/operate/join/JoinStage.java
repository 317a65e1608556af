package dev.fiesta.operate.join;

import dev.fiesta.gather.keys.GroupTable;
import dev.fiesta.language.Clause.Unmatched;
import dev.fiesta.problem.DataException;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.MatchStep;
import dev.fiesta.store.Rows;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import dev.fiesta.walk.Parts;
import dev.fiesta.work.Place;
import dev.fiesta.work.Workers;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.function.BiFunction;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/** A look-up as batches pass by. */
public final class JoinStage {
    /** So many rows at most are made of a batch at once. */
    private static final int MOST_ROWS = 1 << 13;

    private final Join matching;
    private final MatchStep step;
    private final Rows theirs;
    private final Notices notices;
    private final int threads;
    private final GroupTable.@Nullable Finder[] finders;
    private final BitSet matched = new BitSet();
    private final BitSet met = new BitSet();
    private final int ourNumber;
    private long failedAt;

    /** @param threads how many may look up rows of one batch */
    public JoinStage(Join matching, Notices notices, int threads) {
        this(matching, notices, threads, -1);
    }

    /**
     * A part of a look-up.
     *
     * @param ourNumber the slot that tells where our rows stand among all, -1 where batches tell it
     */
    public JoinStage(Join matching, Notices notices, int threads, int ourNumber) {
        this.matching = matching;
        this.step = matching.step();
        this.theirs = matching.theirs();
        this.notices = notices;
        this.threads = threads;
        this.finders = new GroupTable.Finder[threads];
        this.ourNumber = ourNumber;
    }

    /** Where a row of a batch stands among all rows of ours. */
    private long order(Batch batch, int row) {
        return ourNumber < 0 ? Place.first(batch) + row : number(batch.column(ourNumber), row);
    }

    private static long number(Column numbers, int row) {
        return ((LongColumn) numbers).values()[row];
    }

    /** Where the row stands that was last refused. */
    long failedAt() {
        return failedAt;
    }

    /** Their rows that were matched. */
    BitSet matched() {
        return matched;
    }

    /** The rows of the last batch that found one. */
    BitSet met() {
        return met;
    }

    /** What comes of a batch, some thousand rows at a time. */
    void each(Batch batch, Consumer<Batch> out) {
        if (step.multiplies()) {
            multiplied(batch, MOST_ROWS, Batch::repeat, out);
        } else {
            out.accept(single(batch));
        }
    }

    private static Type[] types(Column[] columns) {
        return Arrays.stream(columns).map(Column::type).toArray(Type[]::new);
    }

    /** What comes of a batch. */
    public Batch apply(Batch batch) {
        if (!step.multiplies()) {
            return single(batch);
        }
        List<Batch> all = new ArrayList<>();
        multiplied(batch, Integer.MAX_VALUE, this::lazily, all::add);
        return all.get(0);
    }

    /**
     * The rows that become of those of a batch; what nothing becomes of is not looked at any more.
     *
     * @param most how many are given at a time
     * @param repeat gives rows as often as they are named
     */
    private void multiplied(Batch batch, int most, BiFunction<Batch, int[], Batch> repeat, Consumer<Batch> out) {
        Column[] ours = step.ours().stream().map(batch::column).toArray(Column[]::new);
        JoinBuild look = matching.lookUp(types(ours), Type.EMPTY);
        int[] numbers = numbers(look, ours, batch.size());
        note(batch, ours, firsts(look, numbers));
        int[] times = times(look, numbers);
        int[] kept = IntStream.range(0, times.length).filter(i -> times[i] > 0).toArray();
        Batch left = batch.select(kept, kept.length);
        long open = Arrays.stream(times).asLongStream().sum();
        int[] of = new int[(int) Math.min(most, open)];
        int[] found = new int[of.length];
        int made = 0;
        for (int k = 0; k < kept.length; k++) {
            int number = numbers[kept[k]];
            for (int n = 0; n < times[kept[k]]; n++) {
                if (made == of.length) {
                    out.accept(matched(repeat.apply(left, of), found));
                    open -= made;
                    of = new int[(int) Math.min(most, open)];
                    found = new int[of.length];
                    made = 0;
                }
                of[made] = k;
                found[made++] = number == JoinBuild.NONE ? JoinBuild.NONE : look.row(number, n);
            }
        }
        out.accept(matched(repeat.apply(left, of), found));
    }

    /** How many rows become of each. */
    private int[] times(JoinBuild look, int[] numbers) {
        int without = step.unmatched() == Unmatched.MATCHED_ONLY ? 0 : 1;
        return Arrays.stream(numbers)
                .map(n -> n == JoinBuild.NONE ? without : look.count(n))
                .toArray();
    }

    private static int[] firsts(JoinBuild look, int[] numbers) {
        return Arrays.stream(numbers)
                .map(n -> n == JoinBuild.NONE ? n : look.row(n, 0))
                .toArray();
    }

    private Batch matched(Batch rows, int[] found) {
        Arrays.stream(found).filter(row -> row != JoinBuild.NONE).forEach(matched::set);
        return bring(rows, found);
    }

    /** Rows as often as they are named, of which only what is asked for is repeated. */
    private Batch lazily(Batch rows, int[] of) {
        return rows.made(of, matching.most(), rows.width(), (slot, picked, count) -> {
            int[] own = of;
            if (picked != null) {
                own = new int[count];
                for (int i = 0; i < count; i++) {
                    own[i] = of[picked[i]];
                }
            }
            return rows.column(slot).take(own, count);
        });
    }

    private Batch single(Batch batch) {
        int size = batch.size();
        Column[] ours = step.ours().stream().map(batch::column).toArray(Column[]::new);
        Column dates =
                step.latestOurs() >= 0 ? batch.column(step.latestOurs()).flat() : Column.missing(Type.EMPTY, size);
        JoinBuild lookUp = matching.lookUp(types(ours), dates.type());
        int[] numbers = numbers(lookUp, ours, size);
        refuseRepeated(batch, lookUp, ours, numbers);
        int[] found = lookUp.single(numbers, dates);
        int[] kept = kept(found);
        note(batch, ours, found);
        Batch rows = bring(batch, found);
        return rows.select(kept, kept.length);
    }

    private int[] numbers(JoinBuild lookUp, Column[] ours, int size) {
        int[] numbers = new int[size];
        Parts parts = Workers.parts(threads, size);
        if (parts.count() == 1) {
            lookUp.numbers(finder(lookUp, 0), ours, size, numbers);
            return numbers;
        }
        parts.each(p -> {
            int from = parts.start(p, size);
            int count = parts.start(p + 1, size) - from;
            int[] own = new int[count];
            Column[] some = Arrays.stream(ours).map(c -> c.range(from, count)).toArray(Column[]::new);
            lookUp.numbers(finder(lookUp, p), some, count, own);
            System.arraycopy(own, 0, numbers, from, count);
        });
        return numbers;
    }

    private GroupTable.Finder finder(JoinBuild lookUp, int part) {
        GroupTable.Finder known = finders[part];
        if (known == null) {
            known = lookUp.finder();
            finders[part] = known;
        }
        return known;
    }

    /** The first of our rows that would become two is told. */
    private void refuseRepeated(Batch batch, JoinBuild look, Column[] ours, int[] numbers) {
        if (!look.anyRepeated()) {
            return;
        }
        for (int i = 0; i < numbers.length; i++) {
            if (look.isRepeated(numbers[i])) {
                failedAt = order(batch, i);
                throw repeated(ours, i);
            }
        }
    }

    private DataException repeated(Column[] keys, int row) {
        String key = Arrays.stream(keys).map(c -> JoinBuild.shown(c, row)).collect(Collectors.joining(", "));
        String dated = step.latestTheirs() >= 0 ? " with the same date" : "";
        String table = step.table().shownName();
        return new DataException(
                "'" + step.place() + "': the key " + key + " stands twice in '" + table + "'" + dated
                        + ", so a row of ours would become two.\n  Make the keys of '" + table
                        + "' unique first (per …, distinct …), or say 'match each' to get a row for every match.",
                null,
                0,
                null,
                key);
    }

    private int[] kept(int[] found) {
        boolean wantMatched = step.unmatched() != Unmatched.UNMATCHED_ONLY;
        boolean all = step.unmatched() != Unmatched.MATCHED_ONLY && wantMatched;
        int[] rows = new int[found.length];
        int count = 0;
        for (int i = 0; i < found.length; i++) {
            if (all || (found[i] != JoinBuild.NONE) == wantMatched) {
                rows[count++] = i;
            }
        }
        return Arrays.copyOf(rows, count);
    }

    private void note(Batch batch, Column[] ours, int[] found) {
        int first = -1;
        long count = 0;
        notices.count(Notices.Kind.UNMATCHED, step.place(), 0, found.length);
        met.clear();
        for (int i = 0; i < found.length; i++) {
            if (found[i] == JoinBuild.NONE) {
                first = first < 0 ? i : first;
                count++;
            } else {
                matched.set(found[i]);
                met.set(i);
            }
        }
        if (first >= 0) {
            int row = first;
            String key = Arrays.stream(ours).map(c -> JoinBuild.shown(c, row)).collect(Collectors.joining(", "));
            String names = step.theirs().stream()
                    .map(t -> step.table().schema().field(t).name())
                    .collect(Collectors.joining(", "));
            long order = order(batch, row);
            long times = count;
            notices.whenCounted(() -> matching.missed(order, names + " " + key, times));
            if (step.unmatched() == Unmatched.KEPT || step.unmatched() == Unmatched.ALSO_UNMATCHED) {
                notices.count(Notices.Kind.UNMATCHED, step.place(), count, 0);
                notices.example(Notices.Kind.UNMATCHED, step.place(), order, 0, () -> names + " " + key);
            }
        }
    }

    private Batch bring(Batch batch, int[] found) {
        Batch rows = batch.withoutPlaces(); // nobody shall see from what is told whether the look-up was parted
        for (MatchStep.Brought brought : step.bring()) {
            rows = rows.with(brought.slot(), theirs.column(brought.theirs()).take(found, found.length));
        }
        return rows;
    }
}
