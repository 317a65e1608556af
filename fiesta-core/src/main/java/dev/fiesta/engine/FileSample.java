package dev.fiesta.engine;

import dev.fiesta.compute.FieldRef;
import dev.fiesta.gather.GroupTable;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.OrderKey;
import dev.fiesta.step.SampleStep;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** The same rows that {@link Sampling} chooses, of rows in a file: sorted by what decides, taken while a partition wants more. */
final class FileSample {
    private final SampleStep step;
    private final Notices notices;
    private final Memory memory;
    private @Nullable GroupTable partitions;
    private long[] sizes = new long[1];

    FileSample(SampleStep step, Notices notices, Memory memory) {
        this.step = step;
        this.notices = notices;
        this.memory = memory;
    }

    FileRows run(FileRows rows, BitSet before, BitSet after) {
        int number = Math.max(before.length(), after.length());
        int deciding = number + 1;
        FileRows decided = decided(rows.numbered(before, number), before, deciding);
        BitSet kept = (BitSet) before.clone();
        kept.set(number);
        OrderKey byHash = new OrderKey(new FieldRef(deciding, Type.INTEGER), false);
        FileRows sorted =
                new ExternalSort(decided, List.of(byHash), kept, new Notices(), memory, FileRunner.SORT_PART).run();
        FileRows chosen = chosen(sorted, kept);
        return step.shuffled() ? chosen.keep(after) : FileFirsts.backInOrder(chosen, number, after, memory);
    }

    /** The rows with what decides about each behind them; counts the partitions. */
    private FileRows decided(FileRows rows, BitSet before, int deciding) {
        List<FileRows.Block> blocks = new ArrayList<>();
        long first = 0;
        for (int b = 0; b < rows.blocks(); b++) {
            StepsRun.stopIfInterrupted();
            Rows block = rows.read(b, before);
            for (int partition : partitions(block)) {
                sizes[partition]++;
            }
            Scratch.@Nullable Place[] places = Arrays.copyOf(rows.block(b).slots(), deciding + 1);
            places[deciding] = memory.scratch().write(Sampling.hashes(step, block, first));
            blocks.add(new FileRows.Block(block.size(), places));
            first += block.size();
        }
        return new FileRows(memory.scratch(), blocks);
    }

    private int[] partitions(Rows block) {
        Batch batch = block.batch();
        Column[] keys = RowsRunner.evaluated(step.within(), batch, notices);
        GroupTable known = partitions == null ? RowsRunner.table(keys) : partitions;
        partitions = known;
        int[] numbers = new int[block.size()];
        known.number(keys, numbers.length, numbers);
        sizes = sizes.length < known.size() ? Arrays.copyOf(sizes, known.size() * 2) : sizes;
        return numbers;
    }

    private FileRows chosen(FileRows sorted, BitSet kept) {
        long[] left = Sampling.quotas(step, sizes);
        List<FileRows.Block> blocks = new ArrayList<>();
        for (int b = 0; b < sorted.blocks(); b++) {
            StepsRun.stopIfInterrupted();
            Rows block = sorted.read(b, kept);
            int[] numbers = partitions(block);
            int[] picked = new int[numbers.length];
            int size = 0;
            for (int i = 0; i < numbers.length; i++) {
                if (left[numbers[i]]-- > 0) {
                    picked[size++] = i;
                }
            }
            if (size > 0 || b == 0) {
                Rows some = block.take(Arrays.copyOf(picked, size));
                blocks.add(FileRows.write(memory.scratch(), size, some.slots()));
            }
        }
        return new FileRows(memory.scratch(), blocks);
    }
}
