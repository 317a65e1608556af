package dev.fiesta.operate.window;

import dev.fiesta.compute.Expression;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.Calculation;
import dev.fiesta.step.OrderKey;
import dev.fiesta.step.WalkSpec;
import dev.fiesta.step.WalksStep;
import dev.fiesta.store.ExternalSort;
import dev.fiesta.store.Memory;
import dev.fiesta.store.PartitionSizes;
import dev.fiesta.store.Rows;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.value.Column;
import dev.fiesta.walk.Frame;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * Calculations over the partitions of rows in a file. The columns they look at are sorted by partition and order; as many whole
 * partitions as fit are then worked out in memory, and a partition that does not fit is walked piece by piece, with the few
 * rows around a piece that its values look at, and with what the pieces before have counted and gathered. The results go back
 * to the order of the rows.
 */
final class SpilledWindows {
    /** A piece of partitions may take this part of the memory; working it out takes some times as much. */
    private static final int PART = 12;

    private final Notices notices;
    private final Memory memory;
    private final long most;
    private final RangeWindows.@Nullable Carry carry;

    SpilledWindows(Notices notices, Memory memory) {
        this(notices, memory, null);
    }

    /** @param carry what is known of the rows around these, which are a range of all; null for none */
    SpilledWindows(Notices notices, Memory memory, RangeWindows.@Nullable Carry carry) {
        this.carry = carry;
        this.notices = notices;
        this.memory = memory;
        this.most = Math.max(1, memory.limit() / PART);
    }

    SpilledRows run(SpilledRows rows, WalksStep step, BitSet after) {
        Map<List<Object>, List<WalkSpec>> together = new LinkedHashMap<>();
        step.specs()
                .forEach(s -> together.computeIfAbsent(Windows.signature(s), k -> new ArrayList<>())
                        .add(s));
        SpilledRows result = rows;
        for (List<WalkSpec> specs : together.values()) {
            List<WalkSpec> all = specs.stream().map(SpilledWindows::plain).toList();
            List<WalkSpec> wholes = all.stream().filter(SpilledWholes::isWhole).toList();
            SpilledRows whole =
                    wholes.isEmpty() ? null : new SpilledWholes(wholes, notices, memory, carry).run(result, after);
            List<WalkSpec> others = whole == null
                    ? all
                    : all.stream().filter(s -> !SpilledWholes.isWhole(s)).toList();
            result = whole == null ? result : whole;
            result = others.isEmpty() ? result : worked(result, others, after);
        }
        return result;
    }

    /** A frame from the start of the partition to its end is the whole of it. */
    static WalkSpec plain(WalkSpec spec) {
        Calculation calculation = spec.calculation();
        Frame frame = calculation.frame();
        boolean whole = frame != null
                && frame.span() == null
                && frame.from() == Frame.START
                && frame.to() == Frame.END
                && frame.atLeast() == 0;
        return whole ? spec.over(null) : spec;
    }

    private SpilledRows worked(SpilledRows rows, List<WalkSpec> specs, BitSet after) {
        BitSet reads = new WalksStep(specs).before(new BitSet());
        int number = Math.max(reads.length(), 1);
        List<OrderKey> keys = new ArrayList<>();
        specs.get(0).within().forEach(k -> keys.add(new OrderKey(k, false)));
        keys.addAll(specs.get(0).along());
        BitSet wanted = (BitSet) reads.clone();
        wanted.set(number);
        SpilledRows sorted =
                new ExternalSort(rows.numbered(reads, number), keys, wanted, new Notices(), memory, PART).run();
        SpilledRows result = rows;
        List<WalkSpec> far = far(sorted, specs, wanted);
        for (WalkSpec spec : far) {
            SpilledRows figures = new FarWindow(sorted, spec, number, wanted, notices, memory).run();
            result = beside(result, figures, List.of(spec), after);
        }
        List<PieceWindow> windows = specs.stream()
                .filter(s -> !far.contains(s))
                .map(PieceWindow::new)
                .toList();
        for (boolean backwards : new boolean[] {false, true}) {
            List<PieceWindow> some =
                    windows.stream().filter(w -> w.isBackwards() == backwards).toList();
            if (!some.isEmpty()) {
                SpilledRows results =
                        new WindowPieces(sorted, some, number, wanted, notices, memory, most, carry).run();
                result = beside(
                        result, results, some.stream().map(PieceWindow::spec).toList(), after);
            }
        }
        return result;
    }

    /** Those whose frames may hold more rows than a piece has, in a partition that is larger than one. */
    private List<WalkSpec> far(SpilledRows sorted, List<WalkSpec> specs, BitSet wanted) {
        List<WalkSpec> suiting = specs.stream()
                .filter(s -> carry == null && FarWindow.suits(s) && new PieceWindow(s).mayReachFar())
                .toList();
        if (suiting.isEmpty()) {
            return suiting;
        }
        double aRow = (double) sorted.bytes(wanted) / Math.max(1, sorted.rows());
        PartitionSizes sizes = new PartitionSizes(sorted, wanted, rows -> keys(specs.get(0), rows));
        for (long size = sizes.next(); size > 0; size = sizes.next()) {
            if (size * aRow > most) {
                return suiting;
            }
        }
        return List.of();
    }

    /** The keys of the partitions of rows. */
    static List<Column> keys(WalkSpec spec, Rows rows) {
        return Arrays.stream(Expression.columns(spec.within(), rows.batch(), new Notices()))
                .map(Column::flat)
                .toList();
    }

    /** Results, which go back to the order of the rows, beside them. */
    private SpilledRows beside(SpilledRows rows, SpilledRows results, List<WalkSpec> specs, BitSet after) {
        BitSet slots = new BitSet();
        slots.set(0, specs.size() + 1);
        List<OrderKey> byNumber = ExternalSort.numbered(specs.size());
        SpilledRows back = new ExternalSort(results, byNumber, slots, new Notices(), memory, PART).run();
        Map<Integer, Integer> wantedResults = new LinkedHashMap<>();
        for (int i = 0; i < specs.size(); i++) {
            int slot = specs.get(i).slot();
            if (after.get(slot)) {
                wantedResults.put(i, slot);
            }
        }
        return rows.beside(back, wantedResults);
    }
}
