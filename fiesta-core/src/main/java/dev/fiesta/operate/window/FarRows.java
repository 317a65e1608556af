package dev.fiesta.operate.window;

import dev.fiesta.compute.Expression;
import dev.fiesta.compute.Kernel;
import dev.fiesta.operate.group.GatherInput;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.WalkSpec;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Bits;
import dev.fiesta.value.Column;
import dev.fiesta.value.TruthColumn;
import java.util.Arrays;
import java.util.BitSet;
import org.jspecify.annotations.Nullable;

/** The arguments of a calculation, block by block: missing where its condition does not hold. */
final class FarRows {
    private final Kernel[] arguments;
    private final @Nullable Kernel condition;
    private final BitSet wanted;

    FarRows(WalkSpec spec, BitSet wanted) {
        this(spec, wanted, new Notices());
    }

    /** @param notices are told what working arguments out tells */
    FarRows(WalkSpec spec, BitSet wanted, Notices notices) {
        this.arguments = spec.args().stream().map(a -> a.kernel(notices)).toArray(Kernel[]::new);
        Expression only = spec.only();
        this.condition = only == null ? null : only.kernel(notices);
        this.wanted = wanted;
    }

    /** Rows that are gone through from the first to the last. */
    abstract static class Reader {
        private final SpilledRows rows;
        private int block = -1;
        private int row;
        private int size;
        private long position = -1;

        Reader(SpilledRows rows) {
            this.rows = rows;
        }

        SpilledRows rows() {
            return rows;
        }

        /** The arguments of the rows of a block. */
        abstract Column[] columns(int block);

        /** The position of a row of the block read last among all rows of the calculation. */
        abstract long position(int block, int row);

        /** Goes to the next row; the columns of a block that is begun, or null where it stands in the same one. */
        Column @Nullable [] next() {
            row++;
            Column[] begun = null;
            while (row >= size && block < rows.blocks()) {
                block++;
                row = 0;
                size = block < rows.blocks() ? rows.block(block).rows() : 0;
                begun = size > 0 ? columns(block) : null;
            }
            position = row < size ? position(block, row) : Long.MAX_VALUE;
            return begun;
        }

        /** The place of the row in its block. */
        int row() {
            return row;
        }

        /** The position of the row; before the first -1, behind the last the greatest number. */
        long position() {
            return position;
        }
    }

    /** The rows of a calculation as they stand. */
    Reader of(SpilledRows sorted) {
        return new Reader(sorted) {
            @Override
            Column[] columns(int block) {
                return masked(sorted.read(block, wanted).batch());
            }

            @Override
            long position(int block, int row) {
                return sorted.start(block) + row;
            }
        };
    }

    /** Of {@code count()} a condition leaves a column that is there where it holds. */
    private Column[] masked(Batch batch) {
        Column[] columns =
                Arrays.stream(arguments).map(a -> a.eval(batch).flat()).toArray(Column[]::new);
        if (condition == null) {
            return columns;
        }
        int[] met = GatherInput.met(condition, batch);
        long[] bits = Bits.none(batch.size());
        int[] pick = new int[batch.size()];
        Arrays.fill(pick, -1);
        for (int row : met) {
            Bits.set(bits, row);
            pick[row] = row;
        }
        return columns.length == 0
                ? new Column[] {new TruthColumn(bits, batch.size(), bits.clone())}
                : Arrays.stream(columns).map(c -> c.take(pick, pick.length)).toArray(Column[]::new);
    }
}
