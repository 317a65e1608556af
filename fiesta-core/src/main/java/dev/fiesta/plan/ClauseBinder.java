package dev.fiesta.plan;

import dev.fiesta.compute.Constant;
import dev.fiesta.compute.Expression;
import dev.fiesta.compute.FieldRef;
import dev.fiesta.compute.Filled;
import dev.fiesta.compute.Logic;
import dev.fiesta.compute.Types;
import dev.fiesta.language.Assign;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Expr;
import dev.fiesta.language.Ref;
import dev.fiesta.plan.Step.OrderKey;
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
final class ClauseBinder extends TableBinding implements Clause.Visitor<@Nullable Void> {
    private @Nullable List<ViewColumn> view;
    private int totalsBy = -1;
    private boolean keepsStates;
    private boolean countsRecords;
    private final List<TablePlan.Written> written = new ArrayList<>();

    private final CheckBinder checks = new CheckBinder(this);
    private final ColumnsBinder columns = new ColumnsBinder(this);
    private int standing = -1;
    private @Nullable List<Clause.Shown> shown;

    /** @param tables finds another table by name, or complains */
    ClauseBinder(Context context, TablePlan from, Function<Ref, TablePlan> tables) {
        super(context, from, tables);
    }

    /** Settles clauses; problems are gathered and each clause goes on where the one before it left. */
    TablePlan bind(String name, TablePlan from, List<Clause> clauses) {
        keepsStates = keepsStates(clauses);
        countsRecords =
                clauses.stream().anyMatch(c -> c instanceof Clause.Columns columns && ColumnsBinder.marksFew(columns));
        context.texts().begin();
        for (int i = 0; i < clauses.size(); i++) {
            Clause clause = clauses.get(i);
            context.texts()
                    .clause(
                            isCheck(clause) ? n -> null : this::inputText,
                            clause instanceof Clause.Only only
                                    ? only.condition().at()
                                    : null);
            laterFigures = LaterFigures.of(context, clauses, i);
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
                refuseAfterTotals(clause);
                clause.accept(this);
            });
            int line = context.text().line(clause.at());
            int done = crossed == null
                    ? steps.list().size()
                    : crossed.steps().list().size();
            boolean laidOut = crossed != null && !(clause instanceof Clause.Per);
            written.add(new TablePlan.Written(text(clause), line, done, scope.schema(), scope.level(), laidOut));
        }
        return crossed == null ? plain(name, from) : crossed(crossed, name, from);
    }

    private InputTexts.@Nullable InputField inputText(String name) {
        Scope.Seen seen = scope.find(name);
        return seen == null ? null : scope.text(seen.slot());
    }

    /** Whether states of groups are needed behind the grouping: for totals, rests, and totals of rows laid out. */
    private static boolean keepsStates(List<Clause> clauses) {
        boolean laidOut = false;
        boolean keeps = false;
        for (Clause clause : clauses) {
            keeps |= clause instanceof Clause.Totals || (clause instanceof Clause.First f && f.rest() != null);
            keeps |= laidOut && !(clause instanceof Clause.Columns) && !(clause instanceof Clause.Hide);
            laidOut |= clause instanceof Clause.Per per && !per.against().isEmpty();
        }
        return keeps;
    }

    private TablePlan plain(String name, TablePlan from) {
        List<TablePlan.Mark> marks = new ArrayList<>(scope.hidden());
        marks.addAll(columns.marks());
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
                written,
                new InputTexts(scope.texts(), context.texts().found()),
                columns.courses());
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
                crossed.cross().crossing(groups, scope, after, standing, shown, recomputed, grouped.additive()),
                List.of(),
                written,
                new InputTexts(Map.of(), context.texts().found()),
                List.of());
    }

    /** Total rows belong to the rows that stand: what changes those comes before. */
    private void refuseAfterTotals(Clause clause) {
        boolean keeps = clause instanceof Clause.Add
                || clause instanceof Clause.Sort
                || clause instanceof Clause.Rename
                || clause instanceof Clause.Drop
                || clause instanceof Clause.Hide
                || clause instanceof Clause.Columns
                || isCheck(clause);
        if ((totalsBy >= 0 || standing >= 0) && !keeps) {
            String word = context.text().at(clause.at()).replaceFirst("(?s)\\W.*", "");
            throw context.complaint(
                    clause.at(),
                    "'" + word
                            + "' after 'totals' would change the rows, and the totals would not belong to them any more.",
                    "Put it before 'totals'; after it may stand add, sort, rename, drop, hide, columns and check.");
        }
    }

    private void refuseAfterCrossing(Clause clause) {
        boolean known = clause instanceof Clause.Only
                || clause instanceof Clause.Add
                || clause instanceof Clause.Sort
                || (clause instanceof Clause.First first && first.rest() == null)
                || clause instanceof Clause.Totals
                || clause instanceof Clause.Hide
                || clause instanceof Clause.Columns
                || isCheck(clause);
        if (crossed != null && !known) {
            throw context.complaint(
                    clause.at(),
                    "After 'against' rows are laid out; 'only', 'add', 'sort', 'first', 'totals', "
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
        steps.compute(new Step.Assignment(slot, name, value, scope.read(value)));
        scope.put(name, new Scope.Seen(slot, value.type()));
    }

    private java.util.Optional<dev.fiesta.value.Unit> periodOf(Expr expr) {
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
        long count = count(clause.count(), "first");
        if (clause.within().isEmpty() && clause.along().isEmpty()) {
            steps.wantOnly(count);
            steps.add(new Step.Limit(count, true));
            return null;
        }
        List<Expression> within =
                clause.within().stream().map(k -> row("sort", k, false)).toList();
        List<OrderKey> along = clause.along().stream()
                .flatMap(k -> context.order(row("sort", k.key(), false), k.descending()).stream())
                .toList();
        Step.Rest rest = clause.rest() == null ? null : rest(clause, clause.rest());
        steps.add(new Step.Firsts(count, within, along, rest));
        return null;
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
    public @Nullable Void turn(Clause.Turn clause) {
        Type type = Type.EMPTY;
        List<Integer> slots = new ArrayList<>();
        List<String> names = new ArrayList<>();
        for (Ref field : clause.fields()) {
            Scope.Seen seen = seen(field, "turn");
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
        steps.add(new Step.Turn(kept, slots, names, type));
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
        int line = context.text().line(clause.at());
        clause.fields().forEach(f -> scope.drop(f.name(), line));
        return null;
    }

    @Override
    public @Nullable Void columns(Clause.Columns clause) {
        view = columns.view(clause);
        shown = crossed == null ? null : clause.columns();
        return null;
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
            new HideBinder(this).hide(clause);
        } finally {
            scope = laidOut;
            steps = later;
        }
        return null;
    }

    @Override
    public @Nullable Void check(Clause.Check clause) {
        checks.every(clause);
        return null;
    }

    @Override
    public @Nullable Void checkUnique(Clause.CheckUnique clause) {
        checks.unique(clause);
        return null;
    }

    @Override
    public @Nullable Void checkRows(Clause.CheckRows clause) {
        checks.rows(clause);
        return null;
    }

    @Override
    public @Nullable Void checkSum(Clause.CheckSum clause) {
        checks.sums(clause);
        return null;
    }

    @Override
    public @Nullable Void totals(Clause.Totals clause) {
        Step.Group group = groups(clause.at(), "'totals'");
        scope.forgetTexts();
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

    private Step.Rest rest(Clause.First clause, String label) {
        Step.Group group = groups(clause.at(), "'rest as'");
        scope.forgetTexts();
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
    public @Nullable Void fill(Clause.Fill clause) {
        FillBinder filling = new FillBinder(clause);
        if (clause.atMost() instanceof Expr.Period) {
            filling.refuseUndated(
                    context, row("fill", clause.along().get(0).key(), false).type());
        }
        List<Expression> filled = new ArrayList<>();
        for (Ref field : clause.fields()) {
            Scope.Seen seen = seen(field, "fill");
            Expression known = new FieldRef(seen.slot(), seen.type());
            Expression value = row("fill", filling.filling(field), false);
            filled.add(new Filled(known, value, place(clause) + ": " + field.name()));
        }
        for (int i = 0; i < filled.size(); i++) {
            int slot = scope.newSlot();
            String name = clause.fields().get(i).name();
            steps.compute(new Step.Assignment(slot, name, filled.get(i))); // what stays missing is no surprise
            scope.put(name, new Scope.Seen(slot, filled.get(i).type()));
        }
        return null;
    }

    @Override
    public @Nullable Void gapless(Clause.Gapless clause) {
        new GaplessBinder(context, scope, steps, tables, grouped.additive())
                .bind(clause, e -> row("gapless", e, false));
        scope.forgetTexts();
        return null;
    }
}
