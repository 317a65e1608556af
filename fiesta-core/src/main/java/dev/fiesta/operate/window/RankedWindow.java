package dev.fiesta.operate.window;

import dev.fiesta.compute.Expression;
import dev.fiesta.compute.Fault;
import dev.fiesta.compute.FieldRef;
import dev.fiesta.compute.Kernel;
import dev.fiesta.gather.Image;
import dev.fiesta.gather.RankedValues;
import dev.fiesta.gather.SortedFigure;
import dev.fiesta.operate.group.GatherInput;
import dev.fiesta.operate.group.Grouping;
import dev.fiesta.operate.group.SpilledValues;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.OrderKey;
import dev.fiesta.step.WalkSpec;
import dev.fiesta.store.ExternalSort;
import dev.fiesta.store.Memory;
import dev.fiesta.store.PartitionSizes;
import dev.fiesta.store.Rows;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import dev.fiesta.value.Validity;
import dev.fiesta.walk.Frame;
import dev.fiesta.work.Workers;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Objects;

/**
 * A figure that is told from values in their order, over a frame of rows, of partitions that do not fit into memory. All values are sorted,
 * so that each has a rank, and brought back to the order of the rows; then one reader brings what enters a frame and another what
 * leaves it, and only which ranks are inside is held.
 */
final class RankedWindow {
    private static final int VALUE = 0;
    private static final int POSITION = 1;
    private static final int RANK = 2;

    private final SpilledRows sorted;
    private final WalkSpec spec;
    private final SortedFigure figure;
    private final Frame frame;
    private final int number;
    private final BitSet wanted;
    private final Notices notices;
    private final Memory memory;

    /**
     * @param sorted rows by partition and order
     * @param number the slot that tells where a row stood
     */
    RankedWindow(SpilledRows sorted, WalkSpec spec, int number, BitSet wanted, Notices notices, Memory memory) {
        this.sorted = sorted;
        this.spec = spec;
        this.figure = Objects.requireNonNull(
                Objects.requireNonNull(spec.calculation().gatherBound()).sorted());
        this.frame = Objects.requireNonNull(spec.calculation().frame());
        this.number = number;
        this.wanted = wanted;
        this.notices = notices;
        this.memory = memory;
    }

    /** Whether a calculation can be worked out so. */
    static boolean suits(WalkSpec spec) {
        Frame frame = spec.calculation().frame();
        return frame != null
                && frame.span() == null
                && Objects.requireNonNull(spec.calculation().gatherBound()).sorted() != null;
    }

    /** The figures in a first slot, the numbers of their rows in a second. */
    SpilledRows run() {
        SpilledRows byValue;
        try {
            byValue = byValue();
        } catch (Fault fault) {
            throw Grouping.failure(spec.place(), fault);
        }
        BitSet all = new BitSet();
        all.set(VALUE, RANK + 1);
        BitSet both = new BitSet();
        both.set(VALUE, RANK);
        SpilledRows ranked = ExternalSort.sorted(
                byValue.numbered(both, RANK), ExternalSort.numbered(POSITION), all, new Notices(), memory);
        RankedValues inside = new RankedValues(figure, SpilledValues.pages(byValue, VALUE));
        return walked(new Moves(ranked, all, inside));
    }

    /** The values that take part, in their order, with the positions of their rows. */
    private SpilledRows byValue() {
        Kernel argument = spec.args().get(0).kernel(notices);
        Expression only = spec.only();
        Kernel condition = only == null ? null : only.kernel(notices);
        List<SpilledRows.Block> blocks = new ArrayList<>();
        for (int b = 0; b < sorted.blocks(); b++) {
            Workers.stopIfInterrupted();
            Batch batch = sorted.read(b, wanted).batch();
            Column values = argument.eval(batch).flat();
            int[] taking = condition == null ? null : GatherInput.met(condition, batch);
            int[] picked = new int[batch.size()];
            long[] positions = new long[batch.size()];
            int count = 0;
            for (int i = 0; i < (taking == null ? picked.length : taking.length); i++) {
                int row = taking == null ? i : taking[i];
                if (!values.isMissing(row)) {
                    positions[count] = sorted.start(b) + row;
                    picked[count++] = row;
                }
            }
            if (count > 0 || blocks.isEmpty()) {
                Column[] both = {
                    values.take(Arrays.copyOf(picked, count), count),
                    new LongColumn(Type.INTEGER, Arrays.copyOf(positions, count), count, null)
                };
                blocks.add(SpilledRows.write(memory.scratch(), count, both));
            }
        }
        BitSet both = new BitSet();
        both.set(VALUE, RANK);
        OrderKey byValue = new OrderKey(new FieldRef(VALUE, figure.type()), false);
        return ExternalSort.sorted(
                new SpilledRows(memory.scratch(), blocks), List.of(byValue), both, new Notices(), memory);
    }

    private SpilledRows walked(Moves moves) {
        PartitionSizes sizes = new PartitionSizes(sorted, wanted, rows -> SpilledWindows.keys(spec, rows));
        BitSet numbers = new BitSet();
        numbers.set(number);
        List<SpilledRows.Block> blocks = new ArrayList<>();
        long start = 0;
        long end = 0;
        for (int b = 0; b < sorted.blocks(); b++) {
            Workers.stopIfInterrupted();
            int size = sorted.block(b).rows();
            double[] out = new double[size];
            int[] shown = new int[size];
            long[] valid = null;
            for (int i = 0; i < size; i++) {
                long position = sorted.start(b) + i;
                if (position == end) {
                    start = end;
                    end = start + sizes.next();
                    moves.begin(start);
                }
                long first = frame.from() == Frame.START ? start : position + frame.from();
                long behind = frame.to() == Frame.END ? end : position + frame.to() + 1;
                moves.to(clamped(first, start, end), clamped(behind, start, end));
                int count = moves.inside.size();
                boolean whole = !frame.full() || (first >= start && behind <= end);
                shown[i] = whole && count >= frame.atLeast() ? i : -1;
                if (count == 0) {
                    valid = Validity.without(valid, size, i);
                } else {
                    out[i] = figure.figure().applyAsDouble(moves.inside);
                }
            }
            Column figures = DoubleColumn.cleaned(out, size, valid).take(shown, size);
            long lost = figures instanceof DoubleColumn told ? told.lost(0, size) : 0;
            notices.count(Notices.Kind.NO_NUMBER, spec.place().text(), lost);
            Column stood = sorted.read(b, numbers).column(number);
            blocks.add(SpilledRows.write(memory.scratch(), size, new Column[] {figures, stood}));
        }
        return new SpilledRows(memory.scratch(), blocks);
    }

    private static long clamped(long position, long start, long end) {
        return Math.max(start, Math.min(position, end));
    }

    /** What comes into the frame and what goes out of it, as it moves from row to row. */
    private static final class Moves {
        private final RankedValues inside;
        private final Cursor comes;
        private final Cursor goes;
        private final Image image;

        Moves(SpilledRows ranked, BitSet slots, RankedValues inside) {
            this.inside = inside;
            this.image = new Image(inside.type());
            this.comes = new Cursor(ranked, slots);
            this.goes = new Cursor(ranked, slots);
        }

        /** A partition begins: nothing of the one before is inside. */
        void begin(long start) {
            for (; goes.position() < start; goes.next()) {
                if (goes.position() < comes.position()) {
                    inside.move(goes.rank(), goes.value(), true);
                }
            }
            while (comes.position() < start) {
                comes.next();
            }
        }

        void to(long first, long behind) {
            for (; comes.position() < behind; comes.next()) {
                inside.move(comes.rank(), comes.value(), false);
            }
            for (; goes.position() < first; goes.next()) {
                inside.move(goes.rank(), goes.value(), true);
            }
        }

        /** One of the readers of the values as their rows stand. */
        private final class Cursor {
            private final SpilledRows ranked;
            private final BitSet slots;
            private long[] values = new long[0];
            private long[] positions = new long[0];
            private long[] ranks = new long[0];
            private int block;
            private int at;
            private long position;

            Cursor(SpilledRows ranked, BitSet slots) {
                this.ranked = ranked;
                this.slots = slots;
                turn();
            }

            /** The position of the row that is next; behind the last the greatest number. */
            long position() {
                return position;
            }

            int rank() {
                return (int) ranks[at];
            }

            long value() {
                return values[at];
            }

            void next() {
                at++;
                turn();
            }

            private void turn() {
                while (at == positions.length && block < ranked.blocks()) {
                    Workers.stopIfInterrupted();
                    Rows rows = ranked.read(block++, slots);
                    values = image.of(rows.column(VALUE).flat());
                    positions = longs(rows.column(POSITION));
                    ranks = longs(rows.column(RANK));
                    at = 0;
                }
                position = at < positions.length ? positions[at] : Long.MAX_VALUE;
            }

            private static long[] longs(Column column) {
                return Arrays.copyOf(((LongColumn) column.flat()).values(), column.size());
            }
        }
    }
}
