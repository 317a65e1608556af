package dev.fiesta;

import dev.fiesta.engine.Engine;
import dev.fiesta.engine.Interrupted;
import dev.fiesta.engine.Resources;
import dev.fiesta.engine.Worked;
import dev.fiesta.language.Brief;
import dev.fiesta.language.BriefText;
import dev.fiesta.plan.Parameters;
import dev.fiesta.plan.Planner;
import dev.fiesta.plan.TablePlan;
import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.Names;
import dev.fiesta.problem.Notices;
import dev.fiesta.progress.Explained;
import dev.fiesta.progress.Timing;
import dev.fiesta.source.Paths;
import dev.fiesta.source.Source;
import dev.fiesta.value.Schema;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/**
 * The tables of a brief, checked and ready to run.
 *
 * <pre>{@code
 * Tables tables = fiesta.tables(brief, folder, Map.of("site", "Quay"));
 * Map<String, Result> results = tables.run(tables.outputs());
 * }</pre>
 */
public final class Tables {
    private final Fiesta fiesta;
    private final List<Brief> briefs;
    private final Parameters parameters;
    private final Map<String, List<Paths.Named>> files = new LinkedHashMap<>();
    private Map<String, Source> sources;
    private Map<String, TablePlan> plans;

    /** A brief and the folder where its relative paths start. */
    public record Placed(Brief brief, Path folder) {}

    Tables(Fiesta fiesta, List<Placed> placed, Map<String, ?> given) {
        this.fiesta = fiesta;
        this.briefs = placed.stream().map(Placed::brief).toList();
        this.parameters = ParameterValues.of(briefs, given);
        this.sources = new LinkedHashMap<>();
        for (Placed part : placed) {
            BriefText text = part.brief().source();
            InputOpener opener = new InputOpener(text, part.folder(), fiesta.formats());
            for (Brief.Input input : part.brief().inputs()) {
                open(input, text, opener);
            }
        }
        this.plans = plan();
    }

    private void open(Brief.Input input, BriefText text, InputOpener opener) {
        String name = input.name().name();
        if (sources.containsKey(name)) {
            throw new BriefException(List.of(text.problem(
                    input.name().at(), "There is an input '" + name + "' already.", "Give this one another name.")));
        }
        try {
            InputOpener.Opened opened = opener.open(input, this::fill);
            sources.put(name, opened.source());
            files.put(name, opened.files());
        } catch (RuntimeException e) {
            throw Interrupted.told(e);
        }
    }

    private Map<String, TablePlan> plan() {
        return Planner.plan(briefs, parameters, inputs());
    }

    /** A text with parameters in braces, {@code {:from_day}}, filled in. */
    public String fill(String text) {
        return dev.fiesta.language.Braces.fill(text, inner -> {
            Parameters.@Nullable Value value =
                    inner.startsWith(":") ? parameters.values().get(inner.substring(1)) : null;
            if (value == null) {
                return null;
            }
            List<Object> items = value.items() == null ? List.of() : value.items();
            return String.join(
                    ", ", items.stream().map(dev.fiesta.value.Texts::of).toList());
        });
    }

    /** The tables, in the order of the brief; inputs are none. */
    public List<String> names() {
        return plans.values().stream()
                .filter(p -> !p.isInput())
                .map(TablePlan::name)
                .toList();
    }

    /** The tables of the brief itself, without those of the briefs it uses. */
    private List<String> own() {
        return briefs.get(briefs.size() - 1).tables().stream()
                .map(t -> t.name().name())
                .toList();
    }

    /** The tables that no other table uses. */
    public List<String> unused() {
        Set<String> used = new LinkedHashSet<>();
        plans.values().forEach(p -> p.uses().forEach(other -> used.add(other.name())));
        return own().stream().filter(n -> !used.contains(n)).toList();
    }

    /** The tables that data formats write: all but tables of ungrouped records that another table uses. */
    public List<String> outputs() {
        List<String> unused = unused();
        return own().stream()
                .filter(n -> unused.contains(n) || plan(n).levels().isGroups())
                .toList();
    }

    /** The fields of a table. */
    public Schema schema(String table) {
        return plan(table).schema();
    }

    private TablePlan plan(String table) {
        TablePlan plan = plans.get(table);
        if (plan == null) {
            throw new IllegalArgumentException(
                    "there is no table '" + table + "'. " + Names.didYouMean(table, plans.keySet(), "There are"));
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
        return work(wanted).results();
    }

    /**
     * What a run of several tables did.
     *
     * @param results the tables wanted
     * @param rows for every table worked out the rows behind each of its clauses
     * @param records for every input read the number of its records, as far as they were read
     */
    public record Outcome(Map<String, Result> results, Map<String, List<ClauseRows>> rows, Map<String, Long> records) {}

    /** As {@link #run}, with what was counted on the way. */
    public synchronized Outcome work(List<String> wanted) {
        return widening(notices -> {
            List<TablePlan> targets = wanted.stream().map(this::plan).toList();
            Resources resources = fiesta.resources();
            Map<TablePlan, Worked> worked = new Engine(sources, notices, resources).run(targets);
            List<Timing> timings = resources.watch().timings();
            Map<String, Result> results = new LinkedHashMap<>();
            for (TablePlan plan : targets) {
                results.put(plan.name(), Table.result(plan, worked(worked, plan), notices, timings));
            }
            Map<String, List<ClauseRows>> rows = new LinkedHashMap<>();
            Map<String, Long> records = new LinkedHashMap<>();
            for (TablePlan plan : plans.values()) {
                long count = ClauseRows.behind(plan, plan.steps().size(), timings);
                if (plan.isInput() && count >= 0) {
                    records.put(plan.name(), count);
                } else if (!plan.isInput() && isUsed(plan, targets)) {
                    rows.put(plan.name(), ClauseRows.of(plan, timings));
                }
            }
            return new Outcome(results, rows, records);
        });
    }

    private static Worked worked(Map<TablePlan, Worked> all, TablePlan plan) {
        return java.util.Objects.requireNonNull(all.get(plan), plan.name());
    }

    private static boolean isUsed(TablePlan plan, List<TablePlan> by) {
        return by.stream().anyMatch(t -> t == plan || isUsed(plan, t.uses()));
    }

    /** What working tables out would do: nothing is read but headers and types. */
    public synchronized Explained explain(List<String> wanted) {
        List<TablePlan> targets = wanted.stream().map(this::plan).toList();
        return new Engine(sources, new Notices(), fiesta.resources()).explain(targets);
    }

    /** The values of parameters, each as data files write it; those without a value are left out. */
    public Map<String, List<String>> parameterValues() {
        Map<String, List<String>> values = new LinkedHashMap<>();
        for (String name : parameters().keySet()) {
            List<Object> items = java.util.Objects.requireNonNull(
                            parameters.values().get(name))
                    .items();
            values.put(
                    name,
                    java.util.Objects.requireNonNull(items).stream()
                            .map(dev.fiesta.value.Texts::of)
                            .toList());
        }
        return values;
    }

    /** Whether a parameter holds a list. */
    public boolean isList(String parameter) {
        return java.util.Objects.requireNonNull(parameters.values().get(parameter))
                .list();
    }

    /** The values of parameters as texts; those without a value are left out. */
    public Map<String, String> parameters() {
        Map<String, String> values = new LinkedHashMap<>();
        for (Brief brief : briefs) {
            for (Brief.ParameterDef def : brief.parameters()) {
                String name = def.name().name();
                Parameters.Value value = parameters.values().get(name);
                if (value != null && value.items() != null) {
                    values.put(name, fill("{:" + name + "}"));
                }
            }
        }
        return values;
    }

    /** The files of each input, with the names under which the brief knows them. */
    public Map<String, List<Paths.Named>> files() {
        return files;
    }

    /** The fields of each input with the types that are used. */
    public Map<String, Schema> inputs() {
        Map<String, Schema> schemas = new LinkedHashMap<>();
        sources.forEach((name, source) -> schemas.put(name, source.schema()));
        return schemas;
    }

    /**
     * Looks at a table as each of its clauses leaves it.
     *
     * @param rows the number of first rows
     */
    public synchronized List<StepLook> steps(String table, int rows) {
        BehindPlan.Definition found = definition(table);
        if (found == null) {
            throw new IllegalArgumentException("there is no table '" + table + "'");
        }
        Brief brief = found.brief();
        Brief.TableDef def = found.table();
        return widening(notices -> StepLooks.of(
                plan(table),
                i -> Planner.like(brief, def, table, def.clauses().subList(0, i), parameters, plans),
                rows,
                new Engine(sources, notices, fiesta.resources())));
    }

    /**
     * The records behind a row, a subtotal, a total or a rest.
     *
     * @param keys values of keys as texts; {@code (missing)} for a missing one
     * @throws IllegalArgumentException when there is no such table, key or row
     */
    public synchronized Behind behind(String table, Map<String, String> keys, Behind.Part part) {
        plan(table);
        return widening(notices -> new BehindPlan(this::definition, parameters, plans)
                .open(table, keys, part, targets -> {
                    Resources resources = fiesta.resources();
                    Map<TablePlan, Worked> worked = new Engine(sources, notices, resources).run(targets);
                    List<Result> results = new ArrayList<>();
                    for (TablePlan plan : targets) {
                        results.add(Table.result(
                                plan,
                                worked(worked, plan),
                                notices,
                                resources.watch().timings()));
                    }
                    return results;
                }));
    }

    /**
     * For each row of a table the first records behind it, in file order.
     *
     * @param most the most records of a row
     * @return a table of records with the keys of their rows in front, or null where rows are records themselves
     */
    public synchronized @Nullable Result samples(String table, int most) {
        return widening(notices -> {
            TablePlan plan = new BehindPlan(this::definition, parameters, plans).samples(table, most);
            if (plan == null) {
                return null;
            }
            Resources resources = fiesta.resources();
            Map<TablePlan, Worked> worked = new Engine(sources, new Notices(), resources).run(List.of(plan));
            return Table.result(plan, worked(worked, plan), notices, List.of());
        });
    }

    /** Where a table is defined; null for inputs. */
    private BehindPlan.@Nullable Definition definition(String table) {
        for (Brief brief : briefs) {
            for (Brief.TableDef def : brief.tables()) {
                if (def.name().name().equals(table)) {
                    return new BehindPlan.Definition(brief, def);
                }
            }
        }
        return null;
    }

    /** Works something out; where an input turns out to need wider types, again with those. */
    private <T> T widening(Function<Notices, T> work) {
        Notices notices = new Notices();
        while (true) {
            try {
                return work.apply(notices);
            } catch (Source.Widened widened) {
                notices = new Notices();
                widen(widened, notices);
            }
        }
    }

    private void widen(Source.Widened widened, Notices notices) {
        Map<String, Source> all = new LinkedHashMap<>(sources);
        sources.forEach((name, source) -> {
            if (source == widened.from()) {
                all.put(name, widened.source());
            }
        });
        widened.fields()
                .forEach(f ->
                        notices.count(Notices.Kind.WIDENED, f.field() + " (" + f.from() + " to " + f.to() + ")", 1));
        sources = all;
        plans = plan();
    }
}
