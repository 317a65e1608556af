package dev.fiesta;

import dev.fiesta.engine.Engine;
import dev.fiesta.engine.Interrupted;
import dev.fiesta.engine.Resources;
import dev.fiesta.engine.Worked;
import dev.fiesta.language.Brief;
import dev.fiesta.plan.Parameters;
import dev.fiesta.plan.Planner;
import dev.fiesta.plan.TablePlan;
import dev.fiesta.problem.Names;
import dev.fiesta.problem.Notices;
import dev.fiesta.source.Source;
import dev.fiesta.value.Schema;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
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
    private final Brief brief;
    private final Parameters parameters;
    private Map<String, Source> sources;
    private Map<String, TablePlan> plans;

    Tables(Fiesta fiesta, Brief brief, Path folder, Map<String, ?> given) {
        this.fiesta = fiesta;
        this.brief = brief;
        this.parameters = ParameterValues.of(brief, given);
        this.sources = new LinkedHashMap<>();
        InputOpener opener = new InputOpener(brief.source(), folder, fiesta.formats());
        for (Brief.Input input : brief.inputs()) {
            try {
                sources.put(input.name().name(), opener.open(input, this::fill));
            } catch (RuntimeException e) {
                throw Interrupted.told(e);
            }
        }
        this.plans = plan();
    }

    private Map<String, TablePlan> plan() {
        Map<String, Schema> schemas = new LinkedHashMap<>();
        sources.forEach((name, source) -> schemas.put(name, source.schema()));
        return Planner.plan(brief, parameters, schemas);
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

    /** The tables that no other table uses. */
    public List<String> unused() {
        Set<String> used = new LinkedHashSet<>();
        plans.values().forEach(p -> p.uses().forEach(other -> used.add(other.name())));
        return names().stream().filter(n -> !used.contains(n)).toList();
    }

    /** The tables that data formats write: all but tables of ungrouped records that another table uses. */
    public List<String> outputs() {
        List<String> unused = unused();
        return names().stream()
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
    public synchronized Map<String, Result> run(List<String> wanted) {
        Notices notices = new Notices();
        while (true) {
            try {
                List<TablePlan> targets = new ArrayList<>();
                Resources resources = fiesta.resources();
                wanted.forEach(n -> targets.add(plan(n)));
                Map<TablePlan, Worked> worked = new Engine(sources, notices, resources).run(targets);
                Map<String, Result> results = new LinkedHashMap<>();
                for (TablePlan plan : targets) {
                    results.put(
                            plan.name(),
                            Table.result(
                                    plan,
                                    java.util.Objects.requireNonNull(worked.get(plan)),
                                    notices,
                                    resources.watch()));
                }
                return results;
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
