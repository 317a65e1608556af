package dev.fiesta.operate.join;

import dev.fiesta.compute.FieldRef;
import dev.fiesta.compute.Types;
import dev.fiesta.language.Clause.Unmatched;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.MatchStep;
import dev.fiesta.step.OrderKey;
import dev.fiesta.store.ExternalSort;
import dev.fiesta.store.Rows;
import dev.fiesta.store.RowsBuilder;
import dev.fiesta.store.Runs;
import dev.fiesta.store.SpillFile;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.store.Stored;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import dev.fiesta.work.Workers;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Collections;
import java.util.List;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * A part of a look-up in which too many rows of theirs have the same keys. Theirs are sorted by key, and by date where the latest
 * is wanted; each page of them is shown to all rows of ours that still want one, and what none has found is told in the end.
 */
final class PagedJoin {
    private final PartitionedJoin match;
    private final MatchStep step;
    private final SpilledRows ours;
    private final SpilledRows theirs;
    private final BitSet read = new BitSet();
    private final List<Integer> keys;
    private final boolean multiplies;
    /** For each block of ours the rows that found one. */
    private final BitSet[] found;

    private Rows last = new Rows(0, new Column[0]);

    /** @param types those in which keys are compared */
    PagedJoin(PartitionedJoin match, SpilledRows ours, SpilledRows theirs, Type[] types) {
        this.match = match;
        this.step = match.step();
        this.ours = ours;
        this.read.set(0, match.theirNumber() + 1);
        int first = match.theirNumber() + 1;
        this.keys = IntStream.range(first, first + types.length).boxed().toList();
        this.theirs = sorted(theirs, types);
        this.multiplies = step.each() && step.unmatched() != Unmatched.UNMATCHED_ONLY;
        this.found = new BitSet[ours.blocks()];
        Arrays.setAll(found, b -> new BitSet());
    }

    /** Rows of theirs by key, then by date, then as they stood; keys as they are compared stand in slots behind. */
    private SpilledRows sorted(SpilledRows part, Type[] types) {
        List<SpilledRows.Block> blocks = new ArrayList<>();
        for (int b = 0; b < part.blocks(); b++) {
            Rows rows = part.read(b, read);
            SpillFile.@Nullable Place[] places = Arrays.copyOf(part.block(b).slots(), read.length() + types.length);
            for (int k = 0; k < types.length; k++) {
                Column key = Types.keys(rows.column(step.theirs().get(k)), types[k]);
                places[read.length() + k] = part.scratch().write(key.flat());
            }
            blocks.add(new SpilledRows.Block(rows.size(), places));
        }
        List<OrderKey> order = new ArrayList<>();
        for (int k = 0; k < types.length; k++) {
            order.add(new OrderKey(new FieldRef(keys.get(k), types[k]), false));
        }
        if (step.latestTheirs() >= 0) {
            Type dates = part.read(0, read).column(step.latestTheirs()).type();
            order.add(new OrderKey(new FieldRef(step.latestTheirs(), dates), false));
        }
        BitSet all = (BitSet) read.clone();
        keys.forEach(all::set);
        return ExternalSort.sorted(new SpilledRows(part.scratch(), blocks), order, all, new Notices(), match.memory());
    }

    void run() {
        SpilledRows repeated = step.each() || step.bring().isEmpty() ? null : repeated();
        if (repeated != null && refuses(repeated)) {
            return;
        }
        List<SpilledRows> pages = pages(theirs);
        if (!multiplies) {
            Collections.reverse(pages); // the latest is met first; rows that become several meet theirs as they stand
        }
        pages.forEach(this::show);
        rest();
    }

    /** The first two rows of each key, or key and date, that stands more than once; null where there are none. */
    private @Nullable SpilledRows repeated() {
        List<Integer> same = new ArrayList<>(keys);
        if (step.latestTheirs() >= 0) {
            same.add(step.latestTheirs());
        }
        BitSet compared = (BitSet) read.clone();
        keys.forEach(compared::set);
        RowsBuilder pairs = new RowsBuilder(match.memory(), read);
        Rows before = new Rows(0, new Column[0]);
        boolean told = false;
        boolean any = false;
        for (int b = 0; b < theirs.blocks(); b++) {
            Workers.stopIfInterrupted();
            Rows both = behind(before, theirs.read(b, compared));
            List<Column> columns = same.stream().map(both::column).toList();
            int[] picked = new int[2 * both.size()];
            int count = 0;
            for (int i = 1; i < both.size(); i++) {
                boolean again = !Runs.differ(columns, i - 1, columns, i) && isWhole(columns, i);
                if (again && !told) {
                    picked[count++] = i - 1;
                    picked[count++] = i;
                }
                told = again;
            }
            if (count > 0) {
                pairs.add(both.take(Arrays.copyOf(picked, count)).batch());
                any = true;
            }
            before = last(both);
        }
        if (!any) {
            return null;
        }
        Stored all = pairs.finish();
        return all instanceof SpilledRows file ? file : SpilledRows.of(match.memory(), all.load());
    }

    private static boolean isWhole(List<Column> columns, int row) {
        return columns.stream().noneMatch(c -> c.isMissing(row));
    }

    private static Rows behind(Rows before, Rows rows) {
        return before.size() == 0 ? rows : Rows.join(List.of(before, rows));
    }

    private static Rows last(Rows rows) {
        return rows.range(Math.max(0, rows.size() - 1), rows.size());
    }

    /** Whether a row of ours would become several; the first of them is told. */
    private boolean refuses(SpilledRows repeated) {
        boolean refused = false;
        Rows before = new Rows(0, new Column[0]);
        for (SpilledRows page : pages(repeated)) {
            Rows both = behind(before, page.load(read)); // two of a key may stand in two pages
            JoinStage stage = match.stage(new Join(step, both), new Notices());
            refused |= !match.attempt(stage, () -> {
                for (int b = 0; b < ours.blocks(); b++) {
                    Workers.stopIfInterrupted();
                    stage.apply(match.batch(ours, b));
                }
            });
            before = last(both);
        }
        return refused;
    }

    /** As many blocks each as may be held. */
    private List<SpilledRows> pages(SpilledRows rows) {
        List<SpilledRows> pages = new ArrayList<>();
        int first = 0;
        long held = 0;
        for (int b = 0; b < rows.blocks(); b++) {
            long bytes = JoinOperator.held(rows.some(b, b + 1), read);
            if (b > first && held + bytes > JoinOperator.share(match.memory())) {
                pages.add(rows.some(first, b));
                first = b;
                held = 0;
            }
            held += bytes;
        }
        pages.add(rows.some(first, rows.blocks()));
        return pages;
    }

    private void show(SpilledRows page) {
        Join matching = new Join(step.matchedOnly(), page.load(read));
        JoinStage stage = match.stage(matching, new Notices());
        for (int b = 0; b < ours.blocks(); b++) {
            Workers.stopIfInterrupted();
            Batch batch = match.batch(ours, b);
            int[] wanting = without(multiplies ? new BitSet() : found[b], batch.size());
            Batch some = batch.select(wanting, wanting.length);
            if (step.unmatched() == Unmatched.UNMATCHED_ONLY) {
                stage.apply(some);
            } else {
                last = match.show(stage, some, last);
            }
            BitSet met = found[b];
            stage.met().stream().forEach(row -> met.set(wanting[row]));
        }
        match.left(matching, stage, last);
    }

    private static int[] without(BitSet some, int size) {
        return IntStream.range(0, size).filter(row -> !some.get(row)).toArray();
    }

    /** What becomes of rows that no page had anything for. */
    private void rest() {
        Join none = new Join(step, theirs.read(0, read).range(0, 0));
        JoinStage stage = match.stage(none, match.notices());
        for (int b = 0; b < ours.blocks(); b++) {
            Batch batch = match.batch(ours, b);
            int[] left = without(found[b], batch.size());
            match.notices().count(Notices.Kind.UNMATCHED, step.place(), 0, batch.size() - left.length);
            last = match.show(stage, batch.select(left, left.length), last);
        }
        match.add(none);
    }
}
