package dev.fiesta.engine;

import dev.fiesta.compute.Expression;
import dev.fiesta.compute.FieldRef;
import dev.fiesta.compute.Kernel;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.OrderKey;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.stream.IntStream;

/** The first rows of each partition, of rows in a file that are sorted for it. */
final class FileFirsts {
    private final List<Expression> within;
    private final List<OrderKey> order = new ArrayList<>();
    private final long count;
    private final Notices notices;
    private final Memory memory;

    /**
     * @param within the partition
     * @param by what comes first in it; rows that stand level stay as they are
     */
    FileFirsts(List<Expression> within, List<OrderKey> by, long count, Notices notices, Memory memory) {
        this.within = within;
        within.forEach(k -> order.add(new OrderKey(k, false)));
        order.addAll(by);
        this.count = count;
        this.notices = notices;
        this.memory = memory;
    }

    /** The first rows, partition behind partition. */
    FileRows byPartition(FileRows rows, BitSet before, BitSet after) {
        long wanted = within.isEmpty() ? count : Long.MAX_VALUE;
        return firsts(sorted(rows, order, before, wanted), before).keep(after);
    }

    /** The first rows, in the order of all rows. */
    FileRows asTheyStand(FileRows rows, BitSet before, BitSet after) {
        int number = Math.max(before.length(), after.length());
        BitSet kept = (BitSet) before.clone();
        kept.set(number);
        FileRows firsts = firsts(sorted(rows.numbered(before, number), order, kept, Long.MAX_VALUE), kept);
        return backInOrder(firsts, number, after, memory);
    }

    private FileRows sorted(FileRows rows, List<OrderKey> keys, BitSet kept, long wanted) {
        return new ExternalSort(rows, keys, kept, notices, memory, FileRunner.SORT_PART, wanted).run();
    }

    /** Rows sorted by their numbers. */
    static FileRows backInOrder(FileRows rows, int number, BitSet after, Memory memory) {
        OrderKey byNumber = new OrderKey(new FieldRef(number, Type.INTEGER), false);
        return new ExternalSort(rows, List.of(byNumber), after, new Notices(), memory, FileRunner.SORT_PART).run();
    }

    private FileRows firsts(FileRows sorted, BitSet kept) {
        List<Kernel> kernels = within.stream().map(k -> k.kernel(new Notices())).toList();
        List<FileRows.Block> blocks = new ArrayList<>();
        KeyChanges changes = new KeyChanges();
        long taken = 0;
        for (int b = 0; b < sorted.blocks(); b++) {
            StepsRun.stopIfInterrupted();
            Rows block = sorted.read(b, kept);
            Batch batch = block.batch();
            boolean[] others =
                    changes.in(kernels.stream().map(k -> k.eval(batch).flat()).toList(), block.size());
            int[] picked = new int[block.size()];
            int size = 0;
            for (int i = 0; i < picked.length; i++) {
                taken = others[i] ? 0 : taken;
                if (taken++ < count) {
                    picked[size++] = i;
                }
            }
            if (size > 0 || b == 0) {
                Rows chosen = block.take(IntStream.of(picked).limit(size).toArray());
                blocks.add(FileRows.write(memory.scratch(), size, chosen.slots()));
            }
        }
        return new FileRows(memory.scratch(), blocks);
    }
}
