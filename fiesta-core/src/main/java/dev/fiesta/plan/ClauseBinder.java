package dev.fiesta.plan;

import dev.fiesta.compute.Constant;
import dev.fiesta.compute.Expression;
import dev.fiesta.compute.FieldRef;
import dev.fiesta.compute.Logic;
import dev.fiesta.compute.Types;
import dev.fiesta.language.Assign;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Expr;
import dev.fiesta.language.Formats;
import dev.fiesta.language.Op;
import dev.fiesta.language.Ref;
import dev.fiesta.language.Span;
import dev.fiesta.plan.Step.OrderKey;
import dev.fiesta.plan.Step.WalkSpec;
import dev.fiesta.plan.TablePlan.TotalPlan;
import dev.fiesta.plan.TablePlan.ViewColumn;
import dev.fiesta.value.Field;
import dev.fiesta.value.Type;
import java.math.BigDecimal;
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
    private Scope scope;
    private StepList steps = new StepList();
    private Map<String, Integer> laterFigures = Map.of();
    private @Nullable List<ViewColumn> view;
    private Grouped grouped = Grouped.NONE;
    private int totalsBy = -1;
    private boolean keepsStates;
    private boolean countsRecords;
    private @Nullable Crossed crossed;
    private final Map<String, Integer> few = new LinkedHashMap<>();
    private final List<TablePlan.Written> written = new ArrayList<>();

    /** Where a cross-tabulation began: the groups and their steps, from then on others are added to. */
    private record Crossed(CrossBinder cross, Scope groups, StepList steps) {}

    private int standing = -1;
    private @Nullable List<Clause.Shown> shown;

    /**
     * What is known of the last grouping.
     *
     * @param group its step, or null when rows are no longer its groups
     * @param from the number of steps up to it
     * @param additive slots of counts and sums
     */
    record Grouped(Step.@Nullable Group group, int from, Set<Integer> additive) {
        static final Grouped NONE = new Grouped(null, 0, Set.of());
    }

    /** @param tables finds another table by name, or complains */
    ClauseBinder(Context context, TablePlan from, Function<Ref, TablePlan> tables) {
        this.context = context;
        this.tables = tables;
        this.scope = Scope.of(from);
    }

    /** Settles clauses; problems are gathered and each clause goes on where the one before it left. */
    TablePlan bind(String name, TablePlan from, List<Clause> clauses) {
        keepsStates = keepsStates(clauses);
        countsRecords = clauses.stream().anyMatch(c -> c instanceof Clause.Columns columns && marksFew(columns));
        for (int i = 0; i < clauses.size(); i++) {
            Clause clause = clauses.get(i);
            laterFigures = RowSurroundings.figures(context, clauses.subList(i + 1, clauses.size()));
            if ((view != null || shown != null) && !isCheck(clause)) {
                view = null;
                shown = null;
                context.problems()
                        .add(context.complaint(
                                        clause.at(),
                                        "'columns' is the last clause of a table, only 'check' may follow it.",
                                        "Put this clause before 'columns'.")
                                .problem());
            }
            context.attempt(() -> {
                refuseAfterCrossing(clause);
                clause.accept(this);
            });
            int line = context.text().line(clause.at());
            int done = crossed == null
                    ? steps.list().size()
                    : crossed.steps().list().size();
            written.add(new TablePlan.Written(text(clause), line, done, scope.schema(), scope.level()));
        }
        return crossed == null ? plain(name, from) : crossed(crossed, name, from);
    }

    /** Whether states of groups are needed behind the grouping: for totals, rests, and totals of rows laid out. */
    private static boolean keepsStates(List<Clause> clauses) {
        boolean laidOut = false;
        boolean keeps = false;
        for (Clause clause : clauses) {
            keeps |= clause instanceof Clause.Totals || (clause instanceof Clause.Highest h && h.rest() != null);
            keeps |= laidOut && !(clause instanceof Clause.Columns) && !(clause instanceof Clause.Hide);
            laidOut |= clause instanceof Clause.Per per && !per.against().isEmpty();
        }
        return keeps;
    }

    private TablePlan plain(String name, TablePlan from) {
        List<TablePlan.Mark> marks = new ArrayList<>(scope.hidden());
        few.forEach((field, slot) -> marks.add(new TablePlan.Mark(scope.names().indexOf(field), slot, false)));
        return new TablePlan(
                name,
                from,
                steps.list(),
                scope.slots(),
                scope.origin(),
                scope.schema(),
                view == null ? TablePlan.view(scope.schema()) : view,
                scope.level(),
                Map.copyOf(scope.periods()),
                totals(),
                null,
                marks,
                written);
    }

    private TablePlan crossed(Crossed crossed, String name, TablePlan from) {
        Scope groups = crossed.groups();
        List<Step> after = steps.list();
        steps = crossed.steps();
        Step.Recomputed recomputed = recomputed(java.util.Objects.requireNonNull(grouped.group()));
        return new TablePlan(
                name,
                from,
                steps.list(),
                groups.slots(),
                groups.origin(),
                groups.schema(),
                TablePlan.view(groups.schema()),
                groups.level(),
                Map.copyOf(groups.periods()),
                null,
                crossed.cross().crossing(groups, scope, after, standing, shown, recomputed),
                List.of(),
                written);
    }

    private void refuseAfterCrossing(Clause clause) {
        boolean known = clause instanceof Clause.Only
                || clause instanceof Clause.Add
                || clause instanceof Clause.Sort
                || clause instanceof Clause.First
                || (clause instanceof Clause.Highest highest && highest.rest() == null)
                || clause instanceof Clause.Totals
                || clause instanceof Clause.Hide
                || clause instanceof Clause.Columns
                || isCheck(clause);
        if (crossed != null && !known) {
            throw context.complaint(
                    clause.at(),
                    "After 'against' rows are laid out; 'only', 'add', 'sort', 'first', 'highest', 'lowest', 'totals', "
                            + "'hide', 'columns' and 'check' can follow.",
                    "Do this in a table of its own before, and lay that table out with 'per … against'.");
        }
    }

    private static boolean isCheck(Clause clause) {
        return clause instanceof Clause.Check
                || clause instanceof Clause.CheckUnique
                || clause instanceof Clause.CheckRows
                || clause instanceof Clause.CheckSum;
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

    private String text(Clause clause) {
        return context.text().at(clause.at()).replaceAll("\\s+", " ");
    }

    private String place(Clause clause) {
        String text = text(clause);
        return text.length() > 60 ? text.substring(0, 59) + "…" : text;
    }

    @Override
    public @Nullable Void only(Clause.Only clause) {
        Expression condition = row("only", clause.condition(), true);
        steps.add(new Step.Filter(Logic.conjuncts(condition), place(clause)));
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
        CrossBinder cross = clause.against().isEmpty() ? null : new CrossBinder(context, clause);
        Clause.Per grouping = cross == null ? clause : cross.grouping(e -> row("per", e, true), steps);
        grouped = new GroupBinder(context, scope, steps, laterFigures).bind(grouping, keepsStates, countsRecords);
        totalsBy = -1;
        if (context.calendar().collate() != null) {
            orderKeys(java.util.Objects.requireNonNull(grouped.group()));
        }
        if (cross != null) {
            crossed = new Crossed(cross, scope, steps);
            scope = cross.laidOut(scope);
            steps = new StepList();
        }
        return null;
    }

    /** Groups stand by the alphabet of the brief. */
    private void orderKeys(Step.Group group) {
        List<OrderKey> order = new ArrayList<>();
        for (int k = 0; k < group.keys().size(); k++) {
            order.addAll(context.order(new FieldRef(k, group.keys().get(k).type()), false));
        }
        if (order.size() > group.keys().size()) {
            steps.add(new Step.Sort(order));
        }
    }

    @Override
    public @Nullable Void sort(Clause.Sort clause) {
        List<OrderKey> keys = clause.keys().stream()
                .flatMap(k -> context.order(row("sort", k.key(), false), k.descending()).stream())
                .toList();
        steps.add(new Step.Sort(keys));
        return null;
    }

    @Override
    public @Nullable Void first(Clause.First clause) {
        steps.add(new Step.Limit(count(clause.count(), "first"), true));
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
        grouped = Grouped.NONE;
        return null;
    }

    @Override
    public @Nullable Void sample(Clause.Sample clause) {
        BigDecimal count =
                clause.percent() ? percent(clause.count()) : BigDecimal.valueOf(count(clause.count(), "sample"));
        List<Expression> within =
                clause.within().stream().map(k -> row("sample", k, false)).toList();
        steps.add(new Step.Sample(count, clause.percent(), within, clause.seed(), scope.identity(), false));
        return null;
    }

    private BigDecimal percent(Expr expr) {
        Object value = row("sample", expr, false) instanceof Constant constant ? constant.value() : null;
        BigDecimal percent = value instanceof Long n ? BigDecimal.valueOf(n) : value instanceof BigDecimal d ? d : null;
        if (percent == null || percent.signum() < 0 || percent.compareTo(BigDecimal.valueOf(100)) > 0) {
            throw context.complaint(
                    expr.at(),
                    "Before 'percent' stands a number from 0 to 100.",
                    "Write for instance 'sample 5 percent'.");
        }
        return percent;
    }

    @Override
    public @Nullable Void shuffle(Clause.Shuffle clause) {
        BigDecimal all = BigDecimal.valueOf(100);
        steps.add(new Step.Sample(all, true, List.of(), clause.seed(), scope.identity(), true));
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
        grouped = Grouped.NONE;
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
        grouped = Grouped.NONE;
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
        if (crossed != null) {
            shown = clause.columns();
            if (!scope.hasColumnsFromData()) {
                shownColumns(clause);
            }
            for (Clause.Shown column : clause.columns()) {
                Clause.FieldPattern field = column.field();
                if (scope.hasColumnsFromData() && !field.pattern() && !field.others()) {
                    context.attempt(() -> seen(field.name(), "columns"));
                }
            }
            return null;
        }
        view = shownColumns(clause);
        for (Clause.Shown column : clause.columns()) {
            context.attempt(() -> markFew(column));
        }
        return null;
    }

    /** The entries written out; a name that is not there is complained about. */
    private List<ViewColumn> shownColumns(Clause.Columns clause) {
        for (Clause.Shown column : clause.columns()) {
            Clause.FieldPattern field = column.field();
            context.attempt(() -> {
                if (field.pattern() || field.others()) {
                    return;
                }
                seen(field.name(), "columns");
                if (field.to() != null) {
                    seen(field.to(), "columns");
                }
            });
        }
        List<String> all = crossed == null ? scope.names() : scope.reachable();
        ShownColumns columns = new ShownColumns(clause.columns(), all);
        columns.wrong()
                .forEach(w -> context.attempt(() -> {
                    throw context.complaint(w.field().name().at(), w.message(), w.wayOut());
                }));
        return columns.view();
    }

    private static boolean marksFew(Clause.Columns clause) {
        return clause.columns().stream().anyMatch(c -> fewest(c) != null);
    }

    private static @Nullable String fewest(Clause.Shown column) {
        return column.formats().stream()
                .filter(f -> f.name().equals(Formats.MARK_FEW))
                .map(Clause.Format::argument)
                .findFirst()
                .orElse(null);
    }

    /** A slot that is true where a group has fewer records than wanted. */
    private void markFew(Clause.Shown column) {
        String fewest = fewest(column);
        if (fewest == null) {
            return;
        }
        Ref name = column.field().name();
        if (scope.find(GroupBinder.RECORDS) == null) {
            throw context.complaint(
                    name.at(),
                    "'mark few' needs to know how many records a group has, and no 'per' of this table makes groups.",
                    "Put 'columns' into the table that groups.");
        }
        Expr records = new Expr.Name(GroupBinder.RECORDS, name.at());
        Expr least = new Expr.Literal(Type.INTEGER, Long.valueOf(fewest), name.at());
        Expression isFew = row("columns", new Expr.Binary(Op.LESS, records, least, name.at()), true);
        int slot = scope.newSlot();
        steps.compute(new Step.Assignment(slot, "few", isFew));
        for (String field : new ShownColumns(List.of(column), scope.names()).fields()) {
            few.put(field, slot);
        }
    }

    @Override
    public @Nullable Void hide(Clause.Hide clause) {
        Scope laidOut = scope;
        StepList later = steps;
        if (crossed != null) {
            scope = crossed.groups();
            steps = crossed.steps();
        }
        try {
            hideFigures(clause);
        } finally {
            scope = laidOut;
            steps = later;
        }
        return null;
    }

    private void hideFigures(Clause.Hide clause) {
        List<String> keys = scope.level().keys();
        if (keys == null) {
            throw context.complaint(
                    clause.at(), "'hide' keeps figures of groups from being shown, and these rows are records.", null);
        }
        for (Ref figure : clause.figures()) {
            seen(figure, "hide");
            if (keys.contains(figure.name())) {
                throw context.complaint(
                        figure.at(),
                        "'" + figure.name() + "' is a key, and 'hide' hides figures.",
                        "To leave whole groups out, write 'only'.");
            }
        }
        Expression condition = row("hide", clause.condition(), true);
        for (Ref figure : clause.figures()) {
            int slot = seen(figure, "hide").slot();
            int before = scope.mark(slot);
            Expression either = before < 0 ? condition : Logic.or(new FieldRef(before, Type.TRUTH), condition);
            int mark = scope.newSlot();
            steps.compute(new Step.Assignment(mark, "hide", either));
            scope.hide(slot, mark);
        }
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

    @Override
    public @Nullable Void checkSum(Clause.CheckSum clause) {
        Scope.Seen ours = seen(clause.field(), "check");
        TablePlan other = tables.apply(clause.table());
        int place = other.schema().indexOf(clause.theirs().name());
        if (place < 0) {
            throw context.complaint(
                    clause.theirs().at(),
                    "'" + other.name() + "' has no field '" + clause.theirs().name() + "'.",
                    dev.fiesta.problem.Names.didYouMean(
                            clause.theirs().name(), other.schema().names(), "It has"));
        }
        steps.add(new Step.CheckSum(
                other,
                ours.slot(),
                place,
                sum(ours.type(), clause.field()),
                sum(other.schema().type(place), clause.theirs()),
                text(clause.at(), clause.message()),
                clause.warn()));
        return null;
    }

    private dev.fiesta.gather.GatherFunction.Bound sum(Type type, Ref field) {
        var args = new dev.fiesta.compute.Arguments(List.of(new FieldRef(0, type)), context.calendar());
        try {
            return java.util.Objects.requireNonNull(dev.fiesta.gather.GatherFunctions.find("sum"))
                    .rule()
                    .bind(args);
        } catch (dev.fiesta.compute.Misuse misuse) {
            throw context.complaint(field.at(), misuse.sentence().replace("{}", field.name()), null);
        }
    }

    private String text(Span at, @Nullable String message) {
        dev.fiesta.compute.Apply.Place place = context.place(at);
        return place.at() + ": " + (message == null ? "" : message + "\n  ") + place.text();
    }

    private Step.Check check(
            @Nullable Expression condition,
            List<Integer> unique,
            dev.fiesta.language.@Nullable Op op,
            long count,
            Span at,
            @Nullable String message,
            boolean warn) {
        String text = text(at, message);
        return new Step.Check(condition, unique, op, count, text, warn, scope.schema(), scope.slots());
    }

    @Override
    public @Nullable Void totals(Clause.Totals clause) {
        Step.Group group = groups(clause.at(), "'totals'");
        List<String> keys = java.util.Objects.requireNonNull(scope.level().keys());
        if (crossed != null && !clause.by().isEmpty()) {
            throw context.complaint(clause.at(), "Subtotals are not laid out with 'against'.", "Write 'totals' alone.");
        }
        for (int i = 0; i < clause.by().size(); i++) {
            Ref key = clause.by().get(i);
            if (i >= keys.size() - 1 || !keys.get(i).equals(key.name())) {
                throw context.complaint(
                        key.at(),
                        "Subtotals go by the first keys of the grouping, not by '" + key.name() + "'.",
                        keys.size() < 2
                                ? "With one key there is only the grand total: 'totals'."
                                : "Write 'totals by " + String.join(", ", keys.subList(0, keys.size() - 1))
                                        + "', or change the order of the keys.");
            }
        }
        if (group.keys().isEmpty()) {
            throw context.complaint(clause.at(), "There is one group only, so there is nothing to total.", null);
        }
        if (crossed != null) {
            standing = steps.list().size();
            return null;
        }
        totalsBy = clause.by().size();
        steps.add(new Step.Totals(totalsBy));
        return null;
    }

    private @Nullable TotalPlan totals() {
        if (totalsBy < 0 || grouped.group() == null) {
            return null;
        }
        List<Integer> slots = scope.slots();
        int keys = grouped.group().keys().size();
        List<Integer> labels = java.util.stream.IntStream.range(0, keys)
                .mapToObj(slots::indexOf)
                .toList();
        return new TotalPlan(totalsBy, recomputed(grouped.group()), labels);
    }

    /** How rows are worked out from merged groups: the steps since the grouping that look at one row only. */
    private Step.Recomputed recomputed(Step.Group group) {
        List<Step.Compute> replay = new ArrayList<>();
        Map<Integer, Type> missing = new HashMap<>();
        for (Step step : steps.list().subList(grouped.from(), steps.list().size())) {
            if (step instanceof Step.Compute compute) {
                replay.add(compute);
            } else if (step instanceof Step.Walks walks) {
                walks.specs().forEach(w -> missing.put(w.slot(), w.calculation().type()));
            } else if (step instanceof Step.Match match) {
                match.bring().forEach(m -> missing.put(m.slot(), m.type()));
            }
        }
        return new Step.Recomputed(group, replay, missing);
    }

    /** The grouping whose groups the rows still are. */
    private Step.Group groups(Span at, String what) {
        Step.Group group = grouped.group();
        if (group == null) {
            throw context.complaint(
                    at,
                    what + " must stand in the table that groups, before rows are joined or parted otherwise.",
                    scope.level().isGroups()
                            ? "Put it behind the 'per … give', before 'append', 'distinct' or 'unfold'."
                            : "Group first: per … give ….");
        }
        return group;
    }

    @Override
    public @Nullable Void highest(Clause.Highest clause) {
        long count = count(clause.count(), clause.lowest() ? "lowest" : "highest");
        Expression by = row("sort", clause.by(), false);
        List<Expression> within =
                clause.within().stream().map(k -> row("sort", k, false)).toList();
        Step.Rest rest = clause.rest() == null ? null : rest(clause, clause.rest());
        steps.add(new Step.Highest(clause.lowest(), count, by, within, rest));
        return null;
    }

    private Step.Rest rest(Clause.Highest clause, String label) {
        Step.Group group = groups(clause.at(), "'rest as'");
        List<String> keys = java.util.Objects.requireNonNull(scope.level().keys());
        List<Integer> kept = new ArrayList<>();
        for (Expr key : clause.within()) {
            int place = key instanceof Expr.Name name ? keys.indexOf(name.name()) : -1;
            if (place < 0) {
                throw context.complaint(
                        key.at(),
                        "With 'rest as', 'within' names keys of the grouping.",
                        "The keys are: " + String.join(", ", keys) + ".");
            }
            kept.add(place);
        }
        int shown = 0;
        while (kept.contains(shown)) {
            shown++;
        }
        if (shown >= keys.size() || group.keys().get(shown).type().kind() != dev.fiesta.value.Kind.TEXT) {
            throw context.complaint(
                    clause.at(),
                    "The label '" + label + "' needs a text key that 'within' does not name, to stand in.",
                    shown >= keys.size()
                            ? "Leave one key out of 'within'."
                            : "Make '" + keys.get(shown) + "' a text: per " + keys.get(shown) + " = text(…).");
        }
        return new Step.Rest(label, shown, kept, recomputed(group));
    }

    @Override
    public @Nullable Void gapless(Clause.Gapless clause) {
        new GaplessBinder(context, scope, steps, tables, grouped.additive())
                .bind(clause, e -> row("gapless", e, false));
        return null;
    }
}
