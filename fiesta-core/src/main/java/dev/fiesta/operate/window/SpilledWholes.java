package dev.fiesta.operate.window;

import dev.fiesta.compute.Expression;
import dev.fiesta.compute.Fault;
import dev.fiesta.compute.Kernel;
import dev.fiesta.gather.Accumulator;
import dev.fiesta.gather.GatherFunction;
import dev.fiesta.gather.Part;
import dev.fiesta.gather.keys.GroupTable;
import dev.fiesta.gather.values.AlongKey;
import dev.fiesta.operate.group.GatherInput;
import dev.fiesta.operate.group.SpilledValues;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.Calculation;
import dev.fiesta.step.OrderKey;
import dev.fiesta.step.WalkSpec;
import dev.fiesta.store.Memory;
import dev.fiesta.store.SpillFile;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.work.Place;
import dev.fiesta.work.Workers;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Objects;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * Figures of whole partitions on the rows of a file: gathered in one reading, laid on the rows in a second. The rows need no
 * order for it, and of the partitions only what they have gathered is held.
 */
final class SpilledWholes {
    /** What is gathered may take this part of the memory. */
    private static final int PART = 4;

    private final List<WalkSpec> specs;
    private final Notices notices;
    private final Memory memory;
    private final List<Kernel> keys;
    private final List<List<Kernel>> args;
    private final List<@Nullable Kernel> conditions = new ArrayList<>();
    private final List<Accumulator> accumulators;
    private final boolean isGathered;
    private @Nullable GroupTable table;

    /**
     * @param specs figures over the same partitions
     * @param carry has what is gathered of all rows, where that is known; null where it is not
     */
    SpilledWholes(List<WalkSpec> specs, Notices notices, Memory memory, RangeWindows.@Nullable Carry carry) {
        this.isGathered = carry != null;
        this.specs = specs;
        this.notices = notices;
        this.memory = memory;
        this.keys = kernels(specs.get(0).within());
        this.args =
                specs.stream().map(SpilledWholes::arguments).map(this::kernels).toList();
        specs.forEach(s -> conditions.add(s.only() == null ? null : s.only().kernel(notices)));
        this.accumulators = specs.stream()
                .map(s -> carry == null ? accumulator(s) : carry.of(s).gathered())
                .toList();
    }

    private static Accumulator accumulator(WalkSpec spec) {
        GatherFunction.Bound bound = Objects.requireNonNull(spec.calculation().gatherBound());
        List<AlongKey> along = spec.along().stream()
                .map(k -> new AlongKey(k.key().type(), k.descending()))
                .toList();
        return (along.isEmpty() || bound.ordering() == null ? bound : bound.along(along)).empty(1);
    }

    /** What a figure takes, and what its rows are ordered along where that means something to it. */
    private static List<Expression> arguments(WalkSpec spec) {
        GatherFunction.Bound bound = Objects.requireNonNull(spec.calculation().gatherBound());
        return bound.ordering() == null
                ? spec.args()
                : Stream.concat(spec.args().stream(), spec.along().stream().map(OrderKey::key))
                        .toList();
    }

    /** Whether a calculation is a figure of whole partitions. */
    static boolean isWhole(WalkSpec spec) {
        Calculation calculation = spec.calculation();
        return calculation.walkBound() == null && calculation.frame() == null;
    }

    private List<Kernel> kernels(List<Expression> expressions) {
        return expressions.stream().map(e -> e.kernel(notices)).toList();
    }

    /** The rows with the figures beside them; null where there are too many partitions to be held. */
    @Nullable
    SpilledRows run(SpilledRows rows, BitSet after) {
        return isGathered || gather(rows) ? laid(rows, after) : null;
    }

    /** Gathers, if not too many partitions are found. */
    boolean gather(SpilledRows rows) {
        for (int b = 0; b < rows.blocks(); b++) {
            Workers.stopIfInterrupted();
            add(rows.batch(b));
            if (!fits()) {
                return false;
            }
        }
        return true;
    }

    private int[] numbers(Batch batch) {
        Column[] columns = keys.stream().map(k -> k.eval(batch)).toArray(Column[]::new);
        GroupTable known = table;
        if (known == null) {
            known = GroupTable.of(columns);
            table = known;
        }
        int[] numbers = new int[batch.size()];
        known.number(columns, numbers.length, numbers);
        return numbers;
    }

    private int partitions() {
        GroupTable known = table;
        return Math.max(1, known == null ? 0 : known.size());
    }

    private void add(Batch batch) {
        int[] numbers = numbers(batch);
        for (int s = 0; s < specs.size(); s++) {
            Column[] values = values(s, batch);
            int[] groups = numbers;
            Kernel condition = conditions.get(s);
            if (condition != null) {
                int[] met = GatherInput.met(condition, batch);
                values = Arrays.stream(values).map(v -> v.take(met, met.length)).toArray(Column[]::new);
                groups = GatherInput.pick(numbers, met);
            }
            Accumulator accumulator = accumulators.get(s);
            accumulator.grow(partitions());
            accumulator.add(groups, values, groups.length, Place.first(batch));
        }
    }

    private Column[] values(int spec, Batch batch) {
        return args.get(spec).stream().map(k -> k.eval(batch).flat()).toArray(Column[]::new);
    }

    private boolean fits() {
        if (held() > memory.limit() / PART) {
            SpilledValues.relieve(accumulators, memory);
        }
        // Few partitions are held whatever they take: their rows would take more.
        return partitions() <= memory.blockRows() || held() <= memory.limit() / PART;
    }

    private long held() {
        GroupTable known = table;
        return (known == null ? 0 : known.memory()) + Accumulator.memory(accumulators);
    }

    private SpilledRows laid(SpilledRows rows, BitSet after) {
        List<@Nullable Column> figures = new ArrayList<>();
        for (int s = 0; s < specs.size(); s++) {
            figures.add(isPart(s) ? null : figure(s));
        }
        List<SpilledRows.Block> blocks = new ArrayList<>();
        for (int b = 0; b < rows.blocks(); b++) {
            Workers.stopIfInterrupted();
            Batch batch = rows.batch(b);
            int[] numbers = numbers(batch);
            SpilledRows.Block block = rows.block(b);
            int width = Math.max(block.slots().length, after.length());
            SpillFile.@Nullable Place[] places = Arrays.copyOf(block.slots(), width);
            for (int s = 0; s < specs.size(); s++) {
                Column figure = figures.get(s);
                Column laid = figure == null
                        ? ((Part) accumulators.get(s)).ofRows(shared(s, batch), numbers)
                        : figure.take(numbers, numbers.length);
                if (after.get(specs.get(s).slot())) {
                    places[specs.get(s).slot()] = rows.scratch().write(laid);
                }
            }
            blocks.add(new SpilledRows.Block(block.rows(), places));
        }
        return new SpilledRows(rows.scratch(), blocks);
    }

    private boolean isPart(int spec) {
        return specs.get(spec).calculation().isPart();
    }

    private Column figure(int spec) {
        try {
            return accumulators.get(spec).finish(partitions());
        } catch (Fault fault) {
            throw specs.get(spec).place().failure(fault);
        }
    }

    /** The values of which shares are taken; missing where the condition does not hold. */
    private Column shared(int spec, Batch batch) {
        Column values = values(spec, batch)[0];
        Kernel condition = conditions.get(spec);
        if (condition == null) {
            return values;
        }
        int[] pick = new int[batch.size()];
        Arrays.fill(pick, -1);
        for (int row : GatherInput.met(condition, batch)) {
            pick[row] = row;
        }
        return values.take(pick, pick.length);
    }
}
