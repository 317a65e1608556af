package dev.fiesta;

import dev.fiesta.brief.Inputs;
import dev.fiesta.brief.Placed;
import dev.fiesta.engine.Engine;
import dev.fiesta.language.BriefTree;
import dev.fiesta.plan.ParameterValues;
import dev.fiesta.plan.Parameters;
import dev.fiesta.plan.Planner;
import dev.fiesta.problem.Names;
import dev.fiesta.problem.Notices;
import dev.fiesta.problem.RequestException;
import dev.fiesta.progress.Explained;
import dev.fiesta.source.Aside;
import dev.fiesta.source.Asked;
import dev.fiesta.source.files.Paths;
import dev.fiesta.step.TablePlan;
import dev.fiesta.store.Resources;
import dev.fiesta.task.PlanText;
import dev.fiesta.total.Worked;
import dev.fiesta.trace.Planned;
import dev.fiesta.trace.Question;
import dev.fiesta.value.Schema;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.function.BiFunction;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;

/**
 * The tables of a brief, checked and ready to run. It is long because it answers for all that a brief tells: tables, parameters, inputs.
 *
 * <pre>{@code
 * Tables tables = fiesta.tables(brief, folder, Map.of("site", "Quay"));
 * Map<String, Result> results = tables.run(tables.outputs());
 * }</pre>
 */
public final class Tables {
    private final Fiesta fiesta;
    private final List<BriefTree> briefs;
    private final Parameters parameters;
    private final Inputs inputs;
    private final String apart;
    private Map<String, TablePlan> plans = Map.of();
    private int planned = -1;

    /** @param rows inputs that do not come from what the briefs say, by name */
    Tables(Fiesta fiesta, List<Placed> placed, Map<String, ?> given, Map<String, Table> rows) {
        this.fiesta = fiesta;
        this.briefs = placed.stream().map(Placed::brief).toList();
        this.parameters = ParameterValues.of(briefs, given, fiesta.functionsDefined());
        Map<String, Inputs.Handed> handed = new LinkedHashMap<>();
        rows.forEach((name, table) -> handed.put(name, table.handed()));
        this.inputs = Inputs.open(fiesta.access(), placed, this::fill, parameters, handed);
        this.apart = "";
        plans();
    }

    private Tables(Tables like, Map<String, ?> given, String apart) {
        this.fiesta = like.fiesta;
        this.briefs = like.briefs;
        this.parameters = ParameterValues.of(briefs, given, fiesta.functionsDefined());
        this.inputs = like.inputs;
        this.apart = apart;
        plans();
    }

    /**
     * The same tables with other values for parameters, over the same inputs; what {@link #runTogether} works out then reads
     * those once. Parameters in paths of inputs keep the values they had.
     *
     * @param given values by name
     * @param number tells the tables apart from others made so
     * @return the tables, ready to run
     */
    public Tables with(Map<String, ?> given, int number) {
        return new Tables(this, given, TablePlan.HIDDEN + "part " + number);
    }

    Map<String, TablePlan> plans() {
        if (planned != inputs.version()) {
            plans = Planner.plan(briefs, parameters, inputs.plans(), apart);
            planned = inputs.version();
        }
        return plans;
    }

    /**
     * {@return a text with parameters in braces, {@code {:from_day}}, filled in}
     *
     * @param text perhaps with such places
     */
    public String fill(String text) {
        return fill(text, UnaryOperator.identity());
    }

    /**
     * As {@link #fill(String)}, each value changed before it is filled in.
     *
     * @param text perhaps with such places
     * @param change what is done to each value
     * @return the text, filled
     */
    public String fill(String text, UnaryOperator<String> change) {
        return dev.fiesta.language.Braces.fill(text, inner -> {
            Parameters.@Nullable Value value =
                    inner.startsWith(":") ? parameters.values().get(inner.substring(1)) : null;
            if (value == null) {
                return null;
            }
            List<Object> items = value.items() == null ? List.of() : value.items();
            return change.apply(String.join(
                    ", ", items.stream().map(dev.fiesta.value.Texts::of).toList()));
        });
    }

    /** {@return the tables, in the order of the brief; inputs are none} */
    public List<String> names() {
        return plans().values().stream()
                .filter(p -> !p.isInput())
                .map(TablePlan::shownName)
                .toList();
    }

    /** The tables of the brief itself, without those of the briefs it uses. */
    private List<String> own() {
        return briefs.get(briefs.size() - 1).tables().stream()
                .map(t -> t.name().name())
                .toList();
    }

    /** {@return the tables that no other table uses} */
    public List<String> unused() {
        Set<String> used = new LinkedHashSet<>();
        plans().values().forEach(p -> p.uses().forEach(other -> used.add(other.shownName())));
        return own().stream().filter(n -> !used.contains(n)).toList();
    }

    /** {@return the tables that data formats write: all but tables of ungrouped records that another table uses} */
    public List<String> outputs() {
        List<String> unused = unused();
        return own().stream()
                .filter(n -> unused.contains(n) || plan(n).levels().isGroups())
                .toList();
    }

    /**
     * A small line beside each row of a table: a figure of another table along its periods.
     *
     * @param table the other table
     * @param along the field that it runs along
     * @param keys of both tables: rows that are equal in them belong together
     * @param title as written, or null
     * @param place how many columns of the table's view stand before it
     */
    public record Course(
            String table,
            String field,
            String along,
            List<String> keys,
            @Nullable String title,
            int place) {}

    /**
     * {@return the small lines beside the rows of a table}
     *
     * @param table the name of the table
     */
    public List<Course> courses(String table) {
        return plan(table).courses().stream()
                .map(c -> new Course(c.table(), c.field(), c.along(), c.keys(), c.title(), c.place()))
                .toList();
    }

    /**
     * {@return whether the rows of a table are groups}
     *
     * @param table the name of the table
     */
    public boolean isGrouped(String table) {
        return plan(table).levels().isGroups();
    }

    /** {@return the names of the parameters, with or without a value} */
    public Set<String> parameterNames() {
        return parameters.values().keySet();
    }

    /**
     * {@return the fields of a table}
     *
     * @param table the name of the table
     */
    public Schema schema(String table) {
        return plan(table).schema();
    }

    TablePlan plan(@Nullable String asked) {
        String table = Given.needed(asked, "the name of a table");
        TablePlan plan = plans().get(table);
        if (plan == null) {
            throw new RequestException(
                    "there is no table '" + table + "'. " + Names.didYouMean(table, plans().keySet(), "There are"));
        }
        return plan;
    }

    /**
     * Works tables out, each once.
     *
     * @param wanted names of tables
     * @return their results in that order
     */
    public Map<String, Result> run(List<String> wanted) {
        return runCounted(wanted).results();
    }

    /**
     * What a run of several tables did.
     *
     * @param results the tables wanted
     * @param rows for every table worked out the rows behind each of its clauses
     * @param records for every input read the number of its records, as far as they were read
     * @param asides for every input that sets records aside those that were
     */
    public record Outcome(
            Map<String, Result> results,
            Map<String, List<ClauseRows>> rows,
            Map<String, Long> records,
            Map<String, Aside> asides) {}

    /**
     * As {@link #run}, with what was counted on the way.
     *
     * @param wanted the names of tables
     * @return what the run did
     */
    public Outcome runCounted(List<String> wanted) {
        return runCounted(wanted, RunOptions.usual());
    }

    /**
     * As {@link #runCounted(List)}, with a timeout, a cancellation or a listener of its own.
     *
     * @param wanted the names of tables
     * @param options of this run
     * @return what the run did
     */
    public Outcome runCounted(List<String> wanted, RunOptions options) {
        Given.needed(wanted, "a list of tables");
        return runTogether(List.of(this), wanted, options).get(0);
    }

    /**
     * Works the same tables out for several values of parameters, reading every input once.
     *
     * @param all tables that share their inputs, see {@link #with}
     * @param wanted the names of tables
     * @return for each what its run did; what was counted is counted for all together
     */
    public static List<Outcome> runTogether(List<Tables> all, List<String> wanted) {
        return runTogether(all, wanted, RunOptions.usual());
    }

    private static List<Outcome> runTogether(List<Tables> all, List<String> wanted, RunOptions options) {
        Tables first = all.get(0);
        synchronized (first) {
            return first.widening(options, (notices, resources) -> {
                List<TablePlan> targets = new ArrayList<>();
                all.forEach(t -> wanted.forEach(n -> targets.add(t.plan(n))));
                Crewed crewed = Crewed.of(first.fiesta, first.inputs.sources(), notices, resources);
                return crewed.work(() -> text(all, wanted), engine -> {
                    Map<TablePlan, Worked> worked = engine.run(targets);
                    first.inputs.tellOrder(targets, notices);
                    return all.stream()
                            .map(t -> t.outcome(wanted, worked, notices, engine))
                            .toList();
                });
            });
        }
    }

    /** Tables of several as others may plan them. */
    private static PlanText.OfBriefs text(List<Tables> all, List<String> wanted) {
        List<PlanText.OfBriefs.Part> parts = all.stream()
                .map(t -> new PlanText.OfBriefs.Part(t.apart, t.parameters.values()))
                .toList();
        List<PlanText.OfBriefs.Wanted> targets = new ArrayList<>();
        for (int part = 0; part < parts.size(); part++) {
            for (String table : wanted) {
                targets.add(new PlanText.OfBriefs.Wanted(part, table));
            }
        }
        return new PlanText.OfBriefs(
                all.get(0).briefs.stream().map(BriefTree::source).toList(), parts, targets);
    }

    private Outcome outcome(List<String> wanted, Map<TablePlan, Worked> worked, Notices notices, Engine engine) {
        List<TablePlan> targets = wanted.stream().map(this::plan).toList();
        Map<String, Result> results = new LinkedHashMap<>();
        for (TablePlan plan : targets) {
            results.put(plan.shownName(), Result.of(plan, worked(worked, plan), notices, engine.timings()));
        }
        Set<TablePlan> used = TablePlan.standsOn(targets);
        Map<String, List<ClauseRows>> rows = new LinkedHashMap<>();
        Map<String, Long> records = new LinkedHashMap<>();
        for (TablePlan plan : plans().values()) {
            long count = engine.counts().behind(plan, plan.steps().size());
            if (plan.isInput() && count >= 0) {
                records.put(plan.shownName(), count);
            } else if (!plan.isInput() && used.contains(plan)) {
                rows.put(plan.shownName(), ClauseRows.of(plan, engine.counts()));
            }
        }
        return new Outcome(results, rows, records, Map.copyOf(inputs.asides()));
    }

    static Worked worked(Map<TablePlan, Worked> all, TablePlan plan) {
        return Objects.requireNonNull(all.get(plan), plan.name());
    }

    /**
     * {@return what working tables out would do: nothing is read but headers and types}
     *
     * @param wanted the names of tables
     */
    public synchronized Explained explain(List<String> wanted) {
        List<TablePlan> targets = wanted.stream().map(this::plan).toList();
        return Crewed.of(fiesta, inputs.sources(), new Notices(), fiesta.resources())
                .explain(targets);
    }

    /**
     * {@return in how many parts the crew would read an input; 0 where it is read here alone}
     *
     * @param input its name
     */
    public synchronized int parts(String input) {
        if (!inputs.sources().containsKey(input)) {
            throw new RequestException("there is no input '" + input + "'. "
                    + Names.didYouMean(input, inputs.sources().keySet(), "There are"));
        }
        return Crewed.of(fiesta, inputs.sources(), new Notices(), fiesta.resources())
                .parts(input);
    }

    /** {@return the values of parameters, each as data files write it; those without a value are left out} */
    public Map<String, List<String>> parameterValues() {
        Map<String, List<String>> values = new LinkedHashMap<>();
        for (String name : parameters().keySet()) {
            List<Object> items =
                    Objects.requireNonNull(parameters.values().get(name)).items();
            values.put(
                    name,
                    Objects.requireNonNull(items).stream()
                            .map(dev.fiesta.value.Texts::of)
                            .toList());
        }
        return values;
    }

    /**
     * {@return the values of a parameter, one or those of its list; null where there is no such parameter or it has none}
     *
     * @param name its name
     */
    public @Nullable List<Object> parameterItems(String name) {
        Parameters.@Nullable Value value = parameters.values().get(name);
        return value == null ? null : value.items();
    }

    /**
     * {@return whether a parameter holds a list}
     *
     * @param parameter the name of the parameter
     */
    public boolean isList(String parameter) {
        return Objects.requireNonNull(parameters.values().get(parameter)).list();
    }

    /** {@return the values of parameters as texts; those without a value are left out} */
    public Map<String, String> parameters() {
        Map<String, String> values = new LinkedHashMap<>();
        for (BriefTree brief : briefs) {
            for (BriefTree.ParameterDef def : brief.parameters()) {
                String name = def.name().name();
                Parameters.Value value = parameters.values().get(name);
                if (value != null && value.items() != null) {
                    values.put(name, fill("{:" + name + "}"));
                }
            }
        }
        return values;
    }

    /** {@return the files of each input, with the names under which the brief knows them} */
    public Map<String, List<Paths.Named>> files() {
        return inputs.files();
    }

    /**
     * {@return what tells whether a file is the one it was, as records of runs have it; a crew reads a large one}
     *
     * @param file of an input
     * @throws dev.fiesta.problem.MachineException when it cannot be read
     */
    public String sum(Paths.Named file) {
        return SharedSum.of(fiesta.crew(), file);
    }

    /** {@return what tells whether files are the ones they were, for each input that was read from a copy of them, by their names} */
    public Map<String, Map<String, String>> copied() {
        Map<String, Map<String, String>> copied = new LinkedHashMap<>();
        inputs.sources().forEach((name, source) -> {
            if (!source.sums().isEmpty()) {
                copied.put(name, source.sums());
            }
        });
        return copied;
    }

    /** {@return the queries that inputs were read by} */
    public Map<String, Asked> queries() {
        return inputs.asked();
    }

    /** {@return the fields of each input with the types that are used} */
    public Map<String, Schema> inputs() {
        return inputs.schemas();
    }

    /** {@return looks behind these tables: at their clauses one by one, and back to their records} */
    public Trace trace() {
        return new Trace(this);
    }

    /** What more is planned from. */
    Planned planned() {
        return new Planned(briefs, parameters, plans());
    }

    /** Answers a question about these tables. */
    interface Answering<T> {
        /** @param plans the tables that answer it, for the engine to work out */
        T of(List<TablePlan> plans, Engine engine, Notices notices);
    }

    /** Has a question answered; where an input turns out to need wider types, again with those. */
    synchronized <T> T answer(Question question, Answering<T> work) {
        return widening(
                RunOptions.usual(),
                (notices, resources) -> Crewed.of(fiesta, inputs.sources(), notices, resources)
                        .work(
                                () -> new PlanText.OfQuestion(text(List.of(this), List.of()), question),
                                engine -> work.of(question.plans(planned()), engine, notices)));
    }

    /** Works something out; where an input turns out to need wider types, again with those. */
    private <T> T widening(RunOptions options, BiFunction<Notices, Resources, T> work) {
        Run.Ground ground = new Run.Ground(inputs::refresh, inputs::widen, inputs::refuseChange);
        return Run.of(fiesta, options, ground, (notices, resources) -> {
            inputs.judge(Engine.uses(plans().values()));
            T done = work.apply(notices, resources);
            inputs.tellAsides(notices);
            return done;
        });
    }
}
