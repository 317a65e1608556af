package dev.fiesta;

import dev.fiesta.brief.FirstTexts;
import dev.fiesta.compute.CalendarSettings;
import dev.fiesta.compute.RowFunction;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.Clause;
import dev.fiesta.language.ClausesText;
import dev.fiesta.language.Parser;
import dev.fiesta.plan.Parameters;
import dev.fiesta.plan.Planner;
import dev.fiesta.problem.BriefException;
import dev.fiesta.source.Source;
import dev.fiesta.step.TablePlan;
import dev.fiesta.task.PlanText;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * What a table of a program is: an input, or clauses over one and over other tables, with the values of parameters that they name. What
 * is known of inputs is shared by all chains over them, and plans are made anew where that has changed.
 */
final class Chain {
    private static final char LINE_BELOW = '\u0332';

    private final Map<String, RowFunction> functions;
    private final @Nullable Root root;
    private final @Nullable Chain from;
    private final ClausesText clauses;
    private final Map<String, Parameters.Value> parameters;
    /** The names that values have among the parameters, by those that the next texts call them by. */
    private final Map<String, String> names;

    private final Map<String, Chain> others;
    private @Nullable TablePlan plan;
    /** What the last clause leaves, for the next one to be settled over. */
    private @Nullable TablePlan seen;
    /** Whether all clauses so far look at their rows only. */
    private boolean near = true;

    /** @param functions that are defined besides those of the language */
    Chain(Root root, Map<String, RowFunction> functions) {
        this(functions, root, null, ClausesText.NONE, Map.of(), Map.of(), Map.of());
    }

    private Chain(
            Map<String, RowFunction> functions,
            @Nullable Root root,
            @Nullable Chain from,
            ClausesText clauses,
            Map<String, Parameters.Value> parameters,
            Map<String, String> names,
            Map<String, Chain> others) {
        this.functions = functions;
        this.root = root;
        this.from = from;
        this.clauses = clauses;
        this.parameters = parameters;
        this.names = names;
        this.others = others;
    }

    /** The input, where there is no clause. */
    @Nullable
    Root root() {
        return root;
    }

    /** The other tables that clauses name. */
    Map<String, Chain> others() {
        return others;
    }

    /** The same with a value for a parameter, which texts that follow may name. */
    Chain set(String name, Parameters.Value value) {
        Chain next = new Chain(
                functions, root, from, clauses, new LinkedHashMap<>(parameters), new LinkedHashMap<>(names), others);
        next.near = near;
        next.seen = seen;
        next.names.put(name, own(next.parameters, name, value));
        return next;
    }

    /** The name under which a value is kept: its own, or where another value has that one that nobody writes, by lines below it. */
    private static String own(Map<String, Parameters.Value> parameters, String name, Parameters.Value value) {
        String own = name;
        while (parameters.containsKey(own) && !parameters.get(own).equals(value)) {
            own += LINE_BELOW;
        }
        parameters.put(own, value);
        return own;
    }

    /**
     * The clauses so far and one text more; they are one table, so that totals know what was grouped.
     *
     * @param values of parameters, known in this text only
     * @param named other tables, by the names that the text calls them by
     */
    Chain next(String written, Map<String, Parameters.Value> values, Map<String, Chain> named) {
        Map<String, Chain> tables = new LinkedHashMap<>(others);
        tables.putAll(named);
        Map<String, Parameters.Value> all = values.isEmpty() ? parameters : new LinkedHashMap<>(parameters);
        Map<String, String> called = new HashMap<>(names);
        values.forEach((name, value) -> called.put(name, own(all, name, value)));
        String text = Parser.withParameters(new BriefText("clauses", written), called);
        Chain next = new Chain(functions, null, from == null ? this : from, clauses.plus(text), all, names, tables);
        List<Clause> last = next.clauses.behind(clauses);
        next.near = near && isNear(last);
        next.seen = next.near ? step(next, last) : null;
        if (next.seen == null) {
            next.seen = next.plan();
        }
        return next;
    }

    /**
     * The last clauses of a chain settled over what those before leave, so that a long chain of calls need not settle all of them at
     * each. Null where a clause may look further back than its rows, or is wrong: then all are settled together, as in a brief.
     */
    private @Nullable TablePlan step(Chain next, List<Clause> last) {
        try {
            TablePlan below = seen == null ? plan() : seen;
            return Planner.extend(
                    below,
                    next.clauses.text(),
                    last,
                    new Parameters(next.parameters, functions),
                    CalendarSettings.NORMAL,
                    Map.of());
        } catch (BriefException e) {
            return null;
        }
    }

    /** Whether there are clauses, and they look at their rows only, not at what a grouping before them gathered. */
    private static boolean isNear(List<Clause> clauses) {
        return !clauses.isEmpty()
                && clauses.stream()
                        .allMatch(c -> c instanceof Clause.Only || c instanceof Clause.Add || c instanceof Clause.Sort);
    }

    synchronized TablePlan plan() {
        TablePlan known = plan;
        if (known == null) {
            known = root == null ? upTo(clauses.clauses().size()) : input(root);
            plan = known;
        }
        return known;
    }

    /** The plan with the first clauses only. */
    TablePlan upTo(int count) {
        Map<String, TablePlan> named = new LinkedHashMap<>();
        others.forEach((name, table) -> named.put(name, table.plan()));
        return Planner.extend(
                Objects.requireNonNull(from).plan(),
                clauses.text(),
                clauses.clauses().subList(0, count),
                new Parameters(parameters, functions),
                CalendarSettings.NORMAL,
                named);
    }

    private static TablePlan input(Root root) {
        return TablePlan.input(name(root), root.source().schema(), new FirstTexts(root.source()));
    }

    private static String name(Root root) {
        return root.name() + TablePlan.HIDDEN + System.identityHashCode(root);
    }

    /** What a run of it stands on. */
    Run.Ground ground() {
        return new Run.Ground(this::refresh, this::widen, this::refuseChange);
    }

    /**
     * The plan with the sources that it was made for: a run beside this one may open them anew, with other types, between the one and the
     * other.
     */
    TablePlan planned(Map<String, Source> sources) {
        while (true) {
            sources.clear();
            sources(sources);
            TablePlan planned = plan();
            boolean fits = TablePlan.standsOn(List.of(planned)).stream()
                    .filter(TablePlan::isInput)
                    .allMatch(i -> Objects.requireNonNull(sources.get(i.name()))
                            .schema()
                            .equals(i.schema()));
            if (fits) {
                return planned;
            }
            forgetAll();
        }
    }

    /**
     * The table as others may plan it.
     *
     * @param shown whether only what is shown of it is wanted
     * @param looks if not -1, how many rows are wanted of it as each clause leaves it
     */
    PlanText text(boolean shown, int looks) {
        List<PlanText.OfClauses.Link> links = new ArrayList<>();
        link(links, new IdentityHashMap<>());
        return new PlanText.OfClauses(links, shown, looks);
    }

    /** Adds what this stands on, each once, then itself; its number. */
    private int link(List<PlanText.OfClauses.Link> links, Map<Chain, Integer> known) {
        Integer number = known.get(this);
        if (number != null) {
            return number;
        }
        Map<String, Integer> named = new LinkedHashMap<>();
        others.forEach((name, other) -> named.put(name, other.link(links, known)));
        int below = from == null ? -1 : from.link(links, known);
        links.add(new PlanText.OfClauses.Link(
                root == null ? "" : name(root), below, clauses.text().text(), parameters, named));
        known.put(this, links.size() - 1);
        return links.size() - 1;
    }

    private void sources(Map<String, Source> found) {
        if (root != null) {
            found.put(name(root), root.source());
        }
        if (from != null) {
            from.sources(found);
        }
        others.values().forEach(o -> o.sources(found));
    }

    private void forgetAll() {
        forget();
        if (from != null) {
            from.forgetAll();
        }
        others.values().forEach(Chain::forgetAll);
    }

    private synchronized void forget() {
        plan = null;
        seen = null;
    }

    private void widen(Source.Widened widened) {
        if (root != null && root.source() == widened.from()) {
            root.replace(widened.source());
        }
        if (from != null) {
            from.widen(widened);
        }
        others.values().forEach(o -> o.widen(widened));
        forget();
    }

    /** Looks at the files again: a run never uses what was known of those that have changed. */
    boolean refresh() {
        boolean changed = root != null && root.refresh();
        changed |= from != null && from.refresh();
        for (Chain other : others.values()) {
            changed |= other.refresh();
        }
        if (changed) {
            forget();
        }
        return changed;
    }

    private void refuseChange() {
        if (root != null) {
            root.refuseChange();
        }
        if (from != null) {
            from.refuseChange();
        }
        others.values().forEach(Chain::refuseChange);
    }
}
