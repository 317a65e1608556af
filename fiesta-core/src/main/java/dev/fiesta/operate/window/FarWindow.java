package dev.fiesta.operate.window;

import dev.fiesta.compute.Fault;
import dev.fiesta.compute.FieldRef;
import dev.fiesta.gather.GatherFunction;
import dev.fiesta.gather.frames.Far;
import dev.fiesta.gather.frames.Sliding;
import dev.fiesta.gather.values.Drawer;
import dev.fiesta.operate.group.SpilledValues;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.OrderKey;
import dev.fiesta.step.WalkSpec;
import dev.fiesta.store.ExternalSort;
import dev.fiesta.store.Memory;
import dev.fiesta.store.PartitionSizes;
import dev.fiesta.store.Rows;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.value.Column;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import dev.fiesta.walk.Frame;
import dev.fiesta.work.Workers;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * A figure over frames that may hold more rows than fit: one reader brings the rows that come into the frame, another those that go out
 * of it, a third the rows that it is looked at from. Where it is told from values in their order, these are sorted first, so that each has
 * a rank, and brought back to the order of the rows with it.
 */
final class FarWindow {
    private static final int VALUE = 0;
    private static final int POSITION = 1;
    private static final int RANK = 2;

    private final SpilledRows sorted;
    private final WalkSpec spec;
    private final Far far;
    private final Frame frame;
    private final int number;
    private final BitSet wanted;
    private final Notices notices;
    private final Memory memory;

    /**
     * @param sorted rows by partition and order
     * @param number the slot that tells where a row stood
     * @param wanted the slots that are read
     */
    FarWindow(SpilledRows sorted, WalkSpec spec, int number, BitSet wanted, Notices notices, Memory memory) {
        this.sorted = sorted;
        this.spec = spec;
        this.far = Objects.requireNonNull(bound(spec).far());
        this.frame = Objects.requireNonNull(spec.calculation().frame());
        this.number = number;
        this.wanted = wanted;
        this.notices = notices;
        this.memory = memory;
    }

    private static GatherFunction.Bound bound(WalkSpec spec) {
        return Objects.requireNonNull(spec.calculation().gatherBound());
    }

    /** Whether a calculation can be worked out so; where a span ahead is full is told by the last row of the partition. */
    static boolean suits(WalkSpec spec) {
        Frame frame = spec.calculation().frame();
        return frame != null
                && bound(spec).far() != null
                && !(frame.full() && frame.span() != null && frame.span().forward());
    }

    /** The figures in a first slot, the numbers of their rows in a second. */
    SpilledRows run() {
        try {
            FarRows rows = new FarRows(spec, wanted);
            if (far.told() == Far.Told.ROWS) {
                return walked(rows.of(sorted), rows.of(sorted), far.maker().make(null, new Away()));
            }
            SpilledRows values = values(rows.of(sorted));
            if (far.told() == Far.Told.VALUES) {
                return walked(
                        new Values(values), new Values(values), far.maker().make(null, new Away()));
            }
            SpilledRows byValue = byValue(values);
            SpilledRows ranked = ranked(byValue);
            Sliding figure = far.maker().make(SpilledValues.pages(byValue, VALUE), new Away());
            return walked(new Values(ranked), new Values(ranked), figure);
        } catch (Fault fault) {
            throw spec.place().failure(fault);
        }
    }

    /** The values that take part, with the positions of their rows. */
    private SpilledRows values(FarRows.Reader rows) {
        List<SpilledRows.Block> blocks = new ArrayList<>();
        for (int b = 0; b < sorted.blocks(); b++) {
            Workers.stopIfInterrupted();
            Column values = rows.columns(b)[0];
            int[] picked = new int[values.size()];
            long[] positions = new long[values.size()];
            int count = 0;
            for (int row = 0; row < picked.length; row++) {
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
        return new SpilledRows(memory.scratch(), blocks);
    }

    /** Values in their order. */
    private SpilledRows byValue(SpilledRows values) {
        Type type = values.batch(0).column(VALUE).type();
        List<OrderKey> order = List.of(new OrderKey(new FieldRef(VALUE, type), false));
        return ExternalSort.sorted(values, order, slots(RANK), new Notices(), memory);
    }

    /** Values with their ranks, as their rows stand. */
    private SpilledRows ranked(SpilledRows byValue) {
        return ExternalSort.sorted(
                byValue.numbered(slots(RANK), RANK),
                ExternalSort.numbered(POSITION),
                slots(RANK + 1),
                new Notices(),
                memory);
    }

    private static BitSet slots(int count) {
        BitSet slots = new BitSet();
        slots.set(0, count);
        return slots;
    }

    private SpilledRows walked(FarRows.Reader coming, FarRows.Reader going, Sliding figure) {
        PartitionSizes sizes = new PartitionSizes(sorted, wanted, rows -> SpilledWindows.keys(spec, rows));
        FarFrame moves = new FarFrame(frame, spec, sorted, coming, going, figure);
        FarRows.Reader own = new FarRows(spec, wanted, notices).of(sorted);
        BitSet numbers = new BitSet();
        numbers.set(number);
        List<SpilledRows.Block> blocks = new ArrayList<>();
        long end = 0;
        for (int b = 0; b < sorted.blocks(); b++) {
            Workers.stopIfInterrupted();
            int size = sorted.block(b).rows();
            figure.own(own.columns(b), size);
            int[] shown = new int[size];
            for (int i = 0; i < size; i++) {
                long position = sorted.start(b) + i;
                if (position == end) {
                    long start = end;
                    end = start + sizes.next();
                    moves.begin(start, end);
                }
                shown[i] = moves.to(position) ? i : -1;
                figure.look(i);
            }
            Column figures = figure.figures().take(shown, size);
            long lost = figures instanceof DoubleColumn told ? told.lost(0, size) : 0;
            notices.count(Notices.Kind.NO_NUMBER, spec.place().text(), lost);
            Column stood = sorted.read(b, numbers).column(number);
            blocks.add(SpilledRows.write(memory.scratch(), size, new Column[] {figures, stood}));
        }
        return new SpilledRows(memory.scratch(), blocks);
    }

    /** Rows that a figure cannot hold, in the file. */
    private final class Away implements Drawer {
        private final List<SpilledRows> put = new ArrayList<>();

        @Override
        public int rows() {
            return memory.blockRows();
        }

        @Override
        public int put(Column[] columns, int rows) {
            SpilledRows.Block block = SpilledRows.write(memory.scratch(), rows, columns);
            put.add(new SpilledRows(memory.scratch(), List.of(block)));
            return put.size() - 1;
        }

        @Override
        public Column[] get(int number) {
            SpilledRows rows = put.get(number);
            int count = rows.block(0).slots().length;
            Rows read = rows.read(0, slots(count));
            Column[] columns = new Column[count];
            Arrays.setAll(columns, read::column);
            return columns;
        }
    }

    /** Values, with their ranks where they have one, which stand at the positions of their rows. */
    private static final class Values extends FarRows.Reader {
        private long @Nullable [] positions;

        Values(SpilledRows rows) {
            super(rows);
        }

        @Override
        Column[] columns(int block) {
            Rows read = rows().read(block, slots(RANK + 1));
            positions = ((LongColumn) read.column(POSITION).flat()).values();
            Column value = read.column(VALUE).flat();
            return read.slots().length > RANK
                    ? new Column[] {value, read.column(RANK).flat()}
                    : new Column[] {value};
        }

        @Override
        long position(int block, int row) {
            return Objects.requireNonNull(positions)[row];
        }
    }
}
