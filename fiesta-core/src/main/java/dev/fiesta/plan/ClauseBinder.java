package dev.fiesta.plan;

import dev.fiesta.compute.Constant;
import dev.fiesta.compute.Expression;
import dev.fiesta.compute.FieldRef;
import dev.fiesta.compute.Logic;
import dev.fiesta.language.Assign;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Expr;
import dev.fiesta.language.Ref;
import dev.fiesta.step.DistinctStep;
import dev.fiesta.step.FilterStep;
import dev.fiesta.step.InputTexts;
import dev.fiesta.step.OrderKey;
import dev.fiesta.step.Recomputed;
import dev.fiesta.step.SortStep;
import dev.fiesta.step.Step;
import dev.fiesta.step.TablePlan;
import dev.fiesta.step.TablePlan.ViewColumn;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/** Settles the clauses of one table, one behind the other. */
final class ClauseBinder extends TableBinding implements Clause.Visitor<@Nullable Void> {
    private @Nullable List<ViewColumn> view;
    private boolean keepsStates;
    private boolean countsRecords;
    private final List<TablePlan.Written> written = new ArrayList<>();

    private final CheckBinder checks = new CheckBinder(this);
    private final ColumnsBinder columns = new ColumnsBinder(this);
    private final TotalsBinder totals = new TotalsBinder(this);
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
            boolean good = context.attempt(() -> {
                CrossBinder.refuseBehind(this, clause);
                totals.refuseBehind(clause);
                clause.<@Nullable Void>accept(this);
            });
            if (!good) {
                StandIns.names(clause).stream()
                        .filter(n -> scope.find(n) == null)
                        .forEach(n -> set(n, new Constant(Type.EMPTY, null)));
            }
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
                totals.plan(),
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
        Recomputed recomputed = recomputed(Objects.requireNonNull(grouped.group()));
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
                crossed.cross()
                        .crossing(groups, scope, after, totals.standing(), shown, recomputed, grouped.additive()),
                List.of(),
                written,
                new InputTexts(Map.of(), context.texts().found()),
                List.of());
    }

    static boolean isCheck(Clause clause) {
        return clause instanceof Clause.Check
                || clause instanceof Clause.CheckUnique
                || clause instanceof Clause.CheckRows
                || clause instanceof Clause.CheckSum;
    }

    @Override
    public @Nullable Void only(Clause.Only clause) {
        Expression condition = row("only", clause.condition(), true);
        steps.add(new FilterStep(Logic.conjuncts(condition), place(clause)));
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

    private java.util.Optional<dev.fiesta.value.Unit> periodOf(Expr expr) {
        return Periods.of(expr, name -> scope.periods().get(name));
    }

    @Override
    public @Nullable Void per(Clause.Per clause) {
        CrossBinder cross = clause.against().isEmpty() ? null : new CrossBinder(context, clause);
        Clause.Per grouping = cross == null ? clause : cross.grouping(e -> row("per", e, true), steps);
        grouped = new GroupBinder(context, scope, steps, laterFigures).bind(grouping, keepsStates, countsRecords);
        totals.forget();
        List<Expression> keys = new ArrayList<>();
        for (Expression key : Objects.requireNonNull(grouped.group()).keys()) {
            keys.add(new FieldRef(keys.size(), key.type()));
        }
        context.byAlphabet(keys).forEach(steps::add);
        if (cross != null) {
            crossed = new Crossed(cross, scope, steps);
            scope = cross.laidOut(scope);
            steps = new StepList();
        }
        return null;
    }

    @Override
    public @Nullable Void sort(Clause.Sort clause) {
        List<OrderKey> keys = clause.keys().stream()
                .flatMap(k -> context.order(row("sort", k.key(), false), k.descending()).stream())
                .toList();
        steps.add(new SortStep(keys));
        return null;
    }

    @Override
    public @Nullable Void distinct(Clause.Distinct clause) {
        List<Integer> slots = clause.fields().isEmpty()
                ? scope.slots()
                : clause.fields().stream().map(f -> seen(f, "distinct").slot()).toList();
        steps.add(new DistinctStep(slots));
        grouped = Grouped.NONE;
        return null;
    }

    @Override
    public @Nullable Void match(Clause.Match clause) {
        new MatchBinder(context, scope, steps, tables.apply(clause.table())).bind(clause, place(clause));
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
    public @Nullable Void first(Clause.First clause) {
        new FirstBinder(this).first(clause);
        return null;
    }

    @Override
    public @Nullable Void sample(Clause.Sample clause) {
        new SampleBinder(this).sample(clause);
        return null;
    }

    @Override
    public @Nullable Void shuffle(Clause.Shuffle clause) {
        new SampleBinder(this).shuffle(clause);
        return null;
    }

    @Override
    public @Nullable Void append(Clause.Append clause) {
        new AppendBinder(this).append(clause);
        return null;
    }

    @Override
    public @Nullable Void turn(Clause.Turn clause) {
        new TurnBinder(this).turn(clause);
        return null;
    }

    @Override
    public @Nullable Void rename(Clause.Rename clause) {
        new RenameBinder(this).rename(clause);
        return null;
    }

    @Override
    public @Nullable Void totals(Clause.Totals clause) {
        totals.totals(clause);
        return null;
    }

    @Override
    public @Nullable Void fill(Clause.Fill clause) {
        new FillBinder(clause).bind(this);
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
