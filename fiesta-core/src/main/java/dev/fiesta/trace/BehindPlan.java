package dev.fiesta.trace;

import dev.fiesta.language.Assign;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Expr;
import dev.fiesta.language.Nodes;
import dev.fiesta.language.Op;
import dev.fiesta.language.Ref;
import dev.fiesta.language.Span;
import dev.fiesta.plan.Catalogue;
import dev.fiesta.plan.ParameterValues;
import dev.fiesta.problem.Names;
import dev.fiesta.problem.Remedy;
import dev.fiesta.problem.RequestException;
import dev.fiesta.step.TablePlan;
import dev.fiesta.value.Texts;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** Finds the way back from a row to its records: the clauses before its grouping, and which of their rows are its own. */
public final class BehindPlan {
    /** A grouping: where it stands, and the clauses before it. */
    private record Grouping(Definition where, Clause.Per per, int place) {
        List<Clause> before() {
            return where.table().clauses().subList(0, place);
        }

        List<Assign> keys() {
            List<Assign> keys = new ArrayList<>(per.keys());
            per.against().forEach(a -> keys.add(a.key()));
            return keys;
        }

        List<String> keyNames() {
            return keys().stream().map(Assign::name).toList();
        }
    }

    private static final String MARK = "\u0001";
    private static final String STANDING = "\u0001standing";
    private static final String KEPT = "\u0001kept";
    private static final String NUMBER = "\u0001number";

    private final Planned planned;

    BehindPlan(Planned planned) {
        this.planned = planned;
    }

    /** The last grouping that made the rows of a table, or null when they are records. */
    private @Nullable Grouping grouping(String table) {
        for (Definition at = planned.definition(table);
                at != null;
                at = planned.definition(at.table().from().name())) {
            List<Clause> clauses = at.table().clauses();
            for (int i = clauses.size() - 1; i >= 0; i--) {
                if (clauses.get(i) instanceof Clause.Per per) {
                    return new Grouping(at, per, i);
                }
            }
        }
        return null;
    }

    /**
     * What tells of the records behind a row.
     *
     * @param records these records: keys first, then the fields that made the figures, then the others
     * @param made how many of the first columns are keys and fields that made figures
     * @param figures the figures of exactly these records
     * @param shown the table itself, where what stands behind is one row of it that its keys find
     */
    public record Found(
            TablePlan records,
            int made,
            @Nullable TablePlan figures,
            @Nullable TablePlan shown) {
        /** {@return these, always in the same order} */
        public List<TablePlan> plans() {
            return Stream.of(records, figures, shown).filter(Objects::nonNull).toList();
        }
    }

    /** Which of the records of a table. */
    public enum Part {
        /** Those of a group; with some of the keys, those of a subtotal. */
        ROW,
        /** Those of all groups that stand where totals are asked for. */
        TOTAL,
        /** Those of the groups that {@code rest as} gathers. */
        REST
    }

    /**
     * Those of a part.
     *
     * @param wanted values of keys as texts
     * @throws RequestException when there is no such table, key or part, or none is told
     */
    Found found(String table, Map<String, String> wanted, Part part) {
        Grouping grouping = grouping(table);
        if (grouping == null) {
            throw new RequestException("The rows of '" + table + "' are records themselves.");
        }
        List<String> keys = grouping.keyNames();
        for (String key : wanted.keySet()) {
            if (!keys.contains(key)) {
                throw new RequestException(
                        "'" + key + "' is no key of '" + table + "'. " + Names.didYouMean(key, keys, "Its keys are"));
            }
        }
        boolean whole = wanted.size() == keys.size() && part == Part.ROW;
        if (part == Part.ROW && wanted.isEmpty() && !whole) {
            String each = String.join(" ", keys.stream().map(k -> k + "=…").toList());
            throw Remedy.offered(
                    new RequestException("Say which row: " + each + "; or all of them together."),
                    Remedy.Kind.WHOLE_TABLE,
                    table);
        }
        Map<String, TablePlan> known = new LinkedHashMap<>(planned.plans());
        List<Clause> clauses = new ArrayList<>(grouping.before());
        addKeys(grouping, clauses);
        conditions(grouping, wanted, clauses);
        if (!whole) {
            standing(grouping, part, known, clauses);
        }
        List<Clause.Figure> figures = plainFigures(grouping.per());
        Set<String> first = madeOf(grouping, figures);
        TablePlan records = plan(grouping, table + MARK + "records", inOrder(grouping, first, clauses, known), known);
        long made = first.stream().filter(f -> records.schema().indexOf(f) >= 0).count();
        TablePlan itself = Objects.requireNonNull(planned.plans().get(table));
        boolean findable = whole
                && grouping.per().against().isEmpty()
                && itself.schema().names().containsAll(keys);
        return new Found(
                records,
                (int) made,
                figures.isEmpty() ? null : figures(grouping, table, clauses, figures, known),
                findable ? itself : null);
    }

    private TablePlan figures(
            Grouping grouping,
            String table,
            List<Clause> clauses,
            List<Clause.Figure> figures,
            Map<String, TablePlan> known) {
        Span at = grouping.per().at();
        List<Clause> gathered = new ArrayList<>(clauses);
        gathered.add(new Clause.Per(List.of(), List.of(), figures, true, at, at));
        return plan(grouping, table + MARK + "figures", gathered, known);
    }

    private TablePlan plan(Grouping grouping, String name, List<Clause> clauses, Map<String, TablePlan> known) {
        return planned.like(grouping.where(), name, clauses, known);
    }

    /** Computed keys become fields of the records. */
    private static void addKeys(Grouping grouping, List<Clause> clauses) {
        List<Assign> computed = grouping.keys().stream()
                .filter(k ->
                        !(k.value() instanceof Expr.Name name && name.name().equals(k.name())))
                .map(k -> new Assign(k.name(), k.value(), k.at(), true))
                .toList();
        if (!computed.isEmpty()) {
            clauses.add(new Clause.Add(computed, grouping.per().at()));
        }
    }

    private void conditions(Grouping grouping, Map<String, String> wanted, List<Clause> clauses) {
        List<Clause> upTo = new ArrayList<>(grouping.before());
        Span at = grouping.per().at();
        upTo.add(new Clause.Per(grouping.keys(), List.of(), List.of(), false, at, at));
        TablePlan groups =
                plan(grouping, grouping.where().table().name().name() + MARK + "keys", upTo, planned.plans());
        wanted.forEach((key, text) -> {
            Expr name = new Expr.Name(key, at);
            Expr condition = text.equals(Texts.MISSING_KEY)
                    ? new Expr.IsMissing(name, at)
                    : new Expr.Binary(Op.EQUAL, name, literal(key, text, groups.type(key), at), at);
            clauses.add(new Clause.Only(condition, at));
        });
    }

    private static Expr literal(String key, String text, Type type, Span at) {
        Object value = ParameterValues.read(type, text);
        if (value == null) {
            throw new RequestException(
                    "The key '" + key + "' is " + type.withArticle() + ", and '" + text + "' is not.");
        }
        return new Expr.Literal(type, value, at);
    }

    /** Only records of groups that stand where totals are asked for, or of those that the rest gathers. */
    private void standing(Grouping grouping, Part part, Map<String, TablePlan> known, List<Clause> clauses) {
        List<Clause> all = grouping.where().table().clauses();
        Span at = grouping.per().at();
        int end = all.size();
        for (int i = all.size() - 1; i > grouping.place(); i--) {
            boolean ends = part == Part.REST ? isRest(all.get(i)) : all.get(i) instanceof Clause.Totals;
            end = ends ? i : end;
        }
        if (part == Part.REST && end == all.size()) {
            throw new RequestException(
                    "'" + grouping.where().table().name().name() + "' has no 'rest as', so there is no rest to open.");
        }
        List<Assign> marks = marks(grouping);
        clauses.add(new Clause.Add(marks, at));
        match(grouping, all.subList(0, end), STANDING, Clause.Unmatched.MATCHED_ONLY, known, clauses);
        if (part == Part.REST) {
            Clause.First rest = (Clause.First) all.get(end);
            List<Clause> kept = new ArrayList<>(all.subList(0, end));
            kept.add(new Clause.First(rest.count(), rest.within(), rest.along(), null, rest.at()));
            match(grouping, kept, KEPT, Clause.Unmatched.UNMATCHED_ONLY, known, clauses);
        }
    }

    private static boolean isRest(Clause clause) {
        return clause instanceof Clause.First first && first.rest() != null;
    }

    private void match(
            Grouping grouping,
            List<Clause> groups,
            String name,
            Clause.Unmatched unmatched,
            Map<String, TablePlan> known,
            List<Clause> clauses) {
        Span at = grouping.per().at();
        List<Clause> marked = new ArrayList<>(withoutLayout(groups));
        marked.add(new Clause.Add(marks(grouping), at));
        known.put(name, plan(grouping, name, marked, known));
        List<Clause.KeyPair> pairs = marks(grouping).stream()
                .map(m -> new Clause.KeyPair(new Ref(m.name(), at), new Ref(m.name(), at)))
                .toList();
        clauses.add(new Clause.Match(false, new Ref(name, at), pairs, null, List.of(), unmatched, at));
    }

    /** A cross-tabulation as the groups it is made of. */
    private static List<Clause> withoutLayout(List<Clause> clauses) {
        List<Clause> plain = new ArrayList<>();
        boolean laidOut = false;
        for (Clause clause : clauses) {
            if (clause instanceof Clause.Per per && !per.against().isEmpty()) {
                List<Assign> keys = new ArrayList<>(per.keys());
                per.against().forEach(a -> keys.add(a.key()));
                plain.add(new Clause.Per(keys, List.of(), per.figures(), per.gives(), per.giveAt(), per.at()));
                laidOut = true;
            } else if (!laidOut && !(clause instanceof Clause.Columns)) {
                plain.add(clause);
            }
        }
        return plain;
    }

    /** Keys as texts, so that missing ones match each other. */
    private static List<Assign> marks(Grouping grouping) {
        Span at = grouping.per().at();
        List<Assign> marks = new ArrayList<>();
        for (String key : grouping.keyNames()) {
            Expr text = call("text", at, new Expr.Name(key, at));
            Expr value = call("coalesce", at, text, new Expr.Literal(Type.TEXT, MARK, at));
            marks.add(new Assign(MARK + key, value, at, true));
        }
        return marks;
    }

    private static Expr call(String function, Span at, Expr... args) {
        return new Expr.Call(function, List.of(args), Expr.Modifiers.NONE, at, at);
    }

    /** Figures that look at the records of their own group only. */
    private static List<Clause.Figure> plainFigures(Clause.Per per) {
        return per.figures().stream()
                .filter(f -> !(f instanceof Clause.Single single)
                        || isOwn(single.figure().value()))
                .toList();
    }

    private static boolean isOwn(Expr expr) {
        boolean[] own = {true};
        Nodes.each(expr, e -> {
            if (e instanceof Expr.Call call) {
                own[0] &= Catalogue.looksAtOwnOnly(call);
            }
        });
        return own[0];
    }

    /** Keys, then the fields that figures look at. */
    private static Set<String> madeOf(Grouping grouping, List<Clause.Figure> figures) {
        Set<String> names = new LinkedHashSet<>(grouping.keyNames());
        for (Clause.Figure figure : figures) {
            if (figure instanceof Clause.Single single) {
                Nodes.each(single.figure().value(), e -> {
                    if (e instanceof Expr.Name name) {
                        names.add(name.name());
                    }
                });
            } else if (figure instanceof Clause.Each each) {
                each.fields().stream()
                        .filter(f -> !f.pattern())
                        .forEach(f -> names.add(f.name().name()));
            }
        }
        return names;
    }

    /** The clauses, and behind them the columns in the order wanted. */
    private List<Clause> inOrder(
            Grouping grouping, Set<String> first, List<Clause> clauses, Map<String, TablePlan> known) {
        TablePlan plain = plan(grouping, "\u0001plain", clauses, known);
        List<String> names = new ArrayList<>(
                first.stream().filter(f -> plain.schema().indexOf(f) >= 0).toList());
        plain.schema().names().stream()
                .filter(n -> !names.contains(n) && !n.startsWith(MARK))
                .forEach(names::add);
        Span at = grouping.per().at();
        List<Clause.Shown> shown = names.stream()
                .map(n -> new Clause.Shown(
                        new Clause.FieldPattern(new Ref(n, at), false, null, false), null, List.of(), List.of()))
                .toList();
        List<Clause> ordered = new ArrayList<>(clauses);
        ordered.add(new Clause.Columns(shown, List.of(), at));
        return ordered;
    }

    /** Numbers rows as they stand, from 1; those of a partition where one is told. */
    static Clause numbered(String name, @Nullable List<Expr> within, Span at) {
        Expr.SortKey asTheyStand = new Expr.SortKey(new Expr.Literal(Type.INTEGER, 1L, at), false);
        Expr.Modifiers modifiers = new Expr.Modifiers(null, within, List.of(asTheyStand), null);
        Expr number = new Expr.Call("row_number", List.of(), modifiers, at, at);
        return new Clause.Add(List.of(new Assign(name, number, at, true)), at);
    }

    /** The first records of each row, with the keys of their rows in front. */
    @Nullable
    TablePlan samples(String table, int most) {
        Grouping grouping = grouping(table);
        if (grouping == null || grouping.keys().isEmpty()) {
            return null;
        }
        Span at = grouping.per().at();
        List<Clause> clauses = new ArrayList<>(grouping.before());
        addKeys(grouping, clauses);
        Map<String, TablePlan> known = new LinkedHashMap<>(planned.plans());
        clauses.add(new Clause.Add(marks(grouping), at));
        match(grouping, grouping.where().table().clauses(), STANDING, Clause.Unmatched.MATCHED_ONLY, known, clauses);
        List<Expr> within = new ArrayList<>();
        grouping.keyNames().forEach(k -> within.add(new Expr.Name(k, at)));
        clauses.add(numbered(NUMBER, within, at));
        Expr limit = new Expr.Literal(Type.INTEGER, (long) most, at);
        clauses.add(new Clause.Only(new Expr.Binary(Op.AT_MOST, new Expr.Name(NUMBER, at), limit, at), at));
        Set<String> first = madeOf(grouping, plainFigures(grouping.per()));
        return plan(grouping, table + MARK + "samples", inOrder(grouping, first, clauses, known), known);
    }
}
