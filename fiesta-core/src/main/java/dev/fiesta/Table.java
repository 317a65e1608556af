package dev.fiesta;

import dev.fiesta.compute.CalendarSettings;
import dev.fiesta.engine.Engine;
import dev.fiesta.engine.Worked;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Parser;
import dev.fiesta.plan.Parameters;
import dev.fiesta.plan.Planner;
import dev.fiesta.plan.TablePlan;
import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.Interrupted;
import dev.fiesta.problem.Notices;
import dev.fiesta.problem.RequestException;
import dev.fiesta.progress.Timing;
import dev.fiesta.source.FilesSeen;
import dev.fiesta.source.RecordSource;
import dev.fiesta.source.Source;
import dev.fiesta.survey.Survey;
import dev.fiesta.survey.Surveyor;
import dev.fiesta.value.Column;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Type;
import java.math.BigDecimal;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Supplier;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;

/**
 * A description of a table: where records come from and what is done to them. Immutable; every method returns a new table. A
 * text that cannot be right fails at that call, with the same message as in a brief.
 */
public final class Table {
    /** An input, opened when the first call needs its fields. */
    private static final class Root {
        private final String name;
        private final Supplier<Source> opener;
        private final Supplier<FilesSeen> files;
        private @Nullable Source source;
        private @Nullable FilesSeen seen;

        Root(String name, Supplier<Source> opener, Supplier<FilesSeen> files) {
            this.name = name;
            this.opener = opener;
            this.files = files;
        }

        synchronized Source source() {
            if (source == null) {
                try {
                    seen = files.get();
                    source = opener.get();
                } catch (RuntimeException e) {
                    throw Interrupted.orItself(e);
                }
            }
            return source;
        }

        synchronized void replace(Source wider) {
            source = wider;
        }

        /** Forgets what was known of files that have changed since; whether that was so. */
        synchronized boolean refresh() {
            boolean changed = seen != null && !files.get().isSame(seen);
            if (changed) {
                source = null;
            }
            return changed;
        }

        synchronized void refuseChange() {
            if (seen != null) {
                seen.refuseChange(files.get());
            }
        }
    }

    private final Fiesta fiesta;
    private final @Nullable Root root;
    private final @Nullable Table from;
    private final String clauses;
    private final Map<String, ?> parameters;
    private final Map<String, Table> others;
    private @Nullable TablePlan plan;
    /** What the last clause leaves, for the next one to be settled over. */
    private @Nullable TablePlan seen;
    /** Whether all clauses so far look at their rows only. */
    private boolean near = true;

    private Table(
            Fiesta fiesta,
            @Nullable Root root,
            @Nullable Table from,
            String clauses,
            Map<String, ?> parameters,
            Map<String, Table> others) {
        this.fiesta = fiesta;
        this.root = root;
        this.from = from;
        this.clauses = clauses;
        this.parameters = parameters;
        this.others = others;
    }

    /** @param files looks at the files of the source, none where it has none */
    static Table of(Fiesta fiesta, String name, Supplier<Source> opener, Supplier<FilesSeen> files) {
        return new Table(fiesta, new Root(name, opener, files), null, "", Map.of(), Map.of());
    }

    /** Any clauses of the language, as a brief has them. */
    public Table then(String text) {
        return then(text, Map.of());
    }

    /** Any clauses, with values for the parameters ({@code :name}) in them. */
    public Table then(String text, Map<String, ?> values) {
        return next(text, values, Map.of());
    }

    /** The clauses so far and one text more; they are one table, so that totals know what was grouped. */
    private Table next(String text, Map<String, ?> values, Map<String, Table> named) {
        Map<String, Object> all = new LinkedHashMap<>(parameters);
        values.forEach((name, value) -> {
            Object before = all.put(name, value);
            if (before != null && !before.equals(value)) {
                throw new RequestException(
                        "the parameter '" + name + "' has the value " + before + " already; name the second otherwise");
            }
        });
        Map<String, Table> tables = new LinkedHashMap<>(others);
        tables.putAll(named);
        String joined = clauses.isEmpty() ? text : clauses + "\n" + text;
        Table next = new Table(fiesta, null, from == null ? this : from, joined, all, tables);
        next.near = near && isNear(text);
        next.seen = next.near ? step(text, all) : null;
        if (next.seen == null) {
            next.seen = next.plan();
        }
        return next;
    }

    /**
     * The clauses of a text settled over what the clauses before leave, so that a long chain of calls need not settle all of them at
     * each. Null where a clause may look further back than its rows, or is wrong: then all are settled together, as in a brief.
     */
    private @Nullable TablePlan step(String text, Map<String, ?> values) {
        BriefText named = new BriefText("clauses", text);
        try {
            TablePlan below = seen == null ? plan() : seen;
            return Planner.extend(
                    below, named, Parser.clauses(named), typed(values), CalendarSettings.NORMAL, Map.of());
        } catch (BriefException e) {
            return null;
        }
    }

    /** Whether clauses look at their rows only, not at what a grouping before them gathered. */
    private static boolean isNear(String text) {
        try {
            return Parser.clauses(new BriefText("clauses", text)).stream()
                    .allMatch(c -> c instanceof Clause.Only || c instanceof Clause.Add || c instanceof Clause.Sort);
        } catch (BriefException e) {
            return false;
        }
    }

    private Table withOther(Table other, java.util.function.UnaryOperator<String> text) {
        String name = "other" + (others.size() + 1);
        return next(text.apply(name), Map.of(), Map.of(name, other));
    }

    /** Keeps the rows, records or groups, for which a condition is true. */
    public Table only(String condition) {
        return then("only " + condition);
    }

    /** As {@link #only(String)}, with values for the parameters in it. */
    public Table only(String condition, Map<String, ?> values) {
        return then("only " + condition, values);
    }

    /** Further fields, each {@code name = expression}. */
    public Table add(String... fields) {
        return then("add " + String.join(", ", fields));
    }

    /** Groups by keys: fields, or {@code name = expression}; {@code "all"} makes one group. */
    public Groups per(String... keys) {
        return new Groups(this, "per " + String.join(", ", keys));
    }

    /** Puts rows in order, each key with {@code desc} behind it if wanted. */
    public Table sort(String... keys) {
        return then("sort " + String.join(", ", keys));
    }

    /** Keeps the first rows as they stand. */
    public Table first(int rows) {
        return then("first " + rows);
    }

    /**
     * Keeps the first rows along an order.
     *
     * @param how what stands behind the number in a brief: {@code within site along takings desc rest as 'Rest'}
     */
    public Table first(int rows, String how) {
        return then("first " + rows + " " + how);
    }

    /** Adds a total row to groups, and subtotals for the first keys where they are named. */
    public Table totals(String... by) {
        return then("totals" + (by.length == 0 ? "" : " by " + String.join(", ", by)));
    }

    /** Keeps the first row of each combination of some fields, of all where none is named. */
    public Table distinct(String... fields) {
        return then("distinct " + String.join(", ", fields));
    }

    /**
     * Adds rows for the periods that have none.
     *
     * @param how what stands behind the field in a brief: {@code every 1 week within site with 0}; may be empty
     */
    public Table gapless(String field, String how) {
        return then("gapless " + field + " " + how);
    }

    /**
     * Fills missing values of a field with those known before or after.
     *
     * @param how what stands behind the field in a brief: {@code within item along day from before at most 2}
     */
    public Table fill(String field, String how) {
        return then("fill " + field + " " + how);
    }

    /**
     * Makes a row of each of some fields.
     *
     * @param name the field that gets their names
     * @param value the field that gets their values
     */
    public Table turn(List<String> fields, String name, String value) {
        return then("turn " + String.join(", ", fields) + " into " + name + ", " + value);
    }

    /** Gives fields other names, each {@code old as new}. */
    public Table rename(String... names) {
        return then("rename " + String.join(", ", names));
    }

    /** Takes fields away. */
    public Table drop(String... fields) {
        return then("drop " + String.join(", ", fields));
    }

    /**
     * Keeps rows by chance, the same ones each time.
     *
     * @param how many and which, as in a brief: {@code 100}, {@code 5 percent within site seed 3}
     */
    public Table sample(String how) {
        return then("sample " + how);
    }

    /** Puts rows in an order by chance, the same each time for the same seed. */
    public Table shuffle(int seed) {
        return then("shuffle seed " + seed);
    }

    /**
     * Says what must hold; {@link #run} fails where it does not.
     *
     * @param what as in a brief: {@code takings > 0 'a day without takings' or warn}, {@code unique site}, {@code rows >= 1}
     * @throws dev.fiesta.problem.CheckException when run, with the first rows for which it does not hold
     */
    public Table check(String what) {
        return then("check " + what);
    }

    /** Keeps figures of groups from being shown where a condition is true. */
    public Table hide(String where, String... figures) {
        return then("hide " + String.join(", ", figures) + " where " + where);
    }

    /** Shows only these columns, each with title and format if wanted. */
    public Table columns(String... columns) {
        return then("columns " + String.join(", ", columns));
    }

    /**
     * Looks fields up in another table.
     *
     * @param other the other table
     * @param how what stands behind the table in a brief: {@code on stall bring kind, pitch required}
     */
    public Table match(Table other, String how) {
        return withOther(other, name -> "match " + name + " " + how);
    }

    /** As {@link #match}, but with a row for every match: the explicit form that multiplies rows. */
    public Table matchEach(Table other, String how) {
        return withOther(other, name -> "match each " + name + " " + how);
    }

    /** The rows of another table below, columns met by name. */
    public Table append(Table other) {
        return withOther(other, name -> "append " + name);
    }

    /**
     * Adds rows for the values of a field that another table has and this one lacks.
     *
     * @param other the table that has the values, in a field of the same name
     * @param how what stands behind the table in a brief, for instance {@code with 0}; may be empty
     */
    public Table gapless(Table other, String field, String how) {
        return withOther(other, name -> "gapless " + field + " from " + name + " " + how);
    }

    /**
     * A look at what came in: every field's type, gaps, values and oddities; of a table with clauses, at what they leave.
     *
     * @throws dev.fiesta.problem.DataException when the records cannot be read
     */
    public Survey survey() {
        if (root != null) {
            refresh();
            return Surveyor.survey(root.source(), fiesta.threads());
        }
        Result result = run();
        Column[] columns = result.schema().names().stream().map(result::column).toArray(Column[]::new);
        return Surveyor.survey(RecordSource.of(result.schema(), columns, result.rows()), fiesta.threads());
    }

    /** The fields. */
    public Schema schema() {
        return plan().schema();
    }

    /** Works the table out. */
    public Result run() {
        return run(plan -> plan);
    }

    /** Works out what {@code columns} shows of the table: the result has no other fields, and they are not read for it. */
    public Result runShown() {
        return run(TablePlan::shownOnly);
    }

    private Result run(UnaryOperator<TablePlan> wanted) {
        return widening((engine, notices) -> {
            TablePlan target = wanted.apply(plan());
            Worked worked =
                    java.util.Objects.requireNonNull(engine.run(List.of(target)).get(target));
            return result(target, worked, notices, engine.timings());
        });
    }

    /**
     * Looks at the table as each of its clauses leaves it.
     *
     * @param rows the number of first rows
     */
    public List<StepLook> steps(int rows) {
        List<Clause> all = Parser.clauses(new BriefText("clauses", clauses));
        Table below = java.util.Objects.requireNonNull(from, "a table without clauses has no steps");
        return widening((engine, notices) ->
                StepLooks.of(plan(), i -> extended(below, all.subList(0, i)), rows, engine).stream()
                        .map(StepLook::withoutLine)
                        .toList());
    }

    private interface Work<T> {
        T with(Engine engine, Notices notices);
    }

    /** Works something out; where an input turns out to need wider types, again with those. */
    private <T> T widening(Work<T> work) {
        refresh();
        return fiesta.within(resources -> Attempts.run(
                (notices, given) -> {
                    Map<String, Source> sources = new HashMap<>();
                    sources(sources);
                    return work.with(new Engine(sources, notices, given), notices);
                },
                resources,
                this::widen,
                this::refuseChange));
    }

    static Result result(TablePlan plan, Worked worked, Notices notices, List<Timing> timings) {
        List<TablePlan.ViewColumn> columns =
                plan.crossing() == null ? plan.view() : plan.crossing().view(worked.schema());
        List<ViewColumn> view = columns.stream()
                .map(v -> new ViewColumn(v.field(), v.title(), isKey(plan, v.field()), v.formats()))
                .toList();
        return new Result(plan.shownName(), worked, TotalRow.of(plan, worked), view, notices, timings);
    }

    private static boolean isKey(TablePlan plan, String field) {
        List<String> keys = plan.levels().keys();
        return keys != null && keys.contains(field);
    }

    private String rootName() {
        return java.util.Objects.requireNonNull(root).name + TablePlan.HIDDEN + System.identityHashCode(root);
    }

    private void sources(Map<String, Source> found) {
        if (root != null) {
            found.put(rootName(), root.source());
        }
        if (from != null) {
            from.sources(found);
        }
        others.values().forEach(o -> o.sources(found));
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
    private boolean refresh() {
        boolean changed = root != null && root.refresh();
        changed |= from != null && from.refresh();
        for (Table other : others.values()) {
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
        others.values().forEach(Table::refuseChange);
    }

    private synchronized void forget() {
        plan = null;
        seen = null;
    }

    private synchronized TablePlan plan() {
        TablePlan known = plan;
        if (known == null) {
            known = from == null
                    ? input(rootName(), java.util.Objects.requireNonNull(root).source())
                    : extended(from, Parser.clauses(new BriefText("clauses", clauses)));
            plan = known;
        }
        return known;
    }

    private static TablePlan input(String name, Source source) {
        return TablePlan.input(name, source.schema(), new FirstTexts(source));
    }

    private TablePlan extended(Table below, List<Clause> parsed) {
        BriefText text = new BriefText("clauses", clauses);
        Map<String, TablePlan> named = new LinkedHashMap<>();
        others.forEach((name, table) -> named.put(name, table.plan()));
        return Planner.extend(below.plan(), text, parsed, typed(parameters), CalendarSettings.NORMAL, named);
    }

    private static Parameters typed(Map<String, ?> values) {
        Map<String, Parameters.Value> typed = new HashMap<>();
        values.forEach((name, value) -> typed.put(name, value(name, value)));
        return new Parameters(typed);
    }

    private static Parameters.Value value(String name, Object value) {
        if (value instanceof List<?> list) {
            List<Parameters.Value> items =
                    list.stream().map(v -> value(name, v)).toList();
            Type type = items.isEmpty() ? Type.EMPTY : items.get(0).type();
            return new Parameters.Value(
                    type,
                    true,
                    items.stream()
                            .map(i -> java.util.Objects.requireNonNull(i.single()))
                            .toList());
        }
        Object held = value instanceof Integer n ? (Object) n.longValue() : value;
        return new Parameters.Value(type(name, held), false, List.of(held));
    }

    private static Type type(String name, Object value) {
        if (value instanceof Long) {
            return Type.INTEGER;
        }
        if (value instanceof BigDecimal decimal) {
            return Type.decimal(Math.max(0, decimal.scale()));
        }
        if (value instanceof Double) {
            return Type.REAL;
        }
        if (value instanceof String) {
            return Type.TEXT;
        }
        if (value instanceof java.time.LocalDate) {
            return Type.DATE;
        }
        if (value instanceof java.time.LocalDateTime) {
            return Type.DATETIME;
        }
        if (value instanceof Boolean) {
            return Type.TRUTH;
        }
        throw new RequestException(
                "the parameter '" + name + "' cannot be " + value.getClass().getName());
    }
}
