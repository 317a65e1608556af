package dev.fiesta.engine;

import dev.fiesta.operate.ComputeStage;
import dev.fiesta.operate.FilterStage;
import dev.fiesta.operate.group.Standing;
import dev.fiesta.operate.join.Join;
import dev.fiesta.operate.join.JoinStage;
import dev.fiesta.problem.Interrupted;
import dev.fiesta.problem.Notices;
import dev.fiesta.progress.Timing;
import dev.fiesta.source.Source;
import dev.fiesta.step.ComputeStep;
import dev.fiesta.step.FilterStep;
import dev.fiesta.step.GroupStep;
import dev.fiesta.step.LimitStep;
import dev.fiesta.step.MatchStep;
import dev.fiesta.step.Step;
import dev.fiesta.step.TablePlan;
import dev.fiesta.store.Memory;
import dev.fiesta.store.Resources;
import dev.fiesta.store.Rows;
import dev.fiesta.store.Stored;
import dev.fiesta.store.StoredScan;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import dev.fiesta.work.EarliestFailure;
import dev.fiesta.work.InTurn;
import dev.fiesta.work.Workers;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.LongAdder;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.function.IntUnaryOperator;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;

/**
 * One reading by several workers: of an input for all tables that follow from it batch by batch, or of rows that stand somewhere
 * for the further steps of a table. Each worker takes batches, runs them through the steps and hands them to what takes rows in.
 * Of several failures the one of the least place is told; what stands behind the last row that is wanted does not count.
 */
final class Pass {
    private final Flow flow;
    private final Function<MatchStep, Rows> lookUps;
    private final StepCounts counts;
    private final Notices notices;
    private final Resources resources;
    private final Memory memory;
    private final LongAdder read = new LongAdder();
    private final LaneCounts counted = new LaneCounts();
    private final Map<TablePlan, Sink> sinks = new IdentityHashMap<>();
    private final Map<Sink, Standing> finished = new IdentityHashMap<>();
    private final Map<TablePlan, Late> lates = new IdentityHashMap<>();
    private final Map<MatchStep, Join> matchings = new IdentityHashMap<>();
    private final EarliestFailure failures = new EarliestFailure();
    private final LaneRun.Settled settled = new LaneRun.Settled() {
        @Override
        public void failed(long sequence, int row, Lane lane, RuntimeException failure) {
            failures.met(sequence, row, lane.order(), failure);
        }

        @Override
        public void passed(Lane lane, int step, long in, long out) {
            counted.add(lane, step, in, out);
        }
    };
    private int lanes;
    private volatile boolean enough;

    /** @param lookUps what a look-up reads of the other table */
    Pass(Flow flow, Function<MatchStep, Rows> lookUps, StepCounts counts, Notices notices, Resources resources) {
        this.flow = flow;
        this.lookUps = lookUps;
        this.counts = counts;
        this.notices = notices;
        this.resources = resources;
        this.memory = resources.memory();
    }

    /**
     * Reads an input.
     *
     * @param scan a reading of it, which stays open
     * @param fed the tables to feed: up to their first step that needs all rows, which takes them in if it can
     * @param live for each table the slots needed before each step, and behind the last
     * @return the rows of each
     */
    Map<TablePlan, Flown> read(
            Source source, Source.Scan scan, TablePlan input, List<TablePlan> fed, Map<TablePlan, BitSet[]> live) {
        long start = System.nanoTime();
        long spilled = memory.spilled();
        memory.startPeak();
        int fields = source.schema().size();
        Lane root = lane(input, new Fed(source, scan, input, fed, live), slot -> slot < fields ? slot : -1);
        BitSet[] slots = live.get(input);
        TextsMet texts = new TextsMet(input, live.keySet(), slots == null ? new BitSet() : slots[0]);
        resources.watch().phase("reading " + input.shownName(), 0, scan::share);
        work(scan, root, texts, nothing(source));
        if (!enough) {
            texts.tell(notices);
        }
        Map<TablePlan, Flown> flown = new LinkedHashMap<>();
        for (TablePlan table : fed) {
            Sink sink = Objects.requireNonNull(sinks.get(table));
            flown.put(table, new Flown(finished(sink), lates.get(table), sink.deferred()));
        }
        long took = System.nanoTime() - start;
        long written = memory.spilled() - spilled;
        resources
                .watch()
                .add(new Timing(input.name(), -1, "read", read.sum(), read.sum(), took, memory.peak(), written));
        counts.read(input, read.sum());
        tell(root, 0, 0, 0);
        return flown;
    }

    /**
     * Reads rows that stand in memory or in a file, for some steps of which the last may take them in.
     */
    Standing read(Standing rows, Way way, int first, int end) {
        Stored from = rows.rows();
        long start = System.nanoTime();
        long spilled = memory.spilled();
        memory.startPeak();
        int flowing = Math.min(end, first + flow.flowing(way.steps(), first));
        Step last = flowing < end ? way.step(flowing) : null;
        Sink sink = sink(way, flowing, last, from, Carried.of(way, end, new BitSet(), slot -> -1));
        Lane lane = new Lane(way, 0, first, flowing, sink, flowing < end, List.of());
        counted.note(lane);

        StoredScan scan = new StoredScan(from);
        resources.watch().phase(way.shownName() + ": " + way.step(end - 1).word(), from.rows(), scan::share);
        try (scan) {
            work(scan, lane, TextsMet.NONE, scan.nothing());
        }
        Standing left = finished(sink);
        if (sink.deferred() != null) {
            throw sink.deferred();
        }
        long held = Math.max(memory.peak(), left.rows().bytes());
        long took = System.nanoTime() - start;
        if (flowing == first || rows.count() > from.rows()) {
            counted.came(lane, rows.count());
        }
        tell(lane, took, held, memory.spilled() - spilled);
        return last instanceof GroupStep ? left : new Standing(left.rows(), left.count(), rows.states());
    }

    /**
     * What has come of a table.
     *
     * @param late what of the rows is to be read later, or null
     * @param deferred what failed in cells that no clause has asked for, or null
     */
    record Flown(
            Standing rows, @Nullable Late late, @Nullable RuntimeException deferred) {}

    private void work(Source.Scan scan, Lane root, TextsMet texts, Batch nothing) {
        int threads = resources.threads();
        InTurn turns = new InTurn(threads, root.isCounted());
        AtomicInteger workers = new AtomicInteger();
        Workers.run(
                threads,
                () -> {
                    int number = workers.getAndIncrement();
                    try {
                        worker(scan, root, texts, turns, number);
                    } finally {
                        turns.end(number);
                    }
                },
                () -> {
                    scan.stop(0);
                    turns.stop();
                    failures.met(0, new Interrupted());
                });
        failures.rethrow();
        if (isEmpty(root)) {
            LaneRun run = run(root, scan.reader(new Notices()));
            run.run(nothing);
            run.settle(nothing.sequence());
            failures.rethrow();
        }
        matchings.values().forEach(Join::refuse);
    }

    private static boolean isEmpty(Lane lane) {
        return (lane.sink() != null && lane.sink().isEmpty())
                || lane.children().stream().anyMatch(Pass::isEmpty);
    }

    private Standing finished(Sink sink) {
        return finished.computeIfAbsent(sink, Sink::finish);
    }

    private LaneRun run(Lane root, Source.Reader reader) {
        return new LaneRun(root, reader, notices, settled, this::operator);
    }

    private void worker(Source.Scan scan, Lane root, TextsMet texts, InTurn turns, int number) {
        Notices aside = Notices.draft();
        Source.Reader reader = scan.reader(aside);
        try {
            LaneRun run = run(root, reader);
            Consumer<Batch> met = texts.worker();
            for (Batch batch = reader.next(); batch != null; batch = reader.next()) {
                long piece = reader.sequence();
                run.run(batch);
                turns.await(number, piece);
                if (enough) {
                    return;
                }
                int need = run.settle(piece);
                int used =
                        need == LaneRun.ALL ? batch.size() : batch.before(need).size();
                reader.settled(need);
                read.add(used);
                resources.watch().rows(used);
                if (!root.isOpen()) {
                    enough = true;
                    scan.stop(piece + 1);
                }
                reader.tell(aside);
                met.accept(batch);
                aside.clear();
                if (!enough) {
                    reader.finish();
                }
                if (Thread.currentThread().isInterrupted()) {
                    throw new Interrupted();
                }
                if (failures.first() != null) {
                    scan.stop(piece);
                }
                turns.at(number, piece + 1);
            }
        } catch (RuntimeException e) {
            if (!(e instanceof Interrupted)) {
                turns.await(number, reader.sequence());
            }
            if (!enough) {
                scan.stop(reader.sequence());
                failures.met(reader.sequence(), LaneRun.ALL, 0, e);
            }
        } catch (Error e) {
            scan.stop(0);
            turns.stop();
            failures.met(e);
        }
    }

    /** A batch without rows, so that tables without rows get columns of the right types all the same. */
    private static Batch nothing(Source source) {
        List<Column> typed = new ArrayList<>();
        source.schema().fields().forEach(f -> typed.add(Column.missing(f.type(), 0)));
        typed.add(Column.missing(Type.TEXT, 0));
        typed.add(Column.missing(Type.INTEGER, 0));
        return Batch.of(0, typed.toArray(Column[]::new), Long.MAX_VALUE >> 24);
    }

    /**
     * @param end the first step that does not work batch by batch
     * @param step that one, if it takes rows in
     * @param carried what is not read yet
     */
    private Sink sink(Way way, int end, @Nullable Step step, @Nullable Stored from, Carried carried) {
        if (step instanceof GroupStep group) {
            return new Sink.Groups(group, notices, memory, resources.threads());
        }
        LimitStep limit = step instanceof LimitStep known ? known : null;
        BitSet wanted = (BitSet) way.live().get(limit == null ? end : end + 1).clone();
        carried.fields().keySet().forEach(wanted::clear);
        if (carried.placeSlot() >= 0) {
            wanted.set(carried.placeSlot());
        }
        return new RowCollector(
                wanted,
                carried,
                limit == null ? way.steps().subList(end, way.steps().size()) : List.of(),
                limit == null ? Long.MAX_VALUE : limit.count(),
                limit != null && limit.ends(),
                from,
                memory,
                resources.threads());
    }

    /** What one reading of an input feeds. */
    private record Fed(
            Source source, Source.Scan scan, TablePlan input, List<TablePlan> tables, Map<TablePlan, BitSet[]> live) {
        boolean has(TablePlan table) {
            return tables.stream().anyMatch(t -> t == table);
        }
    }

    /**
     * The lane of a table, with those of the tables over it that are fed.
     *
     * @param fields the field of the source that a slot of the table holds, -1 for none
     */
    private Lane lane(TablePlan table, Fed fed, IntUnaryOperator fields) {
        int order = lanes++;
        Way way = Way.of(table, fed.live().getOrDefault(table, new BitSet[0]), counts);
        int end = flow.flowing(way.steps(), 0);
        List<Lane> children = new ArrayList<>();
        if (end == way.steps().size()) {
            List<Integer> slots = way.passedOn();
            IntUnaryOperator further =
                    slots == null ? fields : slot -> slot < slots.size() ? fields.applyAsInt(slots.get(slot)) : -1;
            for (TablePlan next : children(table, fed.input(), fed.tables())) {
                children.add(lane(next, fed, further));
            }
        }
        Sink sink = fed.has(table) ? sink(table, way, end, fed, fields) : null;
        boolean takesIn =
                sink != null && end < way.steps().size() && way.step(end).isTakenIn();
        Lane lane = new Lane(way, order, 0, end, sink, takesIn, children);
        counted.note(lane);
        return lane;
    }

    private Sink sink(TablePlan table, Way way, int end, Fed fed, IntUnaryOperator fields) {
        int next = end < way.steps().size() && way.step(end) instanceof LimitStep ? end + 1 : end;
        BitSet slots = way.live().isEmpty() ? new BitSet() : way.live().get(next);
        Carried carried = Carried.of(way, next, slots, fed.scan().readsAgain() ? fields : slot -> -1);
        if (carried.placeSlot() >= 0) {
            Late late = new Late(
                    fed.scan(),
                    carried.placeSlot(),
                    carried.fields(),
                    fed.source().schema(),
                    notices,
                    resources);
            lates.put(table, late);
        }
        Step step = end < way.steps().size() && way.step(end).isTakenIn() ? way.step(end) : null;
        Sink sink = sink(way, end, step, null, carried);
        sinks.put(table, sink);
        return sink;
    }

    /** The tables that take their rows from one. */
    private List<TablePlan> children(TablePlan table, TablePlan input, List<TablePlan> fed) {
        List<TablePlan> children = new ArrayList<>();
        for (TablePlan target : fed) {
            TablePlan at = target;
            while (at.from() != null && at.from() != table) {
                at = flow.flows(at.from()) ? at.from() : input;
            }
            if (at.from() == table && !children.contains(at)) {
                children.add(at);
            }
        }
        return children;
    }

    private void tell(Lane lane, long nanos, long held, long spilled) {
        counted.tell(
                resources.watch(),
                lane,
                sink -> Objects.requireNonNull(finished.get(sink)).count(),
                nanos,
                held,
                spilled);
    }

    private UnaryOperator<Batch> operator(Step step, BitSet after, Notices draft) {
        if (step instanceof FilterStep filter) {
            return new FilterStage(filter, draft)::apply;
        }
        if (step instanceof ComputeStep compute) {
            return new ComputeStage(compute, after, draft)::apply;
        }
        MatchStep match = (MatchStep) step;
        Join matching;
        synchronized (matchings) {
            matching = matchings.computeIfAbsent(match, m -> new Join(m, lookUps.apply(m)));
        }
        return new JoinStage(matching, draft, 1)::apply;
    }
}
