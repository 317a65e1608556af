package dev.fiesta.operate.join;

import dev.fiesta.language.Clause.Unmatched;
import dev.fiesta.operate.Ground;
import dev.fiesta.operate.Operator;
import dev.fiesta.step.MatchStep;
import dev.fiesta.store.Memory;
import dev.fiesta.store.Rows;
import dev.fiesta.store.RowsBuilder;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.store.Stored;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.work.Workers;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A look-up. Where the other table does not fit into memory, both are split by a hash of their keys, so that rows with equal keys come
 * into the same part; the parts are looked up one by one, and what they give is put back into the order of the rows.
 */
public final class JoinOperator implements Operator {
    /** What the keys of a row take beside its columns. */
    private static final int BYTES_A_ROW = 48;

    private static final int MOST_PARTS = 256;
    /** Rows that may become of one while records are read. */
    private static final int MOST_TIMES = 64;

    private static final int FEWEST_ROWS = 8;
    private static final int TOO_LARGE = 2;

    private final MatchStep step;
    private final Ground ground;
    private final Memory memory;

    public JoinOperator(MatchStep step, Ground ground) {
        this.step = step;
        this.ground = ground;
        this.memory = ground.memory();
    }

    /**
     * Whether records cannot be matched as they come: the other table, laid out by key, takes more than its share, or a key stands in it
     * very often.
     */
    public static boolean isLarge(MatchStep step, Stored theirs, Memory memory) {
        return parts(step, theirs, memory) > 1
                || step.multiplies() && (theirs instanceof SpilledRows || Join.most(step, theirs.load()) > MOST_TIMES);
    }

    /** How many parts the other table must be split into: 1 where it fits into memory. */
    static int parts(MatchStep step, Stored theirs, Memory memory) {
        BitSet read = step.theirFields();
        long held = theirs instanceof SpilledRows file
                ? held(file, read)
                : theirs.load().bytes() + BYTES_A_ROW * theirs.rows();
        long parts = 1 + held / share(memory);
        return (int) Math.min(Math.min(parts, MOST_PARTS), 1 + theirs.rows() / FEWEST_ROWS);
    }

    /** What rows of the other table take when they are looked up. */
    static long held(SpilledRows rows, BitSet read) {
        return rows.bytes(read) + BYTES_A_ROW * rows.rows();
    }

    /** What one part of the other table may take. */
    static long share(Memory memory) {
        return Math.max(1, memory.limit() / 2);
    }

    /** Whether a part has far more than its share, as one may in which a key stands very often. */
    static boolean isTooLarge(SpilledRows part, Memory memory) {
        BitSet all = new BitSet();
        all.set(0, part.block(0).slots().length);
        return part.rows() > TOO_LARGE * FEWEST_ROWS && held(part, all) > TOO_LARGE * share(memory);
    }

    @Override
    public Stored run(Stored rows, BitSet before, BitSet after) {
        Stored theirs = ground.others().stored(step.table());
        if (parts(step, theirs, memory) > 1) {
            SpilledRows file = SpilledRows.in(memory, rows);
            return new PartitionedJoin(step, theirs, file, before, after, ground.notices(), memory).run();
        }
        Rows held = ground.others().lookedUp(step);
        Join join = new Join(step, held);
        return rows instanceof SpilledRows file ? inFile(join, file, before, after) : held(join, rows.load(), after);
    }

    private Stored held(Join join, Rows rows, BitSet after) {
        JoinStage stage = new JoinStage(join, ground.notices(), ground.threads());
        RowsBuilder matched = new RowsBuilder(memory, after);
        stage.each(rows.batch(), matched::add);
        join.refuse();
        return withUnmatched(join, matched.finish(), stage.matched(), after);
    }

    private Stored inFile(Join join, SpilledRows rows, BitSet before, BitSet after) {
        JoinStage stage = new JoinStage(join, ground.notices(), 1);
        SpilledRows matched = step.each() ? multiplied(rows, stage, before, after) : rows.each(stage::apply, after);
        join.refuse();
        return withUnmatched(join, matched, stage.matched(), after);
    }

    private Stored withUnmatched(Join join, Stored ours, BitSet matched, BitSet after) {
        return step.unmatched() == Unmatched.ALSO_UNMATCHED
                ? SpilledRows.join(memory, ours, join.without(SpilledRows.first(ours, after), matched))
                : ours;
    }

    private SpilledRows multiplied(SpilledRows rows, JoinStage stage, BitSet before, BitSet after) {
        List<SpilledRows.Block> blocks = new ArrayList<>();
        for (int b = 0; b < rows.blocks(); b++) {
            Workers.stopIfInterrupted();
            Batch batch = Batch.of(rows.block(b).rows(), rows.read(b, before).slots(), b);
            stage.each(batch, made -> add(memory, made, after, blocks));
        }
        return new SpilledRows(memory.scratch(), blocks);
    }

    /** Writes rows down, where there are any; one block there must be, so that columns have their types. */
    static Rows add(Memory memory, Batch rows, BitSet kept, List<SpilledRows.Block> blocks) {
        @Nullable Column[] slots = new Column[kept.length()];
        kept.stream().forEach(s -> slots[s] = rows.column(s).flat());
        if (rows.size() > 0 || blocks.isEmpty()) {
            blocks.add(SpilledRows.write(memory.scratch(), rows.size(), slots));
        }
        return new Rows(rows.size(), slots);
    }
}
