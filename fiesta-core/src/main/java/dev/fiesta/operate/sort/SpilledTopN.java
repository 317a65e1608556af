package dev.fiesta.operate.sort;

import dev.fiesta.compute.Expression;
import dev.fiesta.compute.Kernel;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.OrderKey;
import dev.fiesta.store.ExternalSort;
import dev.fiesta.store.Memory;
import dev.fiesta.store.PartitionStarts;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.value.Batch;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;

/** The first rows of each partition, of rows in a file that are sorted for it. */
final class SpilledTopN {
    private final List<Expression> within;
    private final List<OrderKey> order = new ArrayList<>();
    private final long count;
    private final Notices notices;
    private final Memory memory;

    /**
     * @param within the partition
     * @param by what comes first in it; rows that stand level stay as they are
     */
    SpilledTopN(List<Expression> within, List<OrderKey> by, long count, Notices notices, Memory memory) {
        this.within = within;
        within.forEach(k -> order.add(new OrderKey(k, false)));
        order.addAll(by);
        this.count = count;
        this.notices = notices;
        this.memory = memory;
    }

    /** The first rows, partition behind partition. */
    SpilledRows byPartition(SpilledRows rows, BitSet before, BitSet after) {
        long wanted = within.isEmpty() ? count : Long.MAX_VALUE;
        return firsts(sorted(rows, order, before, wanted), before).keep(after);
    }

    /** The first rows, in the order of all rows. */
    SpilledRows asTheyStand(SpilledRows rows, BitSet before, BitSet after) {
        int number = Math.max(before.length(), after.length());
        BitSet kept = (BitSet) before.clone();
        kept.set(number);
        SpilledRows firsts = firsts(sorted(rows.numbered(before, number), order, kept, Long.MAX_VALUE), kept);
        return ExternalSort.byNumber(firsts, number, after, memory);
    }

    private SpilledRows sorted(SpilledRows rows, List<OrderKey> keys, BitSet kept, long wanted) {
        return ExternalSort.first(rows, keys, kept, notices, memory, wanted);
    }

    private SpilledRows firsts(SpilledRows sorted, BitSet kept) {
        List<Kernel> kernels = within.stream().map(k -> k.kernel(new Notices())).toList();
        PartitionStarts changes = new PartitionStarts();
        long[] taken = new long[1];
        return sorted.picked(kept, block -> {
            Batch batch = block.batch();
            boolean[] others =
                    changes.in(kernels.stream().map(k -> k.eval(batch).flat()).toList(), block.size());
            return row -> {
                taken[0] = others[row] ? 0 : taken[0];
                return taken[0]++ < count;
            };
        });
    }
}
