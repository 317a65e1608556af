package dev.fiesta.engine;

import dev.fiesta.problem.Notices;
import dev.fiesta.step.GroupStep;
import dev.fiesta.step.LimitStep;
import dev.fiesta.step.Step;
import dev.fiesta.step.TablePlan;
import dev.fiesta.store.Resources;
import dev.fiesta.store.Stored;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.IntUnaryOperator;
import org.jspecify.annotations.Nullable;

/** Lays out the lanes of a reading: the steps that each runs, the tables behind it, and what takes its rows in. */
final class Lanes {
    private final Flow flow;
    private final StepCounts counts;
    private final Notices notices;
    private final Resources resources;
    private final Sink.Use use;
    private final int parts;
    private final Map<TablePlan, Sink> sinks = new LinkedHashMap<>();
    private final Map<TablePlan, Late> lates = new LinkedHashMap<>();
    private int lanes;

    /**
     * @param use what becomes of what is taken in
     * @param parts into how many parts rows are put which a crew has read; 0 where none reads
     */
    Lanes(Flow flow, StepCounts counts, Notices notices, Resources resources, Sink.Use use, int parts) {
        this.parts = parts;
        this.flow = flow;
        this.counts = counts;
        this.notices = notices;
        this.resources = resources;
        this.use = use;
    }

    /** The lane of an input, with those of all tables that are fed. */
    Lane of(Fed fed) {
        int fields = fed.source().schema().size();
        return lane(fed.input(), fed, slot -> slot < fields ? slot : -1);
    }

    /** What takes the rows of a table in. */
    Sink sink(TablePlan table) {
        return Objects.requireNonNull(sinks.get(table));
    }

    /** What of the rows of a table is to be read later. */
    @Nullable
    Late late(TablePlan table) {
        return lates.get(table);
    }

    /**
     * What takes rows in.
     *
     * @param end the first step that does not work batch by batch
     * @param step that one, if it takes rows in
     * @param carried what is not read yet
     */
    Sink sink(Way way, int end, @Nullable Step step, @Nullable Stored from, Carried carried) {
        if (step instanceof GroupStep group) {
            return new Sink.Groups(group, notices, resources.memory(), resources.threads(), use);
        }
        return rows(way, end, step instanceof LimitStep limit ? limit : null, from, carried);
    }

    private RowCollector rows(Way way, int end, @Nullable LimitStep limit, @Nullable Stored from, Carried carried) {
        return new RowCollector(
                wanted(way.live().get(limit == null ? end : end + 1), carried),
                carried,
                limit == null ? way.steps().subList(end, way.steps().size()) : List.of(),
                limit == null ? Long.MAX_VALUE : limit.count(),
                limit != null && limit.ends(),
                from,
                resources.memory(),
                resources.threads());
    }

    private static BitSet wanted(BitSet live, Carried carried) {
        BitSet wanted = (BitSet) live.clone();
        carried.fields().keySet().forEach(wanted::clear);
        if (carried.placeSlot() >= 0) {
            wanted.set(carried.placeSlot());
        }
        return wanted;
    }

    /**
     * The lane of a table, with those of the tables over it that are fed.
     *
     * @param held the field of the source that a slot of the table holds, -1 for none
     */
    private Lane lane(TablePlan table, Fed fed, IntUnaryOperator held) {
        int order = lanes++;
        Way way = Way.of(table, fed.live().getOrDefault(table, new BitSet[0]), counts);
        int end = flow.flowing(way.steps(), 0);
        IntUnaryOperator fields = way.makesNewRows(0, end) ? slot -> -1 : held;
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
        return new Lane(way, order, 0, end, sink, takesIn, children);
    }

    private Sink sink(TablePlan table, Way way, int end, Fed fed, IntUnaryOperator fields) {
        int next = end < way.steps().size() && way.step(end) instanceof LimitStep ? end + 1 : end;
        BitSet slots = way.live().isEmpty() ? new BitSet() : way.live().get(next);
        Carried carried = Carried.of(way, next, slots, fed.scan().readsAgain() ? fields : slot -> -1);
        if (carried.placeSlot() >= 0) {
            Late late = new Late(fed.scan(), carried, fed.source().schema(), notices, resources);
            lates.put(table, late);
        }
        Step step = end < way.steps().size() && way.step(end).isTakenIn() ? way.step(end) : null;
        Exchange exchange = parts > 0 && step == null ? Exchange.of(way, end, carried) : null;
        Sink sink = exchange == null ? sink(way, end, step, null, carried) : parted(way, end, exchange, carried);
        sinks.put(table, sink);
        return sink;
    }

    private PartedRows parted(Way way, int end, Exchange exchange, Carried carried) {
        BitSet wanted = wanted(way.live().get(end), carried);
        PartSteps steps = new PartSteps(exchange, way, carried, wanted);
        return new PartedRows(rows(way, end, null, null, carried), steps, wanted, parts, notices, resources);
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
}
