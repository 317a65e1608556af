package dev.fiesta.engine;

import dev.fiesta.compute.Expression;
import dev.fiesta.compute.FieldRef;
import dev.fiesta.compute.Types;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.AppendStep;
import dev.fiesta.step.DistinctStep;
import dev.fiesta.step.FirstsStep;
import dev.fiesta.step.MatchStep;
import dev.fiesta.step.SampleStep;
import dev.fiesta.step.SortStep;
import dev.fiesta.step.Step;
import dev.fiesta.step.TurnStep;
import dev.fiesta.step.WalksStep;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import dev.fiesta.walk.Order;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Objects;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;

/** Runs steps over rows in a file, block by block. What a step cannot do so is done in memory, over the columns it needs. */
final class SpilledRunner {
    private final Others others;
    private final Notices notices;
    private final Memory memory;

    SpilledRunner(Others others, Notices notices, Memory memory) {
        this.others = others;
        this.notices = notices;
        this.memory = memory;
    }

    /**
     * Runs a step.
     *
     * @param before the slots needed before it
     * @param after the slots needed behind it
     */
    Stored run(SpilledRows rows, Step step, BitSet before, BitSet after) {
        if (step instanceof MatchStep match) {
            return new SpilledJoin(match, others.stored(match.table()), notices, memory).run(rows, before, after);
        }
        if (step instanceof TurnStep turn) {
            return turn(rows, turn, before, after);
        }
        if (step instanceof SortStep sort) {
            return ExternalSort.first(rows, sort.keys(), after, notices, memory, sort.most());
        }
        if (step instanceof FirstsStep first && first.rest() == null) {
            SpilledTopN firsts = new SpilledTopN(first.within(), first.along(), first.count(), notices, memory);
            return first.along().isEmpty()
                    ? firsts.asTheyStand(rows, before, after)
                    : firsts.byPartition(rows, before, after);
        }
        if (step instanceof DistinctStep distinct) {
            SpilledRows.Block typed = rows.block(0);
            List<Expression> keys = distinct.slots().stream()
                    .map(s -> (Expression) new FieldRef(
                            s, Objects.requireNonNull(typed.slots()[s]).type()))
                    .toList();
            return new SpilledTopN(keys, List.of(), 1, notices, memory).asTheyStand(rows, before, after);
        }
        if (step instanceof SampleStep sample) {
            return new SpilledSample(sample, notices, memory).run(rows, before, after);
        }
        if (step instanceof WalksStep walks) {
            return new SpilledWindows(notices, memory).run(rows, walks, after);
        }
        return append(rows, (AppendStep) step, after);
    }

    /** Rows after a stage that may drop some of them, but moves and doubles none. */
    static SpilledRows each(SpilledRows rows, UnaryOperator<Batch> stage, BitSet after) {
        List<SpilledRows.Block> blocks = new ArrayList<>();
        for (int b = 0; b < rows.blocks(); b++) {
            StepsRun.stopIfInterrupted();
            Batch batch = stage.apply(rows.batch(b));
            if (batch.size() > 0 || b == 0) { // one block at least, so that columns have their types
                blocks.add(written(rows, b, batch, after));
            }
        }
        return new SpilledRows(rows.scratch(), blocks);
    }

    /** A batch made of a block; where its rows are the same, columns that stand in the file already stay there. */
    private static SpilledRows.Block written(SpilledRows rows, int block, Batch batch, BitSet after) {
        SpilledRows.Block before = rows.block(block);
        SpillFile.@Nullable Place[] places = new SpillFile.Place[Math.max(batch.width(), after.length())];
        after.stream().forEach(s -> {
            boolean stands = batch.size() == before.rows() && s < before.slots().length && before.slots()[s] != null;
            places[s] = stands ? before.slots()[s] : rows.scratch().write(batch.column(s));
        });
        return new SpilledRows.Block(batch.size(), places);
    }

    private SpilledRows append(SpilledRows rows, AppendStep step, BitSet after) {
        List<SpilledRows.Block> blocks = new ArrayList<>();
        append(rows, step.ours(), step, after, rows.scratch(), blocks);
        for (int t = 0; t < step.tables().size(); t++) {
            Stored theirs = others.stored(step.tables().get(t));
            SpilledRows file = theirs instanceof SpilledRows known ? known : SpilledRows.of(memory, theirs.load());
            append(file, step.theirs().get(t), step, after, rows.scratch(), blocks);
        }
        return new SpilledRows(rows.scratch(), blocks);
    }

    /** Columns of the right type stay where they are. */
    private static void append(
            SpilledRows from,
            List<Integer> slots,
            AppendStep step,
            BitSet after,
            SpillFile scratch,
            List<SpilledRows.Block> blocks) {
        for (int b = 0; b < from.blocks(); b++) {
            StepsRun.stopIfInterrupted();
            SpilledRows.Block block = from.block(b);
            SpillFile.@Nullable Place[] places =
                    new SpillFile.Place[step.types().size()];
            for (int f = after.nextSetBit(0); f >= 0 && f < places.length; f = after.nextSetBit(f + 1)) {
                Type type = step.types().get(f);
                SpillFile.Place stands = slots.get(f) < 0 ? null : block.slots()[slots.get(f)];
                places[f] = stands == null
                        ? scratch.write(Column.missing(type, block.rows()))
                        : stands.type().equals(type)
                                ? stands
                                : scratch.write(Types.widen(from.scratch().read(stands), type));
            }
            blocks.add(new SpilledRows.Block(block.rows(), places));
        }
    }

    private static SpilledRows turn(SpilledRows rows, TurnStep step, BitSet before, BitSet after) {
        List<SpilledRows.Block> blocks = new ArrayList<>();
        for (int b = 0; b < rows.blocks(); b++) {
            Rows turned = RowsRunner.turned(rows.read(b, before), step, after);
            blocks.add(SpilledRows.write(rows.scratch(), turned.size(), turned.slots()));
        }
        return new SpilledRows(rows.scratch(), blocks);
    }

    static SpilledRows first(SpilledRows rows, long count, BitSet after) {
        List<SpilledRows.Block> blocks = new ArrayList<>();
        long left = count;
        for (int b = 0; b < rows.blocks() && (left > 0 || b == 0); b++) {
            SpilledRows.Block block = rows.block(b);
            if (block.rows() > left) {
                Rows head = rows.read(b, after).take(Order.asTheyStand((int) left));
                block = SpilledRows.write(rows.scratch(), head.size(), head.slots());
            }
            blocks.add(block);
            left -= block.rows();
        }
        return new SpilledRows(rows.scratch(), blocks);
    }
}
