package dev.fiesta.operate.join;

import dev.fiesta.compute.Types;
import dev.fiesta.language.Clause.Unmatched;
import dev.fiesta.operate.Partitioning;
import dev.fiesta.problem.DataException;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.MatchStep;
import dev.fiesta.store.ExternalSort;
import dev.fiesta.store.Memory;
import dev.fiesta.store.Rows;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.store.Stored;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import dev.fiesta.work.Workers;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * A look-up in a table that does not fit into memory: both sides are split by a hash of their keys, and what the parts give is put
 * back into the order of the rows. A part that does not fit all the same, as one key has too many rows, goes page by page.
 */
final class PartitionedJoin {
    private final MatchStep step;
    private final Stored theirs;
    private final Notices notices;
    private final Memory memory;
    private final int parts;
    private final int number;
    private final int theirNumber;
    private final BitSet read;
    private final BitSet kept;
    private final BitSet after;
    private final SpilledRows rows;
    private final Join all;
    private final List<SpilledRows.Block> found = new ArrayList<>();
    private final List<SpilledRows.Block> below = new ArrayList<>();
    private long failedAt = Long.MAX_VALUE;
    private @Nullable DataException failure;

    /**
     * @param before the slots needed before it
     * @param after the slots needed behind it
     */
    PartitionedJoin(
            MatchStep step,
            Stored theirs,
            SpilledRows rows,
            BitSet before,
            BitSet after,
            Notices notices,
            Memory memory) {
        this.step = step;
        this.theirs = theirs;
        this.notices = notices;
        this.memory = memory;
        this.parts = JoinOperator.parts(step, theirs, memory);
        this.number = Math.max(
                Math.max(before.length(), after.length()),
                step.bring().stream().mapToInt(b -> b.slot() + 1).max().orElse(0));
        this.theirNumber = step.theirFields().length();
        this.read = with(before, number);
        this.kept = with(after, number);
        this.after = after;
        this.rows = rows.numbered(before, number);
        this.all = new Join(step, new Rows(0, new Column[0]));
    }

    private static BitSet with(BitSet slots, int slot) {
        BitSet more = (BitSet) slots.clone();
        more.set(slot);
        return more;
    }

    SpilledRows run() {
        SpilledRows others = SpilledRows.in(memory, theirs).numbered(step.theirFields(), theirNumber);
        Type[] types = types(others);
        List<SpilledRows> ours = split(rows, step.ours(), types);
        List<SpilledRows> partners = split(others, step.theirs(), types);
        for (int p = 0; p < parts; p++) {
            Workers.stopIfInterrupted();
            if (JoinOperator.isTooLarge(partners.get(p), memory)) {
                new PagedJoin(this, ours.get(p), partners.get(p), types).run();
            } else {
                part(ours.get(p), partners.get(p).load());
            }
        }
        if (failure != null) {
            throw failure;
        }
        all.refuse();
        SpilledRows matched = inOrder(found);
        return below.isEmpty() ? matched : matched.with(inOrder(below));
    }

    MatchStep step() {
        return step;
    }

    Memory memory() {
        return memory;
    }

    Notices notices() {
        return notices;
    }

    /** The slot of the numbers that their rows have. */
    int theirNumber() {
        return theirNumber;
    }

    JoinStage stage(Join matching, Notices told) {
        return new JoinStage(matching, told, 1, number);
    }

    private Type[] types(SpilledRows others) {
        Column[] ours = rows.read(0, read).columns(step.ours());
        Column[] partners = others.read(0, step.theirFields()).columns(step.theirs());
        Type[] types = new Type[ours.length];
        Arrays.setAll(types, k -> Objects.requireNonNull(Types.common(ours[k].type(), partners[k].type())));
        return types;
    }

    private void part(SpilledRows ours, Rows partners) {
        Join matching = new Join(step, partners);
        JoinStage stage = stage(matching, notices);
        attempt(stage, () -> {
            Rows last = new Rows(0, new Column[0]);
            for (int b = 0; b < ours.blocks(); b++) {
                last = show(stage, batch(ours, b), last);
            }
            left(matching, stage, last);
        });
        all.add(matching);
    }

    /** A block of rows of ours. */
    Batch batch(SpilledRows ours, int block) {
        return Batch.of(ours.block(block).rows(), ours.read(block, read).slots(), block);
    }

    /**
     * Looks rows up and keeps what they become.
     *
     * @param last some that were kept before
     * @return the last that were kept, for the types of their columns
     */
    Rows show(JoinStage stage, Batch ours, Rows last) {
        Rows[] added = {last};
        stage.each(ours, made -> added[0] = JoinOperator.add(memory, made, kept, found));
        return added[0];
    }

    /** Keeps those of their rows that none of ours has met, where they are wanted. */
    void left(Join matching, JoinStage stage, Rows ours) {
        if (step.unmatched() == Unmatched.ALSO_UNMATCHED) {
            Rows left = matching.without(ours, stage.matched());
            int[] extra = matching.unmatched(stage.matched());
            Column places = matching.theirs().column(theirNumber).take(extra, extra.length);
            below.addAll(blocks(left.with(number, places)));
        }
    }

    /** Whether all went well; of what parts refuse, that of the first row of ours is told in the end. */
    boolean attempt(JoinStage stage, Runnable deed) {
        try {
            deed.run();
            return true;
        } catch (DataException e) {
            if (stage.failedAt() < failedAt) {
                failedAt = stage.failedAt();
                failure = e;
            }
            return false;
        }
    }

    /** Takes over what a part has to tell when all are through. */
    void add(Join part) {
        all.add(part);
    }

    private List<SpilledRows.Block> blocks(Rows some) {
        SpilledRows written = SpilledRows.of(memory, some);
        List<SpilledRows.Block> blocks = new ArrayList<>();
        for (int b = 0; b < written.blocks(); b++) {
            blocks.add(written.block(b));
        }
        return blocks;
    }

    private SpilledRows inOrder(List<SpilledRows.Block> blocks) {
        return ExternalSort.byNumber(new SpilledRows(memory.scratch(), blocks), number, after, memory);
    }

    private List<SpilledRows> split(SpilledRows from, List<Integer> keys, Type[] types) {
        BitSet every = new BitSet();
        every.set(0, from.block(0).slots().length);
        Partitioning split = new Partitioning(parts, every, memory);
        for (int b = 0; b < from.blocks(); b++) {
            Rows some = from.read(b, every);
            Column[] columns = some.columns(keys);
            Arrays.setAll(columns, k -> Types.keys(columns[k], types[k]));
            split.add(some, Partitioning.byHash(columns, some.size(), parts));
        }
        return split.finish().stream().map(p -> SpilledRows.in(memory, p)).toList();
    }
}
