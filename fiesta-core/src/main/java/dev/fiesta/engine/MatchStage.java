package dev.fiesta.engine;

import dev.fiesta.language.Clause.Unmatched;
import dev.fiesta.plan.Step;
import dev.fiesta.problem.DataException;
import dev.fiesta.problem.Notices;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** A look-up as batches pass by. */
final class MatchStage {
    /** The rows without a match so far, shared by all workers: how many, and which came first. */
    static final class Missed {
        private long count;
        private long firstOrder = Long.MAX_VALUE;
        private String first = "";
        private @Nullable DataException repeated;

        synchronized void add(long order, String key, long times) {
            count += times;
            if (order < firstOrder) {
                firstOrder = order;
                first = key;
            }
        }

        synchronized void repeats(DataException failure) {
            repeated = failure;
        }

        /** Tells, once all rows are through, of a key that stands twice, and of rows without a match where one is required. */
        synchronized void refuse(Step.Match step) {
            if (repeated != null) {
                throw repeated;
            }
            if (count > 0 && step.unmatched() == Unmatched.REQUIRED) {
                throw new DataException(
                        "'" + step.place() + "': " + first + " has no match in '"
                                + step.table().name() + "'"
                                + (count == 1 ? ", the only such row" : "; " + count + " rows have none") + ".\n  "
                                + "Complete '" + step.table().name()
                                + "', or take 'required' away to let what is brought be missing.",
                        null,
                        0,
                        null,
                        first);
            }
        }
    }

    private final Step.Match step;
    private final Rows theirs;
    private final Missed missed;
    private final Notices notices;
    private @Nullable LookUp lookUp;
    private final BitSet matched = new BitSet();

    MatchStage(Step.Match step, Rows theirs, Missed missed, Notices notices) {
        this.step = step;
        this.theirs = theirs;
        this.missed = missed;
        this.notices = notices;
    }

    /** Their rows that were matched. */
    BitSet matched() {
        return matched;
    }

    Batch apply(Batch batch) {
        int size = batch.size();
        Column[] ours = step.ours().stream().map(batch::column).toArray(Column[]::new);
        if (lookUp == null) {
            lookUp = new LookUp(
                    step, theirs, Arrays.stream(ours).map(Column::type).toArray(Type[]::new));
        }
        int[] numbers = lookUp.numbers(ours, size);
        refuseRepeated(lookUp, ours, numbers);
        if (step.each() && step.unmatched() != Unmatched.UNMATCHED_ONLY) {
            return multiplied(batch, numbers, lookUp);
        }
        Column dates = step.latestOurs() >= 0
                ? batch.column(step.latestOurs()).flat()
                : ours.length > 0 ? ours[0] : Column.missing(Type.EMPTY, size);
        int[] found = lookUp.single(numbers, dates);
        int[] kept = kept(found);
        note(batch, ours, found);
        Batch rows = bring(batch, found);
        return rows.select(kept, kept.length);
    }

    /** The first of our rows that would become two is told; a key that no row of ours has, when all are through. */
    private void refuseRepeated(LookUp look, Column[] ours, int[] numbers) {
        if (look.firstRepeated() < 0) {
            return;
        }
        for (int i = 0; i < numbers.length; i++) {
            if (look.isRepeated(numbers[i])) {
                throw repeated(ours, i);
            }
        }
        missed.repeats(repeated(theirs.columns(step.theirs()), look.firstRepeated()));
    }

    private DataException repeated(Column[] keys, int row) {
        String key = Arrays.stream(keys).map(c -> LookUp.shown(c, row)).collect(Collectors.joining(", "));
        String dated = step.latestTheirs() >= 0 ? " with the same date" : "";
        String table = step.table().name();
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
            if (all || (found[i] != LookUp.NONE) == wantMatched) {
                rows[count++] = i;
            }
        }
        return Arrays.copyOf(rows, count);
    }

    private void note(Batch batch, Column[] ours, int[] found) {
        int first = -1;
        long count = 0;
        for (int i = 0; i < found.length; i++) {
            if (found[i] == LookUp.NONE) {
                first = first < 0 ? i : first;
                count++;
            } else {
                matched.set(found[i]);
            }
        }
        if (first >= 0) {
            int row = first;
            String key = Arrays.stream(ours).map(c -> LookUp.shown(c, row)).collect(Collectors.joining(", "));
            String names = step.theirs().stream()
                    .map(t -> step.table().schema().field(t).name())
                    .collect(Collectors.joining(", "));
            missed.add((batch.sequence() << 24) + row, names + " " + key, count);
            if (step.unmatched() == Unmatched.KEPT || step.unmatched() == Unmatched.ALSO_UNMATCHED) {
                notices.count(Notices.Kind.UNMATCHED, step.place(), count);
            }
        }
    }

    private Batch bring(Batch batch, int[] found) {
        Batch rows = batch;
        for (Step.Brought brought : step.bring()) {
            rows = rows.with(brought.slot(), theirs.column(brought.theirs()).take(found, found.length));
        }
        return rows;
    }

    private Batch multiplied(Batch batch, int[] numbers, LookUp look) {
        List<int[]> pairs = new ArrayList<>();
        int[] single = new int[numbers.length];
        for (int i = 0; i < numbers.length; i++) {
            int count = numbers[i] == LookUp.NONE ? 0 : look.count(numbers[i]);
            single[i] = count == 0 ? LookUp.NONE : look.row(numbers[i], 0);
            for (int n = 0; n < count; n++) {
                pairs.add(new int[] {i, look.row(numbers[i], n)});
                matched.set(look.row(numbers[i], n));
            }
            if (count == 0 && step.unmatched() != Unmatched.MATCHED_ONLY) {
                pairs.add(new int[] {i, LookUp.NONE});
            }
        }
        Column[] ours = step.ours().stream().map(batch::column).toArray(Column[]::new);
        note(batch, ours, single);
        int[] rows = pairs.stream().mapToInt(p -> p[0]).toArray();
        int[] found = pairs.stream().mapToInt(p -> p[1]).toArray();
        return bring(batch.repeat(rows), found);
    }
}
