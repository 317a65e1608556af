package dev.fiesta.plan;

import dev.fiesta.compute.Constant;
import dev.fiesta.compute.Expression;
import dev.fiesta.compute.FieldRef;
import dev.fiesta.compute.Types;
import dev.fiesta.language.Assign;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Expr;
import dev.fiesta.language.Ref;
import dev.fiesta.language.Span;
import dev.fiesta.plan.Step.OrderKey;
import dev.fiesta.plan.Step.WalkSpec;
import dev.fiesta.plan.TablePlan.ViewColumn;
import dev.fiesta.problem.Names;
import dev.fiesta.value.Field;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/** Settles the clauses of one table, one behind the other. */
final class ClauseBinder implements Clause.Visitor<@Nullable Void> {
    private final Context context;
    private final Function<Ref, TablePlan> tables;
    private final Scope scope;
    private final StepList steps = new StepList();
    private Map<String, Integer> laterFigures = Map.of();
    private @Nullable List<ViewColumn> view;

    /** @param tables finds another table by name, or complains */
    ClauseBinder(Context context, TablePlan from, Function<Ref, TablePlan> tables) {
        this.context = context;
        this.tables = tables;
        this.scope = Scope.of(from);
    }

    /** Settles clauses; problems are gathered and each clause goes on where the one before it left. */
    TablePlan bind(String name, TablePlan from, List<Clause> clauses) {
        for (int i = 0; i < clauses.size(); i++) {
            Clause clause = clauses.get(i);
            laterFigures = RowSurroundings.figures(context, clauses.subList(i + 1, clauses.size()));
            if (view != null && !isCheck(clause)) {
                view = null;
                context.problems()
                        .add(context.complaint(
                                        clause.at(),
                                        "'columns' is the last clause of a table, only 'check' may follow it.",
                                        "Put this clause before 'columns'.")
                                .problem());
            }
            context.attempt(() -> clause.accept(this));
        }
        List<ViewColumn> shown = view == null ? TablePlan.view(scope.schema()) : view;
        return new TablePlan(
                name,
                from,
                steps.list(),
                scope.slots(),
                scope.schema(),
                shown,
                scope.level(),
                Map.copyOf(scope.periods()));
    }

    private static boolean isCheck(Clause clause) {
        return clause instanceof Clause.Check
                || clause instanceof Clause.CheckUnique
                || clause instanceof Clause.CheckRows;
    }

    /** Binds an expression of a clause; what it needs of many rows is worked out by a step before. */
    private Expression row(String clause, Expr expr, boolean condition) {
        List<WalkSpec> walks = new ArrayList<>();
        ExprBinder binder = new RowSurroundings(context, scope, clause, laterFigures, walks).binder();
        Expression bound = condition ? binder.condition(expr) : binder.bind(expr);
        steps.walks(walks);
        return bound;
    }

    private Scope.Seen seen(Ref ref, String clause) {
        Scope.Seen seen = scope.find(ref.name());
        if (seen == null) {
            throw RowSurroundings.unknown(context, scope, clause, laterFigures, ref.name(), ref.at());
        }
        return seen;
    }

    private String place(Clause clause) {
        String text = context.text().at(clause.at()).replaceAll("\\s+", " ");
        return text.length() > 60 ? text.substring(0, 59) + "…" : text;
    }

    @Override
    public @Nullable Void only(Clause.Only clause) {
        Expression condition = row("only", clause.condition(), true);
        steps.add(new Step.Filter(dev.fiesta.compute.Logic.conjuncts(condition), place(clause)));
        return null;
    }

    @Override
    public @Nullable Void add(Clause.Add clause) {
        Set<String> named = new LinkedHashSet<>();
        for (Assign assign : clause.fields()) {
            boolean good = context.attempt(() -> {
                Expression value = row("add", assign.value(), false);
                refuseTwice(named, assign);
                set(assign.name(), value);
                periodOf(assign.value()).ifPresent(unit -> scope.periods().put(assign.name(), unit));
            });
            if (!good) {
                set(assign.name(), new Constant(Type.EMPTY, null));
            }
        }
        return null;
    }

    private void refuseTwice(Set<String> named, Assign assign) {
        if (!named.add(assign.name())) {
            throw context.complaint(
                    assign.at(), "'" + assign.name() + "' is given twice here.", "Give the second another name.");
        }
    }

    /** A name for a value; what stands in a slot already is not worked out again. */
    private void set(String name, Expression value) {
        if (value instanceof FieldRef known) {
            scope.put(name, new Scope.Seen(known.index(), value.type()));
            return;
        }
        int slot = scope.newSlot();
        steps.compute(new Step.Assignment(slot, name, value));
        scope.put(name, new Scope.Seen(slot, value.type()));
    }

    private java.util.Optional<dev.fiesta.language.Unit> periodOf(Expr expr) {
        return Periods.of(expr, name -> scope.periods().get(name));
    }

    @Override
    public @Nullable Void per(Clause.Per clause) {
        if (!clause.against().isEmpty()) {
            throw context.complaint(
                    clause.against().get(0).key().at(),
                    "'against' is not there yet.",
                    "Group by this key too: 'per site, method'.");
        }
        new GroupBinder(context, scope, steps, laterFigures).bind(clause);
        return null;
    }

    @Override
    public @Nullable Void sort(Clause.Sort clause) {
        List<OrderKey> keys = clause.keys().stream()
                .map(k -> new OrderKey(row("sort", k.key(), false), k.descending()))
                .toList();
        steps.add(new Step.Sort(keys));
        return null;
    }

    @Override
    public @Nullable Void first(Clause.First clause) {
        steps.add(new Step.Limit(count(clause.count(), "first")));
        return null;
    }

    /** A number of rows, written out or a parameter. */
    private long count(Expr expr, String clause) {
        Expression bound = row(clause, expr, false);
        if (bound instanceof Constant constant && constant.value() instanceof Long n && n >= 0) {
            return n;
        }
        throw context.complaint(
                expr.at(),
                "After '" + clause + "' stands a number of rows.",
                "Write for instance '" + clause + " 10'.");
    }

    @Override
    public @Nullable Void distinct(Clause.Distinct clause) {
        List<Integer> slots = clause.fields().isEmpty()
                ? scope.slots()
                : clause.fields().stream().map(f -> seen(f, "distinct").slot()).toList();
        steps.add(new Step.Distinct(slots));
        return null;
    }

    @Override
    public @Nullable Void match(Clause.Match clause) {
        new MatchBinder(context, scope, steps, tables.apply(clause.table())).bind(clause, place(clause));
        return null;
    }

    @Override
    public @Nullable Void append(Clause.Append clause) {
        List<TablePlan> others = clause.tables().stream().map(tables).toList();
        LinkedHashMap<String, Type> types = new LinkedHashMap<>();
        scope.schema().fields().forEach(f -> types.put(f.name(), f.type()));
        for (int t = 0; t < others.size(); t++) {
            for (Field field : others.get(t).schema().fields()) {
                Type had = types.getOrDefault(field.name(), Type.EMPTY);
                Type common = Types.common(had, field.type());
                if (common == null) {
                    throw context.complaint(
                            clause.tables().get(t).at(),
                            "'" + field.name() + "' is " + field.type().withArticle() + " in '"
                                    + others.get(t).name() + "', but " + had.withArticle() + " in the rows above.",
                            "Convert one of them with 'add' before.");
                }
                types.put(field.name(), common);
            }
        }
        List<String> names = List.copyOf(types.keySet());
        List<Integer> ours = names.stream()
                .map(n -> scope.find(n) == null
                        ? -1
                        : java.util.Objects.requireNonNull(scope.find(n)).slot())
                .toList();
        List<List<Integer>> theirs = others.stream()
                .map(o -> names.stream().map(n -> o.schema().indexOf(n)).toList())
                .toList();
        steps.add(new Step.Append(others, ours, theirs, List.copyOf(types.values())));
        restart(types);
        return null;
    }

    private void restart(Map<String, Type> fields) {
        scope.restart(fields.size());
        int[] slot = {0};
        fields.forEach((name, type) -> scope.put(name, new Scope.Seen(slot[0]++, type)));
    }

    @Override
    public @Nullable Void unfold(Clause.Unfold clause) {
        Type type = Type.EMPTY;
        List<Integer> slots = new ArrayList<>();
        List<String> names = new ArrayList<>();
        for (Ref field : clause.fields()) {
            Scope.Seen seen = seen(field, "unfold");
            Type common = Types.common(type, seen.type());
            if (common == null) {
                throw context.complaint(
                        field.at(),
                        "'" + field.name() + "' is " + seen.type().withArticle() + ", the fields before it are " + type
                                + ".",
                        "Fields that become one column must be of one type.");
            }
            type = common;
            slots.add(seen.slot());
            names.add(field.name());
        }
        LinkedHashMap<String, Type> fields = new LinkedHashMap<>();
        List<Integer> kept = new ArrayList<>();
        for (Field field : scope.schema().fields()) {
            if (!names.contains(field.name())) {
                fields.put(field.name(), field.type());
                kept.add(java.util.Objects.requireNonNull(scope.find(field.name()))
                        .slot());
            }
        }
        for (Ref name : List.of(clause.name(), clause.value())) {
            if (fields.put(name.name(), name == clause.name() ? Type.TEXT : type) != null) {
                throw context.complaint(
                        name.at(), "There is a field '" + name.name() + "' already.", "Choose another name.");
            }
        }
        steps.add(new Step.Unfold(kept, slots, names, type));
        restart(fields);
        return null;
    }

    @Override
    public @Nullable Void rename(Clause.Rename clause) {
        Map<String, String> names = new HashMap<>();
        for (Clause.Brought pair : clause.names()) {
            seen(pair.field(), "rename");
            boolean taken = scope.find(pair.as()) != null
                    && clause.names().stream().noneMatch(p -> p.field().name().equals(pair.as()));
            if (taken || names.containsValue(pair.as())) {
                throw context.complaint(
                        pair.field().at(),
                        "There would be two fields '" + pair.as() + "'.",
                        "Rename or drop the other first.");
            }
            names.put(pair.field().name(), pair.as());
        }
        scope.rename(names);
        return null;
    }

    @Override
    public @Nullable Void drop(Clause.Drop clause) {
        clause.fields().forEach(f -> seen(f, "drop"));
        clause.fields().forEach(f -> scope.remove(f.name()));
        return null;
    }

    @Override
    public @Nullable Void columns(Clause.Columns clause) {
        List<ViewColumn> columns = new ArrayList<>();
        Set<String> met = new LinkedHashSet<>();
        Set<String> named = new LinkedHashSet<>();
        clause.columns().forEach(c -> named.add(c.field().name().name()));
        for (Clause.Shown shown : clause.columns()) {
            context.attempt(() -> {
                for (String field : fields(shown.field(), named)) {
                    if (!met.add(field)) {
                        throw context.complaint(
                                shown.field().name().at(), "The column '" + field + "' stands twice.", null);
                    }
                    columns.add(new ViewColumn(field, shown.title(), shown.formats()));
                }
            });
        }
        view = columns;
        return null;
    }

    /** The fields that an entry of {@code columns} names. */
    private List<String> fields(Clause.FieldPattern pattern, Set<String> named) {
        List<String> all = scope.names();
        String name = pattern.name().name();
        if (pattern.others()) {
            return all.stream().filter(n -> !named.contains(n)).toList();
        }
        if (pattern.pattern()) {
            List<String> found =
                    all.stream().filter(n -> Globs.matches(name, n)).toList();
            if (found.isEmpty()) {
                throw context.complaint(
                        pattern.name().at(), "No field fits '" + name + "'.", Names.didYouMean(name, all, "There are"));
            }
            return found;
        }
        seen(pattern.name(), "columns");
        if (pattern.to() == null) {
            return List.of(name);
        }
        seen(pattern.to(), "columns");
        int from = all.indexOf(name);
        int to = all.indexOf(pattern.to().name());
        if (from > to) {
            throw context.complaint(
                    pattern.to().at(), "'" + pattern.to().name() + "' stands before '" + name + "'.", null);
        }
        return all.subList(from, to + 1);
    }

    @Override
    public @Nullable Void check(Clause.Check clause) {
        Expression condition = row("check", clause.condition(), true);
        steps.add(check(condition, List.of(), null, 0, clause.at(), clause.message(), clause.warn()));
        return null;
    }

    @Override
    public @Nullable Void checkUnique(Clause.CheckUnique clause) {
        List<Integer> slots =
                clause.fields().stream().map(f -> seen(f, "check").slot()).toList();
        steps.add(check(null, slots, null, 0, clause.at(), clause.message(), clause.warn()));
        return null;
    }

    @Override
    public @Nullable Void checkRows(Clause.CheckRows clause) {
        long count = count(clause.count(), "check rows");
        steps.add(check(null, List.of(), clause.op(), count, clause.at(), clause.message(), clause.warn()));
        return null;
    }

    private Step.Check check(
            @Nullable Expression condition,
            List<Integer> unique,
            dev.fiesta.language.@Nullable Op op,
            long count,
            Span at,
            @Nullable String message,
            boolean warn) {
        dev.fiesta.compute.Apply.Place place = context.place(at);
        String text = place.at() + ": " + (message == null ? "" : message + "\n  ") + place.text();
        return new Step.Check(condition, unique, op, count, text, warn, scope.schema(), scope.slots());
    }

    @Override
    public @Nullable Void totals(Clause.Totals clause) {
        throw context.complaint(clause.at(), "'totals' is not there yet.", null);
    }

    @Override
    public @Nullable Void highest(Clause.Highest clause) {
        throw context.complaint(clause.at(), "'highest' is not there yet.", null);
    }

    @Override
    public @Nullable Void gapless(Clause.Gapless clause) {
        throw context.complaint(clause.at(), "'gapless' is not there yet.", null);
    }
}
