package dev.fiesta.engine;

import dev.fiesta.compute.Fault;
import dev.fiesta.operate.Others;
import dev.fiesta.operate.group.GroupStates;
import dev.fiesta.operate.group.Standing;
import dev.fiesta.operate.join.JoinOperator;
import dev.fiesta.problem.DataException;
import dev.fiesta.problem.Interrupted;
import dev.fiesta.problem.Notices;
import dev.fiesta.progress.Explained;
import dev.fiesta.progress.Timing;
import dev.fiesta.progress.Watch;
import dev.fiesta.source.Source;
import dev.fiesta.step.MatchStep;
import dev.fiesta.step.Step;
import dev.fiesta.step.TablePlan;
import dev.fiesta.store.Memory;
import dev.fiesta.store.Ordered;
import dev.fiesta.store.Resources;
import dev.fiesta.store.Rows;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.store.Stored;
import dev.fiesta.stretch.Sharing;
import dev.fiesta.stretch.Together;
import dev.fiesta.total.CrossLayout;
import dev.fiesta.total.Totalling;
import dev.fiesta.total.Worked;
import dev.fiesta.value.Bounds;
import dev.fiesta.value.Column;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * Puts plans to work. An input is read once for all tables that follow from it batch by batch; a table is kept in memory only
 * where a step needs all its rows, or where it is wanted itself.
 */
public final class Engine {
    private final Map<String, Source> inputs;
    private final @Nullable Sharing sharing;
    private final Resources resources;
    private final Notices notices;
    private final Memory memory;
    private final Demand demand = new Demand();
    /** What is being worked on, for when memory ends. */
    private String at = "this run";

    private final Map<TablePlan, Stored> done = new HashMap<>();
    private final Map<TablePlan, Totalling.TotalRows> totals = new HashMap<>();

    private final List<Source.Scan> scans = new ArrayList<>();
    private final Map<TablePlan, Worked> crossed = new HashMap<>();
    private final Flow flow = new Flow();
    private final StepCounts counts = new StepCounts();
    private final Others others = new Others() {
        @Override
        public Stored stored(TablePlan table) {
            return comingBack(() -> Engine.this.stored(table));
        }

        @Override
        public Rows rows(TablePlan table) {
            return comingBack(() -> Engine.this.rows(table));
        }

        /** Works another table out on the way of one, which is being worked on again afterwards. */
        private <T> T comingBack(java.util.function.Supplier<T> other) {
            String before = at;
            T worked = other.get();
            at = before;
            return worked;
        }
    };

    /**
     * @param inputs the sources of inputs by name
     * @param resources what the run may use
     */
    public Engine(Map<String, Source> inputs, Notices notices, Resources resources) {
        this(inputs, notices, resources, null);
    }

    /** @param sharing how inputs are read together with others, or null */
    public Engine(Map<String, Source> inputs, Notices notices, Resources resources, @Nullable Sharing sharing) {
        this.sharing = sharing;
        this.inputs = inputs;
        this.notices = notices;
        this.resources = resources;
        this.memory = resources.memory();
    }

    /**
     * Works tables out.
     *
     * @param tables those wanted, in any order; they may stand on each other
     * @return for each the columns of its visible fields, and its total rows
     * @throws Source.Widened when an input must be read again with wider types
     */
    public Map<TablePlan, Worked> run(List<TablePlan> tables) {
        demand.add(tables);
        try {
            Map<TablePlan, Worked> results = new LinkedHashMap<>();
            boolean inFile = false;
            for (TablePlan table : tables) {
                Stored rows = stored(table);
                Worked laidOut = crossed.get(table);
                Worked worked =
                        laidOut != null ? laidOut : Worked.of(table, rows, totals.get(table), resources.threads());
                if (worked.isInFile()) {
                    inFile = true;
                    worked.closeBy(memory);
                }
                results.put(table, worked);
            }
            if (!inFile) {
                memory.discard();
            }
            return results;
        } catch (Fault e) {
            // Where no call stands at which it could be told: what is worked on is named.
            memory.discard();
            throw new DataException("In " + at + ": " + e.text(), null, 0, null, e.value());
        } catch (RuntimeException e) {
            memory.discard();
            throw Interrupted.orItself(e);
        } catch (OutOfMemoryError e) {
            memory.discard();
            throw Memory.exhausted(e, at);
        } finally {
            scans.forEach(Source.Scan::close);
        }
    }

    /** For inputs the fields that tables read where all of them are shown. */
    public static Map<TablePlan, BitSet> uses(Collection<TablePlan> tables) {
        return Demand.uses(tables);
    }

    /**
     * What a run would do; nothing is read.
     *
     * @param shared whether an input is read together with others
     */
    public Explained explain(List<TablePlan> tables, Predicate<String> shared) {
        demand.add(tables);
        return Explaining.of(demand, this, shared);
    }

    /** What others go through with parts of the rows of an input that they have read, by table. */
    Map<TablePlan, PartSteps> inParts(TablePlan input) {
        Source source = Objects.requireNonNull(inputs.get(input.name()));
        Map<TablePlan, PartSteps> all = new HashMap<>();
        List<TablePlan> fed = fedBy(input);
        try (Source.Scan scan = source.scan(new Notices())) {
            Lanes lanes = new Lanes(flow, counts, new Notices(), resources, Sink.Use.HERE, 1);
            lanes.of(new Fed(source, scan, input, fed, demand.live()));
            for (TablePlan table : fed) {
                if (lanes.sink(table) instanceof PartedRows parted) {
                    all.put(table, parted.steps());
                }
            }
        }
        return all;
    }

    /** Whether all rows of a table are held: it is wanted, looked up, or a step of a table over it needs them all. */
    boolean isKept(TablePlan table) {
        return demand.isKept(table) || demand.tables().stream().anyMatch(t -> t.from() == table && !comesFromInput(t));
    }

    /** Whether rows flow from an input into a table batch by batch. */
    boolean comesFromInput(TablePlan table) {
        return base(table).isInput();
    }

    /** What is known of the groups of rows that flow straight from an input into a table. */
    List<Bounds.Known> groups(TablePlan table) {
        TablePlan from = table.from();
        Source source = from != null && from.isInput() ? inputs.get(from.name()) : null;
        return source == null ? List.of() : source.groups();
    }

    /** How often an input is read: twice where tables over it look up others over it. */
    int readings(TablePlan input) {
        boolean again = demand.tables().stream()
                .filter(t -> !t.isInput() && base(t) == input)
                .flatMap(t -> lookUpsOnTheWay(t, input).stream())
                .anyMatch(match -> dependsOn(match.table(), input));
        return again ? 2 : 1;
    }

    /** Which steps work batch by batch. */
    Flow flow() {
        return flow;
    }

    /** How many rows the steps of all tables that were worked out left. */
    public StepCounts counts() {
        return counts;
    }

    /** What the steps did. */
    public List<Timing> timings() {
        return resources.watch().timings();
    }

    /** The rows of a table by visible field, in memory. */
    private Rows rows(TablePlan table) {
        Rows rows = stored(table).load();
        done.put(table, rows);
        return rows;
    }

    /** The rows of a table by visible field. */
    private Stored stored(TablePlan table) {
        Stored known = done.get(table);
        if (known != null) {
            return known;
        }
        TablePlan base = base(table);
        if (!base.isInput()) {
            return fromRows(table);
        }
        int before = done.size();
        readInput(base);
        if (done.size() == before) {
            throw new IllegalStateException("reading " + base.name() + " worked nothing out");
        }
        return stored(
                table); // a look-up on the way may have turned out too large to be made batch by batch: rows flow from
        // it then
    }

    /** The input or kept table from which rows flow into this one batch by batch. */
    TablePlan base(TablePlan table) {
        TablePlan at = table;
        while (at.from() != null && (at == table || (flow.flows(at) && !done.containsKey(at)))) {
            at = at.from();
        }
        return at;
    }

    private Stored fromRows(TablePlan table) {
        TablePlan from = Objects.requireNonNull(table.from());
        demand.keep(from);
        Standing rows = Standing.all(stored(from));
        Stored worked = finish(table, way(table), new Pass.Flown(rows, null, null, -1), 0);
        done.put(table, worked);
        return worked;
    }

    private Way way(TablePlan table) {
        return Way.of(table, demand.live(table), counts);
    }

    /** Runs the steps of a table from one on and leaves its visible fields. */
    private Stored finish(TablePlan table, Way way, Pass.Flown come, int first) {
        StepsRun steps = new StepsRun(others, flow, counts, notices, resources);
        Standing left = steps.run(way, first, way.steps().size(), come.rows(), come.late(), i -> at = at(table, i));
        if (come.deferred() != null) {
            throw come.deferred();
        }
        BitSet fields = demand.fields(table);
        Stored all = left.rows();
        if (table.crossing() != null) {
            CrossLayout layout = new CrossLayout(table.crossing(), all, left.states(), notices, memory);
            crossed.put(table, layout.run(this::since));
        }
        if (table.totals() != null) {
            all = Totalling.together(table.totals(), all, memory);
            GroupStates states = Objects.requireNonNull(left.states());
            totals.put(table, new Totalling(table, table.totals(), all, states).run());
        }
        if (all instanceof SpilledRows file) {
            return file.project(table.passedOn(), fields);
        }
        return all instanceof Ordered ordered
                ? ordered.with(rows -> visible(table, rows, fields))
                : visible(table, all.load(), fields);
    }

    /** Rows of a cross-tabulation after steps from one to before another, of which nobody is told. */
    private Stored since(List<Step> all, int first, int end, Stored rows, BitSet slots) {
        BitSet[] live = new BitSet[all.size() + 1];
        Arrays.fill(live, slots);
        Way way = Way.of(all, live);
        Resources unseen = new Resources(resources.threads(), memory, new Watch(progress -> {}));
        return new StepsRun(others, flow, counts, notices, unseen)
                .run(way, way.before(first), way.before(end), Standing.all(rows), null, i -> {})
                .rows();
    }

    /** The clause that a step belongs to, as it is written. */
    private static String at(TablePlan table, int step) {
        return "table '" + table.shownName() + "': "
                + table.written().stream()
                        .filter(w -> w.steps() > step)
                        .findFirst()
                        .map(w -> w.text())
                        .orElse(table.steps().get(step).word());
    }

    private static Rows visible(TablePlan table, Rows rows, BitSet fields) {
        List<Integer> passedOn = table.passedOn();
        @Nullable Column[] visible = new Column[passedOn.size()];
        for (int i = 0; i < visible.length; i++) {
            visible[i] = fields.get(i) ? rows.column(passedOn.get(i)) : null;
        }
        return new Rows(rows.size(), visible);
    }

    /** Reads an input once for every table that needs it and whose look-ups are known; those left read it again. */
    private void readInput(TablePlan input) {
        for (TablePlan table : fedBy(input)) {
            for (MatchStep match : lookUpsOnTheWay(table, input)) {
                if (!dependsOn(match.table(), input) && JoinOperator.isLarge(match, stored(match.table()), memory)) {
                    flow.hold(match);
                }
            }
        }
        List<TablePlan> fed = fedBy(input);
        List<TablePlan> ready = fed.stream()
                .filter(t -> !done.containsKey(t)
                        && lookUpsOnTheWay(t, input).stream().allMatch(m -> done.containsKey(m.table())))
                .toList();
        Source source = Objects.requireNonNull(inputs.get(input.name()));
        at = "reading " + input.shownName() + " into "
                + ready.stream().map(TablePlan::shownName).distinct().collect(Collectors.joining(", "));
        Pass pass = new Pass(flow, others::lookedUp, counts, notices, resources);
        Source.Scan scan = source.scan(notices);
        scans.add(scan);
        Together together = sharing == null ? null : sharing.together(source, scan, resources.threads());
        SharedReading shared =
                together == null ? null : new SharedReading(together, demand.asked(input, ready, flow), others, memory);
        Map<TablePlan, Pass.Flown> flown = pass.read(new Fed(source, scan, input, ready, demand.live()), shared);
        flown.forEach((table, come) -> {
            Way way = way(table);
            int first = come.resumesAt() >= 0 ? come.resumesAt() : flow.resumesAt(way.steps(), 0);
            done.put(table, finish(table, way, come, first));
        });
        for (TablePlan table : fed) {
            if (!done.containsKey(table)) {
                stored(table);
            }
        }
    }

    /** Whether a table that is not worked out yet needs this input, directly or by what it stands on or looks up. */
    private boolean dependsOn(TablePlan table, TablePlan input) {
        Set<TablePlan> met = new HashSet<>(Set.of(table));
        ArrayDeque<TablePlan> open = new ArrayDeque<>(met);
        while (!open.isEmpty()) {
            TablePlan next = open.remove();
            if (!done.containsKey(next)) {
                if (next == input) {
                    return true;
                }
                next.uses().stream().filter(met::add).forEach(open::add);
            }
        }
        return false;
    }

    /** The tables that are not worked out yet and take their rows from an input batch by batch, as far as they do. */
    private List<TablePlan> fedBy(TablePlan input) {
        return demand.tables().stream()
                .filter(t -> !done.containsKey(t) && base(t) == input && (demand.isKept(t) || !flow.flows(t)))
                .toList();
    }

    /** The look-ups that work batch by batch between an input and a table. */
    private List<MatchStep> lookUpsOnTheWay(TablePlan table, TablePlan input) {
        List<MatchStep> matches = new ArrayList<>();
        for (TablePlan at = table; at != input && at.from() != null; at = at.from()) {
            for (Step step : at.steps().subList(0, flow.flowing(at.steps(), 0))) {
                if (step instanceof MatchStep match) {
                    matches.add(match);
                }
            }
        }
        return matches;
    }
}
