package dev.fiesta.operate.window;

import dev.fiesta.gather.Accumulator;
import dev.fiesta.gather.GatherFunction;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.OrderKey;
import dev.fiesta.step.WalkSpec;
import dev.fiesta.step.WalksStep;
import dev.fiesta.store.ExternalSort;
import dev.fiesta.store.Memory;
import dev.fiesta.store.RowBytes;
import dev.fiesta.store.Rows;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.store.Stored;
import dev.fiesta.walk.FrameReach;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.DataInput;
import java.io.DataInputStream;
import java.io.DataOutput;
import java.io.DataOutputStream;
import java.io.IOException;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.IntFunction;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * Calculations over all rows in one order, of which each range is worked on by itself: it tells first what the others must know of
 * it, how many rows it has, what they gather and those at its ends; knowing that of all others it then goes on.
 */
public final class RangeWindows {
    /** Rows around one that ranges hand each other. */
    private static final int MOST_AROUND = 1 << 10;

    private final WalksStep step;
    private final List<WalkSpec> specs;
    private final BitSet reads;
    private final int back;
    private final int ahead;

    public RangeWindows(WalksStep step) {
        this.step = step;
        this.specs = step.specs().stream().map(SpilledWindows::plain).toList();
        this.reads = step.before(new BitSet());
        List<FrameReach> near = specs.stream()
                .filter(s -> !SpilledWholes.isWhole(s))
                .map(s -> new PieceWindow(s).reach())
                .filter(r -> r.kind() == FrameReach.Kind.NEAR)
                .toList();
        this.back = near.stream().mapToInt(FrameReach::back).max().orElse(0);
        this.ahead = near.stream().mapToInt(FrameReach::ahead).max().orElse(0);
    }

    /** Whether calculations can be worked out so. */
    public static boolean suits(WalksStep step) {
        List<WalkSpec> specs = step.specs().stream().map(SpilledWindows::plain).toList();
        Stream<WalkSpec> walked = specs.stream().filter(s -> !SpilledWholes.isWhole(s));
        return specs.stream().allMatch(s -> s.within().isEmpty() && suits(s))
                && walked.map(Windows::signature).distinct().count() <= 1;
    }

    private static boolean suits(WalkSpec spec) {
        GatherFunction.Bound bound = spec.calculation().gatherBound();
        if (SpilledWholes.isWhole(spec)) {
            return isSmall(spec) && Objects.requireNonNull(bound).ordering() == null;
        }
        PieceWindow window = new PieceWindow(spec);
        FrameReach reach = window.reach();
        return !spec.along().isEmpty()
                && window.isPlain()
                && switch (reach.kind()) {
                    case NEAR -> window.isPiecewise() && reach.back() <= MOST_AROUND && reach.ahead() <= MOST_AROUND;
                    case GATHERED -> isSmall(spec);
                    case ROWS_BEFORE, ROWS_OF_ALL, DIFFERENT_BEFORE -> true;
                    case SPAN, NTH, ALL -> false;
                };
    }

    /** Whether what rows gather is of no order, and a few numbers. */
    private static boolean isSmall(WalkSpec spec) {
        return !Objects.requireNonNull(spec.calculation().gather()).looksAtOrder()
                && !Objects.requireNonNull(spec.calculation().gatherBound())
                        .empty(1)
                        .putsAway();
    }

    /** The order that calculations are walked along; no keys where all are figures of all rows, as they stand. */
    public static List<OrderKey> order(WalksStep step) {
        return step.specs().stream()
                .filter(s -> !SpilledWholes.isWhole(SpilledWindows.plain(s)))
                .findFirst()
                .map(WalkSpec::along)
                .orElse(List.of());
    }

    /** One calculation as it is carried: how many rows take part, how many different ones there are, what they gather. */
    static final class Known {
        private long before;
        private long all;
        private long different;
        private final @Nullable Accumulator gathered;

        Known(WalkSpec spec) {
            boolean gathers =
                    SpilledWholes.isWhole(spec) || new PieceWindow(spec).reach().kind() == FrameReach.Kind.GATHERED;
            gathered = gathers
                    ? Objects.requireNonNull(spec.calculation().gatherBound()).empty(1)
                    : null;
        }

        /** How many rows take part before this range. */
        long before() {
            return before;
        }

        /** How many take part. */
        long all() {
            return all;
        }

        /** How many different ones stand before. */
        long different() {
            return different;
        }

        void rows(long taking, long differing) {
            before = taking;
            all = taking;
            different = differing;
        }

        Accumulator gathered() {
            return Objects.requireNonNull(gathered, "what rows gather");
        }

        private void write(DataOutput out) throws IOException {
            out.writeLong(before);
            out.writeLong(all);
            out.writeLong(different);
            if (gathered != null) {
                gathered.write(0, out);
            }
        }

        /** Adds what was written. */
        private void read(DataInput in) throws IOException {
            before += in.readLong();
            all += in.readLong();
            different += in.readLong();
            if (gathered != null) {
                gathered.read(0, in);
            }
        }
    }

    /**
     * What is known of the rows around a range.
     *
     * @param known of each calculation
     * @param before the rows right before it, {@code behind} those right behind it; null for none
     */
    record Carry(
            Map<Integer, Known> known,
            @Nullable Rows before,
            @Nullable Rows behind) {
        Known of(WalkSpec spec) {
            return Objects.requireNonNull(known.get(spec.slot()));
        }
    }

    /** What is known of nothing yet, by the slots of calculations. */
    private Map<Integer, Known> nothing() {
        Map<Integer, Known> known = new LinkedHashMap<>();
        specs.forEach(s -> known.put(s.slot(), new Known(s)));
        return known;
    }

    /** Tells what other ranges must know of this one. */
    public void tell(Stored rows, Memory memory, DataOutput out) throws IOException {
        SpilledRows file = SpilledRows.in(memory, rows);
        List<OrderKey> order = order(step);
        SpilledRows sorted = order.isEmpty() ? file : ExternalSort.sorted(file, order, reads, new Notices(), memory);
        Carry own = new Carry(nothing(), null, null);
        for (WalkSpec spec : specs) {
            if (SpilledWholes.isWhole(spec)) {
                new SpilledWholes(List.of(spec), new Notices(), memory, own).gather(sorted);
            } else {
                new PieceWindow(spec).gather(sorted, reads, own.of(spec));
            }
            own.of(spec).write(out);
        }
        int blocks = sorted.blocks();
        RowBytes.write(nearest(blocks, b -> sorted.read(b, reads), ahead, false), reads, out);
        RowBytes.write(nearest(blocks, b -> sorted.read(blocks - 1 - b, reads), back, true), reads, out);
    }

    /** {@return what ranges have told, of which none has yet} */
    public Told nothingTold() {
        return new Told();
    }

    /** What ranges have told, in their order. */
    public final class Told {
        private final List<Map<Integer, byte[]>> states = new ArrayList<>();
        private final List<Rows> first = new ArrayList<>();
        private final List<Rows> last = new ArrayList<>();

        private Told() {}

        /** Adds what the next range has told. */
        public void add(DataInput in) throws IOException {
            Map<Integer, byte[]> own = new LinkedHashMap<>();
            for (Map.Entry<Integer, Known> known : nothing().entrySet()) {
                known.getValue().read(in);
                own.put(known.getKey(), bytes(known.getValue()));
            }
            states.add(own);
            first.add(RowBytes.read(in));
            last.add(RowBytes.read(in));
        }

        /** Tells a range what it must know of the others. */
        public void write(int range, DataOutput out) throws IOException {
            for (WalkSpec spec : specs) {
                known(spec, range).write(out);
            }
            around(range, i -> last.get(range - 1 - i), back, true, out);
            around(states.size() - range - 1, i -> first.get(range + 1 + i), ahead, false, out);
        }

        /** What a calculation must know: of those before a range, or behind it where it walks back; where it is of all rows, of all. */
        private Known known(WalkSpec spec, int range) throws IOException {
            boolean whole = SpilledWholes.isWhole(spec);
            boolean backwards = !whole && new PieceWindow(spec).isBackwards();
            Known known = new Known(spec);
            Known others = new Known(spec);
            for (int r = 0; r < states.size(); r++) {
                boolean counts = whole || (backwards ? r > range : r < range);
                byte[] state = Objects.requireNonNull(states.get(r).get(spec.slot()));
                (counts ? known : others).read(new DataInputStream(new ByteArrayInputStream(state)));
            }
            known.all += others.all;
            return known;
        }

        private void around(int edges, IntFunction<Rows> edge, int count, boolean before, DataOutput out)
                throws IOException {
            boolean any = edges > 0 && count > 0;
            out.writeBoolean(any);
            if (any) {
                RowBytes.write(nearest(edges, edge, count, before), reads, out);
            }
        }
    }

    private static byte[] bytes(Known known) throws IOException {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        known.write(new DataOutputStream(bytes));
        return bytes.toByteArray();
    }

    /**
     * The first rows, or the last, of some that stand in blocks.
     *
     * @param block one of them, the nearest first
     * @param last whether the last ones are wanted: then the nearest block is the last
     */
    private static Rows nearest(int blocks, IntFunction<Rows> block, int count, boolean last) {
        List<Rows> some = new ArrayList<>();
        for (int b = 0, left = count; b < blocks && (b == 0 || left > 0); b++) {
            Rows rows = block.apply(b);
            int size = Math.min(left, rows.size());
            some.add(last ? 0 : b, last ? rows.range(rows.size() - size, rows.size()) : rows.range(0, size));
            left -= size;
        }
        return Rows.join(some);
    }

    /**
     * Works a range out.
     *
     * @param told what it must know of the others
     */
    public Stored run(Stored rows, BitSet after, DataInput told, Notices notices, Memory memory) throws IOException {
        Map<Integer, Known> known = nothing();
        for (Known one : known.values()) {
            one.read(told);
        }
        Rows before = told.readBoolean() ? RowBytes.read(told) : null;
        Carry carry = new Carry(known, before, told.readBoolean() ? RowBytes.read(told) : null);
        return new SpilledWindows(notices, memory, carry).run(SpilledRows.in(memory, rows), step, after);
    }
}
