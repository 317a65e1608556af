package dev.fiesta.operate.group;

import dev.fiesta.compute.Expression;
import dev.fiesta.compute.Fault;
import dev.fiesta.compute.FieldRef;
import dev.fiesta.compute.Kernel;
import dev.fiesta.gather.Accumulator;
import dev.fiesta.gather.keys.GroupTable;
import dev.fiesta.gather.values.Image;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.GatherSpec;
import dev.fiesta.step.GroupStep;
import dev.fiesta.step.OrderKey;
import dev.fiesta.store.Memory;
import dev.fiesta.store.Rows;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import dev.fiesta.walk.Order;
import dev.fiesta.work.Place;
import dev.fiesta.work.Workers;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Objects;
import java.util.function.UnaryOperator;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** The groups that one worker has met, and what they have gathered; merged into one at the end. */
public final class Grouping {
    /** Fewer groups are written down only when their states are large. */
    private static final int FEWEST = 256;

    private final GroupStep step;
    private final Kernel[] keys;
    private final List<@Nullable UnaryOperator<Column>> derived = new ArrayList<>();
    private final int[] readBy;
    private final List<GatherInput> inputs = new ArrayList<>();
    private final GatherInput[] inputOf;
    private final int[][] args;
    private final @Nullable Memory memory;
    private final boolean mayLeave;
    private final List<GroupRun> runs = new ArrayList<>();
    private GroupTable table;
    private List<Accumulator> accumulators;
    private int[] numbers = new int[0];
    private long held;
    /** Holds all its groups in memory. */
    public Grouping(GroupStep step, Notices notices) {
        this(step, notices, null, false);
    }

    /**
     * @param memory is asked for what the groups take; null to hold them all
     * @param handedOver whether what is gathered is written for somebody else
     */
    public Grouping(GroupStep step, Notices notices, @Nullable Memory memory, boolean handedOver) {
        this.step = step;
        this.memory = memory;
        this.mayLeave = handedOver || !step.keys().isEmpty();
        this.keys = kernels(step.keys(), notices);
        this.readBy = step.keys().stream().mapToInt(Grouping::onlyField).toArray();
        for (int k = 0; k < keys.length; k++) {
            derived.add(derived(step.keys().get(k), readBy[k], keys[k]));
        }
        this.inputOf = step.gathers().stream()
                .map(g -> GatherInput.of(g.only(), inputs, notices))
                .toArray(GatherInput[]::new);
        this.args = new int[inputOf.length][];
        Arrays.setAll(args, g -> inputOf[g].places(arguments(step.gathers().get(g))));
        this.table = emptyTable();
        this.accumulators = emptyAccumulators(step);
    }

    /** What a figure takes, and what its rows are ordered along. */
    private static List<Expression> arguments(GatherSpec spec) {
        return Stream.concat(spec.args().stream(), spec.along().stream().map(OrderKey::key))
                .toList();
    }

    private GroupTable emptyTable() {
        return new GroupTable(step.keys().stream().map(k -> new Image(k.type())).toArray(Image[]::new));
    }

    /** Empty accumulators; figures that can be told from what another one over the same values gathers are views of it. */
    static List<Accumulator> emptyAccumulators(GroupStep step) {
        List<GatherSpec> specs = step.gathers();
        List<Accumulator> own = new ArrayList<>();
        specs.forEach(s -> own.add(s.bound().maker().get()));
        List<Accumulator> all = new ArrayList<>(own);
        for (int g = 0; g < own.size(); g++) {
            for (int h = 0; h < own.size(); h++) {
                boolean first = h < g || !own.get(h).mayView(own.get(g));
                boolean goesFirst = h != g
                        && first
                        && own.get(g).mayView(own.get(h))
                        && specs.get(g).gathersAs(specs.get(h));
                if (goesFirst && !all.get(h).isView()) {
                    all.set(g, own.get(g).view(own.get(h)));
                    break;
                }
            }
        }
        return all;
    }

    private static Kernel[] kernels(List<Expression> expressions, Notices notices) {
        return expressions.stream().map(e -> e.kernel(notices)).toArray(Kernel[]::new);
    }

    /** A key that is a function of one field, which the table may work out once for each of its values; null for others. */
    private static @Nullable UnaryOperator<Column> derived(Expression key, int field, Kernel kernel) {
        if (field < 0 || key instanceof FieldRef || key.mayFail()) {
            return null;
        }
        return values -> {
            @Nullable Column[] columns = new Column[field + 1];
            columns[field] = values;
            return kernel.eval(Batch.of(values.size(), columns, 0));
        };
    }

    /** The only field that an expression reads, or -1. */
    private static int onlyField(Expression expression) {
        BitSet fields = new BitSet();
        expression.fields(fields::set);
        return fields.cardinality() == 1 ? fields.nextSetBit(0) : -1;
    }

    public void add(Batch batch) {
        int rows = batch.size();
        if (numbers.length < rows) {
            numbers = new int[rows];
        }
        Column[] columns = new Column[keys.length];
        for (int k = 0; k < keys.length; k++) {
            columns[k] = derived.get(k) == null ? keys[k].eval(batch) : batch.column(readBy[k]);
        }
        table.number(columns, derived, rows, numbers);
        int groups = table.size();
        inputs.forEach(GatherInput::clear);
        for (int g = 0; g < args.length; g++) {
            Accumulator accumulator = accumulators.get(g);
            if (!accumulator.isView()) {
                accumulator.grow(groups);
                gather(batch, g, accumulator);
            }
        }
        if (memory != null) {
            leaveIfTooMany(memory);
        }
    }

    /** Writes the groups down, in order, when they do not fit any more; groups that must stay put their values away. */
    private void leaveIfTooMany(Memory within) {
        long now = holding();
        boolean fits = within.hold(now - held);
        held = now;
        boolean worth = table.size() >= FEWEST || now > within.limit() / 4;
        if (fits || table.size() == 0 || !worth) {
            return;
        }
        if (mayLeave) {
            leave(within);
            return;
        }
        SpilledValues.relieve(accumulators, within);
        held = holding();
        within.hold(held - now);
    }

    private long holding() {
        return table.memory() + Accumulator.memory(accumulators);
    }

    private void leave(Memory within) {
        runs.add(GroupRun.write(within, table.keys(), accumulators, table.size()));
        table = emptyTable();
        accumulators = emptyAccumulators(step);
        within.hold(-held);
        held = 0;
    }

    private void gather(Batch batch, int g, Accumulator accumulator) {
        GatherInput input = inputOf[g];
        Batch rows = input.rows(batch, numbers);
        Column[] values = new Column[args[g].length];
        for (int a = 0; a < values.length; a++) {
            values[a] = input.argument(args[g][a], rows);
        }
        accumulator.add(input.groups(), values, rows.size(), Place.first(batch));
    }

    /** Writes the groups of several workers, each perhaps several times. */
    public static void write(List<Grouping> workers, DataOutput out) throws IOException {
        Grouping first = workers.get(0);
        workers.subList(1, workers.size()).forEach(w -> first.merge(w, 1));
        new GroupsWritten(first.table.keys(), first.accumulators, first.table.size()).to(out);
        for (Grouping worker : workers) {
            for (GroupRun run : worker.runs) {
                GroupsWritten.write(run, out);
            }
        }
        GroupsWritten.end(out);
    }

    /** Takes in groups that others have written. */
    public void read(DataInput in) throws IOException {
        for (GroupsWritten.Block block = GroupsWritten.next(in); block != null; block = GroupsWritten.next(in)) {
            Workers.stopIfInterrupted();
            int[] into = new int[block.groups()];
            table.number(block.keys(), into.length, into);
            accumulators.forEach(a -> a.grow(table.size()));
            for (int group : into) {
                for (Accumulator accumulator : accumulators) {
                    accumulator.read(group, block.states());
                }
            }
            if (memory != null) {
                leaveIfTooMany(memory);
            }
        }
    }

    private void merge(Grouping other, int threads) {
        Column[] theirs = other.table.keys();
        int[] into = new int[other.table.size()];
        table.number(theirs, into.length, into);
        Workers.each(threads, accumulators.size(), into.length, g -> {
            if (!accumulators.get(g).isView()) {
                accumulators.get(g).grow(table.size());
                accumulators.get(g).merge(other.accumulators.get(g), into);
            }
        });
    }

    /** The groups of several workers as rows, by key: keys, figures, number of the group; figures side by side. */
    public static Standing finish(List<Grouping> workers, Notices notices, int threads) {
        Grouping first = workers.get(0);
        Memory memory = first.memory;
        if (memory == null || workers.stream().allMatch(w -> w.runs.isEmpty())) {
            workers.subList(1, workers.size()).forEach(w -> first.merge(w, threads));
            Standing groups = first.finish(notices, threads);
            if (memory != null && groups.states() == null) {
                memory.hold(-workers.stream().mapToLong(w -> w.held).sum());
            }
            return groups;
        }
        List<GroupRun> runs = new ArrayList<>();
        for (Grouping worker : workers) {
            if (worker.table.size() > 0) {
                worker.leave(memory);
            }
            runs.addAll(worker.runs);
        }
        return GroupMerge.run(first.step, runs, memory, notices);
    }

    private Standing finish(Notices notices, int threads) {
        table.oneAtLeast();
        int groups = table.size();
        Column[] slots = new Column[step.numberSlot() + 1];
        Column[] found = table.keys();
        System.arraycopy(found, 0, slots, 0, found.length);
        accumulators.forEach(a -> a.grow(groups));
        Workers.each(threads, accumulators.size(), groups, g -> {
            slots[found.length + g] = figure(step.gathers().get(g), accumulators.get(g), found, groups, notices);
        });
        long[] own = new long[groups];
        Arrays.setAll(own, i -> i);
        slots[step.numberSlot()] = new LongColumn(Type.INTEGER, own, groups, null);
        List<Order.Key> byKey =
                Arrays.stream(found).map(c -> new Order.Key(c, false)).toList();
        GroupStates states = step.keepStates()
                ? GroupStates.held(step, Objects.requireNonNull(memory), found, accumulators, groups)
                : null;
        Rows rows = new Rows(groups, slots)
                .take(Order.sort(Order.asTheyStand(groups), byKey, Workers.parts(threads, groups)), threads);
        return Standing.all(rows, states);
    }

    /** A figure of all groups. */
    private static Column figure(GatherSpec spec, Accumulator accumulator, Column[] keys, int groups, Notices notices) {
        Wider wider = spec.wider() == null ? null : new Wider(spec);
        if (wider != null) {
            wider.add(accumulator, keys, groups);
        }
        return figure(spec, accumulator, wider, keys, groups, notices);
    }

    /**
     * A figure of groups; results that no number holds are counted.
     *
     * @param wider what was gathered over wider groups, where the figure names them
     */
    static Column figure(
            GatherSpec spec,
            Accumulator accumulator,
            @Nullable Wider wider,
            Column[] keys,
            int groups,
            Notices notices) {
        try {
            Column figures = wider == null ? accumulator.finish(groups) : wider.figures(accumulator, keys, groups);
            long lost = figures instanceof DoubleColumn numbers ? numbers.lost(0, groups) : 0;
            notices.count(Notices.Kind.NO_NUMBER, spec.place().text(), lost);
            return figures;
        } catch (Fault fault) {
            throw spec.place().failure(fault);
        }
    }
}
