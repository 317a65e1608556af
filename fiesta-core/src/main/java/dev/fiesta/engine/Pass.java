package dev.fiesta.engine;

import dev.fiesta.operate.group.Standing;
import dev.fiesta.operate.join.Join;
import dev.fiesta.operate.steps.Stages;
import dev.fiesta.problem.Interrupted;
import dev.fiesta.problem.Notices;
import dev.fiesta.progress.Timing;
import dev.fiesta.progress.Watch;
import dev.fiesta.source.Portable;
import dev.fiesta.source.Source;
import dev.fiesta.step.GroupStep;
import dev.fiesta.step.MatchStep;
import dev.fiesta.step.Step;
import dev.fiesta.step.TablePlan;
import dev.fiesta.store.Memory;
import dev.fiesta.store.Resources;
import dev.fiesta.store.Rows;
import dev.fiesta.store.Stored;
import dev.fiesta.store.StoredScan;
import dev.fiesta.value.Batch;
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
import org.jspecify.annotations.Nullable;

/**
 * One reading by several workers: of an input for all tables that follow from it batch by batch, or of rows that stand somewhere
 * for the further steps of a table. Each worker takes batches, runs them through the steps and hands them to what takes rows in.
 * Of several failures the one of the least place is told; what stands behind the last row that is wanted does not count.
 */
final class Pass {
    /** Rows that are worked on together where several are made of each. */
    private static final int MOST_ROWS = 1 << 16;

    private final Flow flow;
    private final Function<MatchStep, Rows> lookUps;
    private final StepCounts counts;
    private final Notices notices;
    private final Resources resources;
    private final Memory memory;
    private final LongAdder read = new LongAdder();
    private final LaneCounts counted = new LaneCounts();
    private final Map<Sink, Standing> finished = new IdentityHashMap<>();
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
     * @param others read it together with this, or null
     * @return the rows of each table that is fed
     */
    Map<TablePlan, Flown> read(Fed fed, @Nullable SharedReading others) {
        try (others) {
            return flown(fed, others);
        }
    }

    /** Another one, which shares nothing with this but what is looked up. */
    private Pass with(Resources own) {
        return new Pass(flow, lookUps, new StepCounts(), new Notices(), own);
    }

    private Map<TablePlan, Flown> flown(Fed fed, @Nullable SharedReading others) {
        long start = System.nanoTime();
        long spilled = memory.spilled();
        memory.startPeak();
        Source.Scan scan = fed.scan();
        TablePlan input = fed.input();
        int parts = others == null ? 0 : others.together().parts();
        Lanes lanes = new Lanes(flow, counts, notices, resources, Sink.Use.HERE, parts);
        Lane root = noted(lanes.of(fed));
        TextsMet texts = fed.texts();
        String phase = "reading " + input.shownName();
        resources.watch().phase(phase, 0, scan::share);
        if (others == null) {
            workers(scan, root, texts);
        } else {
            others.read(
                    new PassParts(this, root, texts, (Portable) fed.source()),
                    () -> SampledBounds.of(root, fed, parts, resources, this::with),
                    readers -> resources.watch().phase(phase + " by " + readers, 0, others.together()::share));
        }
        end(scan, root, fed.nothing());
        if (!enough) {
            texts.tell(notices);
        }
        Map<TablePlan, Flown> flown = new LinkedHashMap<>();
        for (TablePlan table : fed.tables()) {
            Sink sink = lanes.sink(table);
            Standing rows = finished(sink);
            flown.put(table, new Flown(rows, lanes.late(table), sink.deferred(), sink.resumesAt()));
        }
        List<Timing> further = fed.tables().stream()
                .flatMap(t -> lanes.sink(t).timings().stream())
                .toList();
        long took = System.nanoTime()
                - start
                - further.stream().mapToLong(Timing::nanos).sum();
        long written = memory.spilled() - spilled;
        Watch watch = resources.watch();
        watch.add(new Timing(input.name(), -1, "read", read.sum(), read.sum(), took, memory.peak(), written));
        counts.read(input, read.sum());
        tell(root, 0, 0, 0);
        further.forEach(watch::add);
        return flown;
    }

    /** Rows are counted for a lane, and for those behind it. */
    private Lane noted(Lane lane) {
        List<Lane> all = new ArrayList<>();
        lane.addTo(all);
        all.forEach(counted::note);
        return lane;
    }

    /**
     * The parts of a reading for somebody else, who is handed all that it takes in.
     *
     * @param parts into how many parts rows are put that others go on with
     */
    PassParts handedOver(Fed fed, int parts) {
        Lanes lanes = new Lanes(flow, counts, notices, resources, Sink.Use.HANDED_OVER, parts);
        return new PassParts(this, noted(lanes.of(fed)), fed.texts(), (Portable) fed.source());
    }

    /** Whether no row is wanted any more. */
    boolean hasEnough() {
        return enough;
    }

    /** The records that were read and are used. */
    long readRows() {
        return read.sum();
    }

    /** So many more were read elsewhere. */
    void readRows(long more) {
        read.add(more);
        resources.watch().rows(more);
    }

    LaneCounts counted() {
        return counted;
    }

    Notices notices() {
        return notices;
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
        Sink sink = new Lanes(flow, counts, notices, resources, Sink.Use.HERE, 0)
                .sink(
                        way,
                        flowing,
                        last,
                        way.makesOthers(first, flowing) ? null : from,
                        Carried.of(way, end, new BitSet(), slot -> -1));
        Lane lane = noted(new Lane(way, 0, first, flowing, sink, flowing < end, List.of()));
        StoredScan scan = new StoredScan(from);
        resources.watch().phase(way.shownName() + ": " + way.step(end - 1).word(), from.rows(), scan::share);
        try (scan) {
            workers(scan, lane, TextsMet.NONE);
            end(scan, lane, scan.nothing());
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
     * @param resumesAt the step that is left to go on with, where the rows have been through some by now; else -1
     */
    record Flown(
            Standing rows, @Nullable Late late, @Nullable RuntimeException deferred, int resumesAt) {}

    /** Reads what a reading gives out; of several failures that of the least place is thrown. */
    void workers(Source.Scan scan, Lane root, TextsMet texts) {
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
    }

    /** Once all rows are through. */
    private void end(Source.Scan scan, Lane root, Batch nothing) {
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
        return new LaneRun(
                root, reader, notices, settled, (step, after, told) -> Stages.of(step, after, told, this::join));
    }

    private void worker(Source.Scan scan, Lane root, TextsMet texts, InTurn turns, int number) {
        Notices aside = Notices.draft();
        Source.Reader reader = scan.reader(aside);
        try {
            LaneRun run = run(root, reader);
            Consumer<Batch> met = texts.worker();
            int times = root.times(match -> join(match).most());
            int most = times == 1 ? LaneRun.ALL : Math.max(1, MOST_ROWS / times);
            for (Batch batch = reader.next(); batch != null; batch = reader.next()) {
                long piece = reader.sequence();
                int need = LaneRun.ALL;
                for (int from = 0; need == LaneRun.ALL && (from == 0 || from < batch.size()); from += most) {
                    run.run(batch.part(from, Math.min(most, batch.size() - from)));
                    turns.await(number, piece);
                    if (enough) {
                        return;
                    }
                    need = run.settle(piece);
                }
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

    private void tell(Lane lane, long nanos, long held, long spilled) {
        counted.tell(
                resources.watch(),
                lane,
                sink -> Objects.requireNonNull(finished.get(sink)).count(),
                nanos,
                held,
                spilled);
    }

    /** What a look-up has to tell, and what it looks up. */
    Join join(MatchStep match) {
        synchronized (matchings) {
            return matchings.computeIfAbsent(match, m -> new Join(m, lookUps.apply(m)));
        }
    }
}
