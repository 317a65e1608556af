package dev.fiesta.engine;

import dev.fiesta.plan.Step;
import dev.fiesta.plan.TablePlan;
import dev.fiesta.problem.DataException;
import dev.fiesta.problem.Interrupted;
import dev.fiesta.problem.Notices;
import dev.fiesta.progress.Timing;
import dev.fiesta.progress.Watch;
import dev.fiesta.source.Source;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.atomic.LongAdder;
import java.util.function.Function;
import java.util.function.UnaryOperator;

/**
 * One reading of an input by several workers: each takes batches, runs them through the steps that work batch by batch, and
 * hands them to the tables fed. Of several failures the one earliest in the input is told.
 */
final class Pass {
    private final Source source;
    private final TablePlan input;
    private final List<TablePlan> fed;
    private final Map<TablePlan, BitSet[]> live;
    private final Flow flow;
    private final Function<Step.Match, Rows> lookUps;
    private final Notices notices;
    private final Resources resources;
    private final Memory memory;
    private final TextsMet texts;
    private final LongAdder read = new LongAdder();
    private final Map<Place, long[]> counted = new LinkedHashMap<>();
    private final Map<TablePlan, Sink> sinks = new LinkedHashMap<>();
    private final Map<Step.Match, Matching> matchings = new IdentityHashMap<>();
    private final EarliestFailure failures = new EarliestFailure();

    /** One of a table's steps. */
    private record Place(TablePlan table, int number) {
        Step step() {
            return table.steps().get(number);
        }

        /** Tables have names of their own, and hashing their steps would take long. */
        @Override
        public int hashCode() {
            return table.name().hashCode() * 31 + number;
        }

        @Override
        public boolean equals(@org.jspecify.annotations.Nullable Object other) {
            return other instanceof Place place && place.table == table && place.number == number;
        }
    }

    /** @param fed the tables to feed: up to their first step that needs all rows */
    Pass(
            Source source,
            TablePlan input,
            List<TablePlan> fed,
            Map<TablePlan, BitSet[]> live,
            Flow flow,
            Function<Step.Match, Rows> lookUps,
            Notices notices,
            Resources resources) {
        this.source = source;
        this.input = input;
        this.fed = fed;
        this.live = live;
        this.flow = flow;
        this.lookUps = lookUps;
        this.notices = notices;
        this.resources = resources;
        this.memory = resources.memory();
        BitSet[] slots = live.get(input);
        this.texts = new TextsMet(input, live.keySet(), slots == null ? new BitSet() : slots[0]);
    }

    /** The rows of each table fed, before its first step that needs all; groups and first rows are taken in on the way. */
    Map<TablePlan, Stored> run() {
        long start = System.nanoTime();
        long spilled = memory.spilled();
        memory.startPeak();
        Source.Scan scan = source.scan(notices);
        resources.watch().phase("reading " + input.shownName(), 0, scan::share);
        try (scan) {
            for (TablePlan table : fed) {
                sinks.put(table, sink(table, scan));
            }
            work(scan);
        }
        failures.rethrow();
        if (sinks.values().stream().noneMatch(Sink::stopsReading)) {
            texts.tell(notices);
        }
        if (sinks.values().stream().anyMatch(Sink::isEmpty)) {
            stage(input).accept(nothing());
        }
        matchings.values().forEach(Matching::refuse);
        Map<TablePlan, Stored> rows = new LinkedHashMap<>();
        sinks.forEach((table, sink) -> rows.put(table, finished(table, sink)));
        time(System.nanoTime() - start, memory.spilled() - spilled);
        return rows;
    }

    private Stored finished(TablePlan table, Sink sink) {
        Stored rows = sink.finish();
        int first = flow.flowing(table.steps());
        long[] grouped = flow.resumesAt(table) > first ? counted.get(new Place(table, first)) : null;
        if (grouped != null) {
            grouped[1] = rows.rows();
        }
        return rows;
    }

    private void time(long nanos, long written) {
        Watch watch = resources.watch();
        watch.add(new Timing(input.name(), -1, "read", read.sum(), read.sum(), nanos, memory.peak(), written));
        counted.forEach((place, rows) -> watch.add(new Timing(
                place.table().name(), place.number(), StepName.of(place.step()), rows[0], rows[1], 0, 0, 0)));
    }

    /** A batch without rows, so that tables without rows get columns of the right types all the same. */
    private Batch nothing() {
        List<Column> typed = new ArrayList<>();
        source.schema().fields().forEach(f -> typed.add(Column.missing(f.type(), 0)));
        typed.add(Column.missing(Type.TEXT, 0));
        typed.add(Column.missing(Type.INTEGER, 0));
        Column[] columns = typed.toArray(Column[]::new);
        return Batch.of(0, columns, Long.MAX_VALUE >> 24);
    }

    private Sink sink(TablePlan table, Source.Scan scan) {
        int first = flow.flowing(table.steps());
        BitSet[] slots = java.util.Objects.requireNonNull(live.get(table));
        if (first < table.steps().size()) {
            Step step = table.steps().get(first);
            if (step instanceof Step.Group group && Flow.isTakenIn(step)) {
                return new Sink.Groups(group, notices, memory, resources.threads());
            }
            if (step instanceof Step.Limit limit) {
                return new Sink.Collected(
                        slots[first], limit.count(), limit.ends() && fed.size() == 1 ? scan : null, memory);
            }
        }
        return new Sink.Collected(slots[first], Long.MAX_VALUE, null, memory);
    }

    private void work(Source.Scan scan) {
        Workers.run(resources.threads(), () -> worker(scan), () -> {
            scan.stop(0);
            failures.met(0, new Interrupted());
        });
    }

    private void worker(Source.Scan scan) {
        Source.Reader reader = scan.reader();
        Batch batch = null;
        try {
            Stage met = texts.worker();
            Stage stage = stage(input);
            for (batch = reader.next(); batch != null; batch = reader.next()) {
                int size = batch.size();
                met.accept(batch);
                stage.accept(batch);
                batch = null;
                read.add(size);
                resources.watch().rows(size);
                reader.finish();
                if (Thread.currentThread().isInterrupted()) {
                    throw new Interrupted();
                }
            }
        } catch (DataException e) {
            scan.stop(reader.sequence());
            failures.met(reader.sequence(), batch == null ? e : earliest(batch, e));
        } catch (RuntimeException e) {
            scan.stop(reader.sequence());
            failures.met(reader.sequence(), e);
        } catch (Error e) {
            scan.stop(0);
            failures.met(e);
        }
    }

    /** Of several faults in one batch that of the earliest row: the shortest beginning of the batch that fails tells it. */
    private DataException earliest(Batch batch, DataException found) {
        DataException first = found;
        int sound = 0;
        int failing = batch.size();
        while (failing - sound > 1) {
            int middle = (sound + failing) >>> 1;
            try {
                stage(input).accept(batch.head(middle));
                sound = middle;
            } catch (DataException earlier) {
                failing = middle;
                first = earlier;
            }
        }
        return first;
    }

    /** What becomes of the visible rows of a table, for one worker. */
    private Stage stage(TablePlan table) {
        List<Stage> ways = new ArrayList<>();
        if (table == input && sinks.containsKey(input)) {
            ways.add(sinks.get(input).worker());
        }
        for (TablePlan next : children(table)) {
            ways.add(steps(next));
        }
        return batch -> ways.forEach(way -> way.accept(batch));
    }

    /** The tables that take their rows from this one in this pass. */
    private List<TablePlan> children(TablePlan table) {
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

    private Stage steps(TablePlan table) {
        int count = flow.flowing(table.steps());
        BitSet[] slots = java.util.Objects.requireNonNull(live.get(table));
        List<UnaryOperator<Batch>> run = new ArrayList<>();
        List<Step> steps = table.steps().subList(0, count);
        for (int i = 0; i < count; i++) {
            noteFlow(new Place(table, i));
            run.add(operator(steps.get(i), slots[i + 1]));
        }
        Sink sink = sinks.get(table);
        boolean takesIn = flow.resumesAt(table) > count;
        if (takesIn) {
            noteFlow(new Place(table, count));
        }
        Stage end = sink == null ? null : sink.worker();
        boolean passesOn = count == table.steps().size() && !children(table).isEmpty();
        Stage further = passesOn ? stage(table) : null;
        return batch -> {
            Batch rows = batch;
            for (int i = 0; i < run.size(); i++) {
                int before = rows.size();
                rows = run.get(i).apply(rows);
                count(new Place(table, i), before, rows.size());
                if (rows.size() == 0 && batch.size() > 0) {
                    return;
                }
            }
            if (end != null) {
                end.accept(rows);
                if (takesIn) {
                    count(new Place(table, count), rows.size(), 0);
                }
            }
            if (further != null) {
                further.accept(rows.project(table.passedOn()));
            }
        };
    }

    private void noteFlow(Place step) {
        synchronized (counted) {
            counted.putIfAbsent(step, new long[2]);
        }
    }

    private void count(Place step, long in, long out) {
        synchronized (counted) {
            long[] rows = java.util.Objects.requireNonNull(counted.get(step));
            rows[0] += in;
            rows[1] += out;
        }
    }

    private UnaryOperator<Batch> operator(Step step, BitSet after) {
        if (step instanceof Step.Filter filter) {
            return new FilterStage(filter, notices)::apply;
        }
        if (step instanceof Step.Compute compute) {
            return new ComputeStage(compute, after, notices)::apply;
        }
        Step.Match match = (Step.Match) step;
        Matching matching;
        synchronized (matchings) {
            matching = matchings.computeIfAbsent(match, m -> new Matching(m, lookUps.apply(m)));
        }
        return new MatchStage(matching, notices, 1)::apply;
    }
}
