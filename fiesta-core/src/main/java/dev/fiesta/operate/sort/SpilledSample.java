package dev.fiesta.operate.sort;

import dev.fiesta.compute.Expression;
import dev.fiesta.compute.FieldRef;
import dev.fiesta.gather.keys.GroupTable;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.OrderKey;
import dev.fiesta.step.SampleStep;
import dev.fiesta.store.ExternalSort;
import dev.fiesta.store.Memory;
import dev.fiesta.store.PartitionSizes;
import dev.fiesta.store.PartitionStarts;
import dev.fiesta.store.Rows;
import dev.fiesta.store.SpillFile;
import dev.fiesta.store.SpilledRows;
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
 * The same rows that {@link Sampling} chooses, of rows in a file: sorted by what decides, taken while a partition wants more. Where
 * there are too many partitions to be known, rows are sorted by partition first, and a reader that runs ahead tells how many each has.
 */
final class SpilledSample {
    /** Partitions are known one by one while that takes this part of the memory. */
    private static final int PART = 8;

    private final SampleStep step;
    private final Notices notices;
    private final Memory memory;
    private @Nullable GroupTable partitions;
    private long[] sizes = new long[1];
    private boolean many;

    SpilledSample(SampleStep step, Notices notices, Memory memory) {
        this.step = step;
        this.notices = notices;
        this.memory = memory;
    }

    SpilledRows run(SpilledRows rows, BitSet before, BitSet after) {
        int number = Math.max(before.length(), after.length());
        int deciding = number + 1;
        SpilledRows decided = decided(rows.numbered(before, number), before, deciding);
        BitSet kept = (BitSet) before.clone();
        kept.set(number, deciding + 1);
        OrderKey byHash = new OrderKey(new FieldRef(deciding, Type.INTEGER), false);
        SpilledRows chosen;
        if (many) {
            List<OrderKey> order = new ArrayList<>();
            step.within().forEach(k -> order.add(new OrderKey(k, false)));
            order.add(byHash);
            chosen = ofEach(sorted(decided, order, kept), kept);
            chosen = step.shuffled() ? sorted(chosen, List.of(byHash), kept) : chosen;
        } else {
            chosen = chosen(sorted(decided, List.of(byHash), kept), kept);
        }
        return step.shuffled() ? chosen.keep(after) : ExternalSort.byNumber(chosen, number, after, memory);
    }

    private SpilledRows sorted(SpilledRows rows, List<OrderKey> order, BitSet kept) {
        return ExternalSort.sorted(rows, order, kept, new Notices(), memory);
    }

    /** The rows with what decides about each behind them; counts the rows of partitions while they are few. */
    private SpilledRows decided(SpilledRows rows, BitSet before, int deciding) {
        List<SpilledRows.Block> blocks = new ArrayList<>();
        for (int b = 0; b < rows.blocks(); b++) {
            Workers.stopIfInterrupted();
            Rows block = rows.read(b, before);
            if (!many) {
                for (int partition : partitions(block)) {
                    sizes[partition]++;
                }
                many = Objects.requireNonNull(partitions).memory() + 8L * sizes.length > memory.limit() / PART;
            }
            SpillFile.@Nullable Place[] places = Arrays.copyOf(rows.block(b).slots(), deciding + 1);
            places[deciding] =
                    memory.scratch().write(Sampling.hashes(step, block.size(), block::column, rows.start(b)));
            blocks.add(new SpilledRows.Block(block.size(), places));
        }
        if (many) {
            partitions = null;
            sizes = new long[0];
        }
        return new SpilledRows(memory.scratch(), blocks);
    }

    private int[] partitions(Rows block) {
        Column[] keys = Expression.columns(step.within(), block.batch(), notices);
        GroupTable known = partitions == null ? GroupTable.of(keys) : partitions;
        partitions = known;
        int[] numbers = new int[block.size()];
        known.number(keys, numbers.length, numbers);
        sizes = sizes.length < known.size() ? Arrays.copyOf(sizes, known.size() * 2) : sizes;
        return numbers;
    }

    private SpilledRows chosen(SpilledRows sorted, BitSet kept) {
        long[] left = Sampling.quotas(step, sizes);
        return sorted.picked(kept, block -> {
            int[] numbers = partitions(block);
            return row -> left[numbers[row]]-- > 0;
        });
    }

    /** Of rows that stand by partition, in each by what decides, as many as each wants. */
    private SpilledRows ofEach(SpilledRows sorted, BitSet kept) {
        PartitionSizes ahead = new PartitionSizes(sorted, kept, this::keys);
        PartitionStarts changes = new PartitionStarts();
        long[] left = new long[1];
        return sorted.picked(kept, block -> {
            boolean[] others = changes.in(keys(block), block.size());
            return row -> {
                if (others[row]) {
                    left[0] = Sampling.quotas(step, new long[] {ahead.next()})[0];
                }
                return left[0]-- > 0;
            };
        });
    }

    private List<Column> keys(Rows block) {
        return Arrays.stream(Expression.columns(step.within(), block.batch(), notices))
                .map(Column::flat)
                .toList();
    }
}
